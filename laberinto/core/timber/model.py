"""What lies in the timber store: lots of like pieces, with their size, their faults and where they lie."""

from __future__ import annotations

from enum import StrEnum
from typing import Any, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..fields.spec import Spec, choice, millimetres, number, specs, text, whole, wood
from ..geometry.arcs import rise
from ..validation import checked
from ..woods import LIBRARY


class LotKind(StrEnum):
    """What sort of piece it is. Rough stock still has its ends and edges to trim."""

    PLANK = "plank"
    STRIP = "strip"
    SCRAP = "scrap"
    OFFCUT = "offcut"
    STAVE = "stave"
    BLANK = "blank"

    @property
    def label(self) -> str:
        return self.value

    @property
    def rough(self) -> bool:
        """Whether its ends and edges are as the mill left them."""
        return self in (LotKind.PLANK, LotKind.STAVE, LotKind.BLANK)

    @property
    def spare(self) -> bool:
        """Whether it is left over from other work, and good to be used up."""
        return self in (LotKind.SCRAP, LotKind.OFFCUT)


class Defect(BaseModel):
    """A part that must not end in a board: a box from ``start`` to ``end`` along the piece and from ``low`` to ``high``
    across it, mm from its lower left corner."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    what: str = Field("fault", max_length=30)
    start: float = Field(ge=0)
    end: float = Field(gt=0)
    low: float = Field(ge=0)
    high: float = Field(gt=0)

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if self.end <= self.start or self.high <= self.low:
            raise ValueError("a fault ends behind where it starts, along the piece and across it")
        return self


class Lot(BaseModel):
    """Pieces of one size and wood. Lengths in mm, ``moisture`` in percent, ``price`` for one piece in the shop's money;
    ``radius`` is that of the outside of a curved stave."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    kind: LotKind = choice(LotKind.PLANK, label="Kind", help="")
    wood: str = wood("beech", label="Wood")
    count: int = whole(1, label="Pieces", help="All alike.", least=0, most=400)
    length: float = millimetres(label="Length", help="Along the grain.", least=20, most=5000)
    width: float = millimetres(label="Width", help="", least=5, most=1000)
    thickness: float = millimetres(label="Thickness", help="", least=3, most=300)
    moisture: float | None = number(None, label="Moisture", help="As measured.", least=3, most=80, unit="%")
    price: float | None = number(None, label="Price", help="Of one piece.", least=0, most=100_000)
    radius: float | None = millimetres(None, label="Curve", help="Outside radius of a stave.", least=50, most=5000)
    place: str = text("", label="Where it lies")
    note: str = text("", label="Note")
    defects: tuple[Defect, ...] = ()

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for defect in self.defects:
            if defect.end > self.length + 1e-9 or defect.high > self.width + 1e-9:
                raise ValueError(
                    f"the {defect.what} reaches {defect.end:g} × {defect.high:g} mm, outside a piece of "
                    f"{self.length:g} × {self.width:g} mm"
                )
        if self.radius is not None and self.radius < self.length / 2:
            raise ValueError(f"a stave {self.length:g} mm long cannot be bent to a radius of {self.radius:g} mm")
        LIBRARY.require(self.wood, "wood")
        return self

    @classmethod
    def of(cls, **values: Any) -> Lot:
        """A lot from plain values; raises InputError naming the field that is wrong."""
        return checked(cls, values, fallback="defects")

    @classmethod
    def specs(cls) -> list[Spec]:
        """The fields a form asks for."""
        return specs(cls)

    @property
    def volume(self) -> float:
        """Of one piece, mm³."""
        return self.length * self.width * self.thickness

    def flat(self, length: float) -> float:
        """Thickness left once a piece of this length is flat on both faces, mm: a curved stave of outside radius R
        loses R − √(R² − ℓ²/4), so shorter pieces stay thicker."""
        if self.radius is None:
            return self.thickness
        return self.thickness - rise(self.radius, length)
