"""Alternating (checker): equal strips of two woods; every other slice is flipped."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import InputError
from ..plan import Plan
from ..stages import (
    Across,
    Arrange,
    Crosscut,
    Ease,
    Flatten,
    Glue,
    Method,
    Mill,
    Oil,
    Rule,
    Sand,
    Spec,
    StripSpec,
    Trim,
    Wax,
)  # fmt: skip
from ..stages.crosscut import length_needed

HOLD = 60.0
"""Remainder left on a panel so that the last slice can still be held, mm."""


SPECS: tuple[Spec, ...] = (
    Spec("name", "Name", "", "text", None, 80, False),
    Spec("light", "Light wood", "", "wood", None, None, False),
    Spec("dark", "Dark wood", "", "wood", None, None, False),
    Spec("strips", "Strips", "", "count", 2, 60, False),
    Spec("strip_width", "Strip width", "", "length", 6, 200, False),
    Spec("row", "Row height", "", "length", 8, 120, False),
    Spec("slices", "Slices", "", "count", 1, 100, False),
    Spec("thickness", "Finished thickness", "", "length", 12, 150, False),
    Spec("panel_length", "Panel length", "shortest", "length", 80, 3000, True),
    Spec("width", "Finished width", "as it comes", "length", 30, 3000, True),
    Spec("length", "Finished length", "as it comes", "length", 30, 3000, True),
)
"""The parameters a form asks for."""


@dataclass(frozen=True, slots=True)
class Alternating:
    """Parameters of a two-wood alternating board; lengths in mm.

    ``row`` is the panel's thickness after flattening, which becomes the height of each row;
    ``panel_length`` None takes the shortest that leaves enough to hold. ``width`` and ``length`` are
    the finished size, None for as large as it comes.
    """

    name: str
    light: str = "beech"
    dark: str = "plum"
    strips: int = 10
    strip_width: float = 30.0
    row: float = 30.0
    slices: int = 13
    thickness: float = 38.0
    panel_length: float | None = None
    width: float | None = None
    length: float | None = None
    kerf: float = 3.0
    squaring: float = 5.0
    flatten_panel: float = 1.5
    flatten_board: float = 2.0
    edge: float = 3.0

    @property
    def slice(self) -> float:
        """Slice to cut: finished thickness plus flattening off both faces."""
        return self.thickness + 2 * self.flatten_board

    @property
    def shortest_panel(self) -> float:
        """Shortest panel that yields the slices and leaves enough to hold, rounded up to 5 mm."""
        return -(-(length_needed(self.squaring, self.slices, self.slice, self.kerf) + HOLD) // 5) * 5.0

    @property
    def largest(self) -> tuple[float, float]:
        """Width and length of the face before trimming to a finished size, mm."""
        return self.strips * self.strip_width, self.slices * self.row

    def check(self) -> None:
        """Raise InputError where the numbers cannot make this pattern."""
        if self.light == self.dark:
            raise InputError("Light and dark are the same wood, so there is no pattern. Choose two.", "dark")
        if self.strips % 2:
            raise InputError(
                f"With {self.strips} strips each row reads the same from both ends, so flipping every other changes "
                f"nothing. Take {self.strips - 1 if self.strips > 2 else 2} or {self.strips + 1}.",
                "strips",
            )
        for wanted, there, field, more in (
            (self.width, self.largest[0], "width", self.strip_width),
            (self.length, self.largest[1], "length", self.row),
        ):
            if wanted is not None and wanted > there:
                what = "strips" if field == "width" else "slices"
                count = self.strips if field == "width" else self.slices
                need = int(-(-wanted // more))
                need += need % 2 if field == "width" else 0
                raise InputError(
                    f"{count} {what} make {{there}}, {{short}} short of {{wanted}}. Take {need} {what}, or ask for "
                    "{there} or less.",
                    field, there=there, short=wanted - there, wanted=wanted,
                )  # fmt: skip
        needed = length_needed(self.squaring, self.slices, self.slice, self.kerf)
        if self.panel_length is not None and self.panel_length < needed:
            fit = int((self.panel_length - self.squaring) // (self.slice + self.kerf))
            raise InputError(
                f"{self.slices} slices of {{slice}} need a panel of {{needed}}, {{short}} more than this. Make it "
                f"{{longer}}, or cut {max(fit, 0)} slices.",
                "panel_length", slice=self.slice, needed=needed, short=needed - self.panel_length,
                longer=self.shortest_panel,
            )  # fmt: skip

    def plan(self) -> Plan:
        """The whole build. Raises InputError as ``check`` does."""
        self.check()
        strips = tuple(
            StripSpec(wood=self.light if i % 2 == 0 else self.dark, width=self.strip_width, mark=i + 1)
            for i in range(self.strips)
        )
        return Plan(
            name=self.name,
            stages=(
                Mill(
                    id="strips", thickness=self.row + 2 * self.flatten_panel,
                    length=self.panel_length or self.shortest_panel, strips=strips,
                ),
                Glue(id="panel", source="strips", across=Across.WIDTH),
                Flatten(id="panel-flat", source="panel", to=self.row, method=Method.PLANER),
                Crosscut(
                    id="slices", source="panel-flat", slice=self.slice, count=self.slices, kerf=self.kerf,
                    squaring=self.squaring,
                ),
                Arrange(id="rows", source="slices", rule=Rule.FLIP),
                Glue(id="board", source="rows", across=Across.LENGTH, clamp_hours=24),
                Flatten(id="board-flat", source="board", to=self.thickness, method=Method.DRUM_SANDER),
                Trim(id="trimmed", source="board-flat", edge=self.edge, width=self.width, length=self.length),
                Ease(id="eased", source="trimmed", size=2.0),
                Sand(id="sanded", source="eased"),
                Oil(id="oiled", source="sanded"),
                Wax(id="waxed", source="oiled"),
            ),
        )  # fmt: skip
