"""Inlay: strips let into channels across the face."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..errors import StageError
from ..fields.spec import choice, listed, millimetres
from ..geometry.cutters import CLEAR, box
from ..geometry.joints import Joint, joints_between
from ..geometry.rotations import Spin, Turn
from ..solid import Cells, Plane, carve, join, split
from .base import Bench, Cause, Outcome, Pieces
from .gluing import Gluing


class Along(StrEnum):
    """Which way the strips run."""

    LENGTH = "length"
    WIDTH = "width"

    @property
    def label(self) -> str:
        return {"length": "from front to back", "width": "from left to right"}[self.value]

    @property
    def axis(self) -> int:
        return 1 if self is Along.LENGTH else 0


class Inlay(Gluing):
    """Rout straight channels ``depth`` mm deep through the face and let in one strip of the stage in ``with`` for
    each of ``at``: mm from the left (or near) edge to the strip's middle. The channel is as wide as its strip; what
    stands proud is planed flush and what is too long cut off."""

    title: ClassVar[str] = "Inlay"
    verb: ClassVar[str] = "Let in strips"
    through: ClassVar[str] = "router"

    kind: Literal["inlay"] = "inlay"
    along: Along = choice(Along.LENGTH, label="Strips run", help="Seen from above.")
    at: tuple[Annotated[float, Field(ge=0, le=3000)], ...] = listed(
        "lengths", label="Middles at", help="From the left or near edge, one for each strip: 60, 180.",
        default=..., min_length=1, max_length=40,
    )  # fmt: skip
    depth: float = millimetres(5.0, label="Depth", help="Of the channel.", least=0.5, most=50)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        if len(pieces) != 1:
            raise StageError(
                self.id, f"An inlay goes into one board; here are {len(pieces)}.", "Glue them first.", "from"
            )
        board = pieces[0]
        strips = [pool[number] for pool in bench.others.values() for number in range(len(pool))]
        if len(strips) < len(self.at):
            raise StageError(
                self.id, f"{len(self.at)} channels need as many strips; there are {len(strips)}.",
                "Mill more, or leave channels out.", "at",
            )  # fmt: skip
        waste = {Cause.SHAPING: 0.0, Cause.FLATTENING: 0.0, Cause.TRIMMING: 0.0}
        joints: list[Joint] = []
        for at, strip in zip(self.at, strips, strict=False):
            board = self._let_in(board, strip, at, waste, joints)
        left = join([strip.as_piece(i) for i, strip in enumerate(strips[len(self.at) :])])
        if len(left):
            waste[Cause.OFFCUT] = left.volume()
        return Outcome(Pieces(board), left, waste, tuple(joints))

    def _let_in(self, board: Cells, strip: Cells, at: float, waste: dict[Cause, float], joints: list[Joint]) -> Cells:
        run, across = self.along.axis, 1 - self.along.axis
        if self.along is Along.WIDTH:
            strip = strip.turned(Turn(spin=Spin.QUARTER).matrix)
        strip = strip.at_origin()
        size, low, high = strip.size(), *board.bounds()
        near = low[across] + at - size[across] / 2
        if near < low[across] - 1e-9 or near + size[across] > high[across] + 1e-9:
            raise StageError(
                self.id, "A strip {wide} wide at {at} reaches past the edge.", "Move it inwards.",
                "at", wide=float(size[across]), at=at,
            )  # fmt: skip
        for have, need, what in ((size[2], self.depth, "thick"), (size[run], high[run] - low[run], "long")):
            if have < need - 1e-9:
                raise StageError(
                    self.id, f"The strip is {{have}} {what}, but the channel needs {{need}}.", "Mill it larger.",
                    "depth", have=float(have), need=float(need),
                )  # fmt: skip
        floor = float(high[2]) - self.depth
        low_corner, high_corner = low - CLEAR, high + CLEAR
        low_corner[across], high_corner[across], low_corner[2] = near, near + size[across], floor
        board, chips = carve(board, [box(low_corner, high_corner)])
        to = low.copy()
        to[across], to[2] = near, floor
        strip, proud = split(strip.moved(to), Plane.across(2, float(high[2])))
        strip, over = split(strip, Plane.across(run, float(high[run])))
        for cause, part in ((Cause.SHAPING, chips), (Cause.FLATTENING, proud), (Cause.TRIMMING, over)):
            waste[cause] += part.volume()
        both = join([board.as_piece(0), strip.as_piece(1)])
        joints += joints_between(both)
        return both.as_piece(0)
