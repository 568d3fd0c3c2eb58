"""Rest and fill: no wood moves, but the calendar and the bench need to know."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

from ..fields.spec import choice, number, whole
from .finish import NoCut


class Rest(NoCut):
    """Let the wood rest off the clamps for ``days``, so that glue moisture leaves and any warp shows."""

    title: ClassVar[str] = "Rest"
    verb: ClassVar[str] = "Let it rest"

    kind: Literal["rest"] = "rest"
    days: float = number(3, label="Days", help="Two days to a week is usual.", least=0.25, most=60, unit="d")


class Filler(StrEnum):
    """What closes hairlines and voids."""

    THIN_GLUE = "thin-glue"
    PASTE = "paste"
    PLUG = "plug"

    @property
    def label(self) -> str:
        return {"thin-glue": "thin glue for hairlines", "paste": "paste of glue and dust", "plug": "plugs"}[self.value]


class Fill(NoCut):
    """Fill what should not stay open, before sanding."""

    title: ClassVar[str] = "Fill"
    verb: ClassVar[str] = "Fill hairlines and voids"

    kind: Literal["fill"] = "fill"
    filler: Filler = choice(Filler.PASTE, label="With", help="Thin glue stains end grain; try it on an offcut.")
    hours: float = number(6, label="Hardens in", help="Until it may be sanded.", least=0.1, most=96, unit="h")
    fillings: int = whole(1, label="Fillings", help="Two where the first shrinks.", least=1, most=3)
