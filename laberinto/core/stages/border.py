"""Border: a frame of end grain round a core, in two goes."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..errors import StageError
from ..fields.spec import choice, yes_no
from ..geometry.cutters import box
from ..geometry.joints import Joint, joints_between
from ..geometry.rotations import Spin, Turn
from ..solid import Cells, Floats, carve, join, slabs
from .base import Bench, Cause, Outcome, Pieces
from .gluing import Gluing


class First(StrEnum):
    """Which two sides are glued first; the other two then run over their ends."""

    LEFT_RIGHT = "left-right"
    FRONT_BACK = "front-back"

    @property
    def label(self) -> str:
        return {"left-right": "left and right", "front-back": "front and back"}[self.value]

    @property
    def axes(self) -> tuple[int, int]:
        """The axis across which each go sets its sides."""
        return (0, 1) if self is First.LEFT_RIGHT else (1, 0)


class Border(Gluing):
    """Glue a border round one core: two sides, trimmed flush, then the other two. The first stage in ``with`` gives
    the pieces, laid end to end with the longer of their sides along the edge, as many as an edge needs. ``stagger``
    begins every other side with half a piece. ``spline`` names a stage of strips; one is let in along each joint,
    half its width to either side, at half the height."""

    title: ClassVar[str] = "Border"
    verb: ClassVar[str] = "Glue on the border"
    glue_ups: ClassVar[int] = 2

    kind: Literal["border"] = "border"
    first: First = choice(First.LEFT_RIGHT, label="First", help="The other two then run over their ends.")
    stagger: bool = yes_no(True, label="Stagger seams", help="Every other side begins with half a piece.")
    spline: str | None = Field(default=None, max_length=60)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        if len(pieces) != 1:
            raise StageError(
                self.id, f"A border goes round one core; here are {len(pieces)}.", "Glue them first.", "from"
            )
        if self.spline is not None and self.spline not in bench.others:
            raise StageError(
                self.id, f"The spline comes from “{self.spline}”, which this border does not take.",
                "Add it to “with”.", "spline",
            )  # fmt: skip
        stock = _Stock(self.id, [
            pool[n] for name, pool in bench.others.items() if name != self.spline for n in range(len(pool))
        ])  # fmt: skip
        splines = [bench.others[self.spline][n] for n in range(len(bench.others[self.spline]))] if self.spline else []
        board, joints = pieces[0], list[Joint]()
        waste = {Cause.TRIMMING: 0.0, Cause.SHAPING: 0.0}
        for axis in self.first.axes:
            board = self._go(board, axis, stock, splines, waste, joints)
        left = join([piece.as_piece(i) for i, piece in enumerate([*stock.left, *splines])])
        if len(left):
            waste[Cause.OFFCUT] = left.volume()
        return Outcome(Pieces(board.at_origin()), left, waste, tuple(joints))

    def _go(
        self,
        board: Cells,
        axis: int,
        stock: _Stock,
        splines: list[Cells],
        waste: dict[Cause, float],
        joints: list[Joint],
    ) -> Cells:
        """Set both sides across an axis, cut them flush with the board's ends, and let in their splines."""
        run = 1 - axis
        low, high = board.bounds()
        span = float(low[run]), float(high[run])
        rows = []
        for outwards in (-1.0, 1.0):
            edge = float((low if outwards < 0 else high)[axis])
            row = stock.row(span, run, edge, outwards, half=self.stagger and outwards > 0)
            cut = slabs(row, np.eye(3)[run], np.array(span), np.array([1]))
            waste[Cause.TRIMMING] += float(cut.lost.sum())
            row = cut.cells
            joints += joints_between(row)
            rows.append(row)
        parts = join([rows[0].as_piece(0), board.as_piece(1), rows[1].as_piece(2)])
        joints += joints_between(parts)
        whole = parts.as_piece(0)
        if self.spline:
            for at in (float(low[axis]), float(high[axis])):
                whole = self._splined(whole, axis, at, (low, high), splines, waste, joints)
        return whole

    def _splined(
        self, board: Cells, axis: int, at: float, core: tuple[Floats, Floats], splines: list[Cells],
        waste: dict[Cause, float], joints: list[Joint],
    ) -> Cells:  # fmt: skip
        """A spline let in along the joint at ``at`` across the axis."""
        if not splines:
            raise StageError(
                self.id, "There are fewer splines than joints.", "Mill one for each of the four.", "spline"
            )
        run, (low, high) = 1 - axis, core
        spline = splines.pop(0)
        spline = (spline.turned(Turn(spin=Spin.QUARTER).matrix) if run == 0 else spline).at_origin()
        size = spline.size()
        if size[run] < high[run] - low[run] - 1e-9:
            raise StageError(
                self.id, "A spline {have} long is too short for a joint of {need}.", "Mill it longer.",
                "spline", have=float(size[run]), need=float(high[run] - low[run]),
            )  # fmt: skip
        corner = np.zeros(3)
        corner[run], corner[axis] = low[run], at - size[axis] / 2
        corner[2] = (low[2] + high[2] - size[2]) / 2
        end = corner + size
        end[run] = high[run]
        board, chips = carve(board, [box(corner, end)])
        cut = slabs(spline.moved(corner), np.eye(3)[run], np.array([float(high[run])]), np.array([0]))
        waste[Cause.SHAPING] += chips.volume()
        waste[Cause.TRIMMING] += float(cut.lost.sum())
        both = join([board.as_piece(0), cut.cells.as_piece(1)])
        joints += joints_between(both)
        return both.as_piece(0)


class _Stock:
    """Border pieces not yet used."""

    def __init__(self, stage: str, pieces: Sequence[Cells]) -> None:
        self.stage, self.left = stage, list(pieces)

    def row(self, span: tuple[float, float], run: int, edge: float, outwards: float, half: bool) -> Cells:
        """Pieces laid end to end along ``run`` until they cover the span, against an edge; with ``half`` the first
        begins half its length before it."""
        laid: list[Cells] = []
        at = span[0]
        while at < span[1] - 1e-9:
            if not self.left:
                raise StageError(
                    self.stage, "The border pieces run out: {short} of an edge of {need} is left bare.",
                    "Cut more border pieces, or make them longer.", "with", short=span[1] - at, need=span[1] - span[0],
                )  # fmt: skip
            piece = self.left.pop(0)
            size = piece.size()
            if (size[1] > size[0]) != (run == 1):
                piece = piece.turned(Turn(spin=Spin.QUARTER).matrix)
            piece = piece.at_origin()
            size = piece.size()
            if half and not laid:
                at -= float(size[run]) / 2
            to = np.zeros(3)
            to[run], to[1 - run] = at, edge if outwards > 0 else edge - float(size[1 - run])
            laid.append(piece.moved(to).as_piece(len(laid)))
            at += float(size[run])
        return join(laid)
