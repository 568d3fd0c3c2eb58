"""Rip and re-saw: along the fibres, into strips or into thinner boards; square, skewed or bevelled."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from ..errors import StageError
from ..fields.allowances import saw_kerf
from ..fields.spec import listed, millimetres, number, whole, yes_no
from ..geometry.sawing import FULL, blade, kerfs, reach, saw, turned_back
from ..solid import Cells, Floats, join
from .base import Bench, Cause, Outcome, Pieces, Stage

LEAST_SLICE = 0.5
"""Nothing thinner than this (mm) is sawn on purpose."""


class Sawing(Stage):
    """Parallel cuts along one axis. ``width`` of each piece, ``count`` of them or (empty) as many as the wood
    gives; or a list of ``widths``, cut in turn. What is left is an offcut."""

    axis: ClassVar[int]
    instead: ClassVar[tuple[tuple[str, str], ...]] = (("width", "widths"), ("count", "widths"))
    width: float | None = millimetres(None, label="Width", help="Of each piece.", least=LEAST_SLICE, most=2000)
    count: int | None = whole(None, label="Pieces", help="Empty: as many as fit.", least=1, most=400)
    widths: tuple[Annotated[float, Field(ge=LEAST_SLICE, le=2000)], ...] = listed(
        "lengths", label="Or own widths", help="Cut in turn, such as 27, 24.5, 22.", max_length=400
    )
    kerf: float = saw_kerf()
    squaring: float = millimetres(0.0, label="First cut", help="Off the first edge, kerf included.", least=0, most=100)

    @model_validator(mode="after")
    def _one_way(self) -> Sawing:
        if bool(self.widths) == (self.width is not None):
            raise ValueError("give either one width for all pieces, or a list of widths")
        return self

    def angles(self) -> tuple[float, float]:
        """Skew and bevel in degrees."""
        return 0.0, 0.0

    @property
    def angled(self) -> bool:
        """Whether the blade is turned or tilted."""
        return any(self.angles())

    def laid_back(self) -> tuple[float, float]:
        """By how much of skew and bevel pieces are turned square again afterwards, degrees."""
        return self.angles()[0], 0.0

    def layout(self, piece: Cells) -> tuple[Floats, Floats]:
        """The blade's normal (3,) and where it runs along it (n+1, 2), mm, in one piece."""
        normal = blade(self.axis, *self.angles())
        start, end = reach(piece, self.axis, normal)
        widths = self._widths(end - start - self.squaring)
        return normal, kerfs(piece, normal, start, widths, self.kerf, self.squaring)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        normal = blade(self.axis, *self.angles())
        slices: list[Cells] = []
        offcuts: list[Cells] = []
        kerf, parents = 0.0, list[int]()
        for number_ in range(len(pieces)):
            piece = pieces[number_]
            start, end = reach(piece, self.axis, normal)
            widths = self._widths(end - start - self.squaring)
            sawn = saw(piece, normal, start, widths, self.kerf, self.squaring)
            slices.append(sawn.slices.renumbered(len(parents)))
            offcuts += sawn.offcuts
            kerf += sawn.kerf
            parents += [number_] * len(widths)
        cells = join(slices)
        if any(back := self.laid_back()):
            cells = cells.turned(turned_back(self.axis, *back))
        left = join([part.as_piece(i) for i, part in enumerate(offcuts)]).settled() if offcuts else join([])
        return Outcome(
            Pieces(cells.settled()), left, {Cause.KERF: kerf, Cause.OFFCUT: left.volume()}, parents=tuple(parents)
        )

    def _widths(self, there: float) -> list[float]:
        """The widths to cut from wood this wide square to the blade; raises StageError where it is too little."""
        if self.widths:
            wanted = list(self.widths)
        else:
            assert self.width is not None
            fit = int((there + self.kerf + FULL) // (self.width + self.kerf))
            wanted = [self.width] * (self.count or max(fit, 1))
        needed = sum(wanted) + self.kerf * (len(wanted) - 1)
        if needed > there + FULL:
            field = "widths" if self.widths else "count" if self.count else "width"
            raise StageError(
                self.id,
                f"{len(wanted)} piece{'s' if len(wanted) != 1 else ''} with {{kerf}} cuts need {{needed}}, but there "
                "is only {there}: {short} too little.",
                "Start {short} wider, or cut fewer or narrower pieces.",
                field, kerf=self.kerf, needed=needed, there=max(there, 0.0), short=needed - there,
            )  # fmt: skip
        return wanted


class Rip(Sawing):
    """Rip pieces along their length into strips; ``skew`` turns and ``bevel`` tilts the blade, in degrees.
    ``upright`` rolls bevelled strips afterwards until their sawn sides stand plumb."""

    title: ClassVar[str] = "Rip"
    verb: ClassVar[str] = "Rip into strips"
    through: ClassVar[str] = "table saw"
    axis: ClassVar[int] = 0

    kind: Literal["rip"] = "rip"
    skew: float = number(0.0, label="Skew", help="Blade turned from square.", least=-45, most=45, unit="°")
    bevel: float = number(0.0, label="Bevel", help="Blade tilted from upright.", least=-60, most=60, unit="°")

    upright: bool = yes_no(False, label="Roll upright", help="Until bevelled sides stand plumb.")

    def angles(self) -> tuple[float, float]:
        return self.skew, self.bevel

    def laid_back(self) -> tuple[float, float]:
        return self.skew, self.bevel if self.upright else 0.0


class Resaw(Sawing):
    """Re-saw pieces through their thickness into thinner ones."""

    title: ClassVar[str] = "Re-saw"
    verb: ClassVar[str] = "Re-saw into thinner pieces"
    through: ClassVar[str] = "band saw"
    axis: ClassVar[int] = 2

    kind: Literal["resaw"] = "resaw"
