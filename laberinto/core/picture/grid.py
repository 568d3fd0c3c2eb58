"""The wanted face as a grid: rows of letters, one for each wood, with the size of every column and row."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..validation import checked

LETTERS = "ABCDEF"
"""Woods go by these, in the order of the palette."""

MOST_SIDE = 96
"""Most rows or columns of a picture."""

Size = Annotated[float, Field(ge=3, le=200)]


class Picture(BaseModel):
    """``rows`` from the far side, each a string of letters from the left; ``woods`` are keys of the library for A, B,
    …; ``widths`` of the columns and ``heights`` of the rows in mm."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    rows: tuple[str, ...] = Field(min_length=1, max_length=MOST_SIDE)
    woods: tuple[str, ...] = Field(min_length=2, max_length=len(LETTERS))
    widths: tuple[Size, ...] = Field(min_length=1, max_length=MOST_SIDE)
    heights: tuple[Annotated[float, Field(ge=8, le=120)], ...] = Field(min_length=1, max_length=MOST_SIDE)

    @model_validator(mode="after")
    def _square(self) -> Self:
        for number, row in enumerate(self.rows, 1):
            if len(row) != len(self.widths):
                raise ValueError(f"row {number} has {len(row)} cells, but there are {len(self.widths)} columns")
            if unknown := set(row) - set(LETTERS[: len(self.woods)]):
                raise ValueError(f"row {number} has “{min(unknown)}”, which is no letter of the palette")
        if len(self.rows) != len(self.heights):
            raise ValueError(f"there are {len(self.rows)} rows, but {len(self.heights)} row heights")
        return self

    @classmethod
    def of(cls, **values: object) -> Picture:
        """A picture from plain data; raises InputError naming the part that is wrong."""
        return checked(cls, values, fallback="rows", say="The picture’s {field}: {words}.")

    @property
    def even(self) -> bool:
        """Whether the columns are as wide from the left as from the right, so that a slice may be flipped."""
        return self.widths == self.widths[::-1]

    def wood(self, row: int, column: int) -> str:
        """Key of the wood of a cell."""
        return self.woods[LETTERS.index(self.rows[row][column])]

    def changed(self, cells: dict[tuple[int, int], str]) -> Picture:
        """The picture with other letters in some cells, by (row, column)."""
        rows = [list(row) for row in self.rows]
        for (row, column), letter in cells.items():
            rows[row][column] = letter
        return self.model_copy(update={"rows": tuple("".join(row) for row in rows)})
