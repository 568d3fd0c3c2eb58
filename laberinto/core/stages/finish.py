"""Sand, oil and wax: no wood moves, but the bench needs to know."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

from pydantic import Field, field_validator

from ..fields.spec import choice, number, whole, yes_no
from .base import Bench, Outcome, Pieces, Stage


class NoCut(Stage):
    """A stage that leaves every piece as it is."""

    shapes_wood: ClassVar[bool] = False

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return Outcome(pieces)


class Skipped(NoCut):
    """Stands in the results for a stage that is switched off; no plan holds one."""

    title: ClassVar[str] = "Switched off"
    verb: ClassVar[str] = "Leave as it is"

    kind: Literal["skipped"] = "skipped"


class Sand(NoCut):
    """Sand through ``grits`` in rising order, none skipped."""

    title: ClassVar[str] = "Sand"
    verb: ClassVar[str] = "Sand through the grits"

    kind: Literal["sand"] = "sand"
    grits: tuple[int, ...] = Field(
        default=(80, 120, 180, 220), min_length=1, max_length=10, title="Grits",
        description="Rising, with spaces between; do not skip more than one.", json_schema_extra={"kind": "grits"},
    )  # fmt: skip
    raise_grain: bool = yes_no(True, label="Raise the grain", help="Wet, dry and sand again before the last grit.")

    @field_validator("grits")
    @classmethod
    def _rising(cls, grits: tuple[int, ...]) -> tuple[int, ...]:
        if any(not 24 <= grit <= 1200 for grit in grits):
            raise ValueError("grits run from 24 to 1200")
        if list(grits) != sorted(set(grits)):
            raise ValueError("grits must rise, each one once")
        return grits


class OilKind(StrEnum):
    """Oils that boards are finished with."""

    MINERAL = "mineral"
    TUNG = "tung"
    LINSEED = "linseed"
    WALNUT = "walnut"
    WAX_OIL = "wax-oil"
    VARNISH = "varnish"

    @property
    def label(self) -> str:
        return {
            "mineral": "food-grade mineral oil",
            "tung": "pure tung oil",
            "linseed": "food-grade linseed oil",
            "walnut": "walnut oil",
            "wax-oil": "hard wax oil",
            "varnish": "wiping varnish thinned by half",
        }[self.value]

    @property
    def dries(self) -> bool:
        """Whether it hardens by taking up oxygen, and so heats up in a rag."""
        return self is not OilKind.MINERAL

    @property
    def cure_days(self) -> int:
        """Days from the last coat until it may meet food: what hardens takes weeks, whatever it feels like."""
        return {"mineral": 1, "wax-oil": 14}.get(self.value, 30)

    @property
    def nut(self) -> bool:
        """Whether it is pressed from a nut or a nut-like seed, which some are allergic to."""
        return self in (OilKind.TUNG, OilKind.WALNUT)


class Oil(NoCut):
    """Flood with oil for ``rounds`` rounds, each left to drip dry for ``hours``."""

    title: ClassVar[str] = "Oil"
    verb: ClassVar[str] = "Oil"

    kind: Literal["oil"] = "oil"
    oil: OilKind = choice(OilKind.MINERAL, label="Oil", help="Mineral oil never hardens; the others cure slowly.")
    rounds: int = whole(2, label="Rounds", help="Until no more goes in.", least=1, most=8)
    hours: float = number(12, label="Drip dry", help="After each round.", least=0.5, most=240, unit="h")
    bath: bool = yes_no(False, label="In a bath", help="The board lies in the oil, instead of being flooded.")


class Wax(NoCut):
    """Rub in a paste of ``parts_oil`` parts oil to one part wax by weight, leave, wipe and buff."""

    title: ClassVar[str] = "Wax"
    verb: ClassVar[str] = "Wax and buff"

    kind: Literal["wax"] = "wax"
    parts_oil: float = number(
        4, label="Oil to 1 of wax", help="By weight: 4 is a soft paste, 1 a hard bar.", least=0.5, most=8, unit=": 1"
    )
    hours: float = number(1, label="Left on", help="Before it is buffed.", least=0.3, most=24, unit="h")
    hot: bool = yes_no(False, label="Hot", help="Melted in, with warm air over it.")
