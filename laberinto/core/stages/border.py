"""Border: a frame of end grain round a core, in two goes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import field_validator

from ..errors import StageError
from ..fields.spec import choice, listed, written, yes_no
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


@dataclass(frozen=True, slots=True)
class BorderSide:
    """One side of a border: across which axis and which way it lies, where its first piece begins along the edge (mm,
    below 0 where it stands over), the numbers of its pieces in the stock, and how wide it is."""

    axis: int
    outwards: float
    begins: float
    pieces: tuple[int, ...]
    wide: float


class Border(Gluing):
    """Glue a border round one core: two sides, trimmed flush, then the other two. The first stage in ``with`` gives the
    pieces, laid end to end with the longer of their sides along the edge, as many as an edge needs. ``stagger`` begins
    every other side with half a piece. ``sides`` names the stage each side is taken from, in the order in which they
    are glued (four of them, or two: one for each go), so that a side can have a width of its own. ``spline`` names a
    stage of strips; one is let in along each joint, half its width to either side, at half the height."""

    title: ClassVar[str] = "Border"
    verb: ClassVar[str] = "Glue on the border"
    glue_ups: ClassVar[int] = 2

    kind: Literal["border"] = "border"
    first: First = choice(First.LEFT_RIGHT, label="First", help="The other two then run over their ends.")
    stagger: bool = yes_no(True, label="Stagger seams", help="Every other side begins with half a piece.")
    sides: tuple[str, ...] = listed(
        "names", label="Side by side", help="Stages of the sides, as they are glued: four, or one for each pair.",
        max_length=4,
    )  # fmt: skip
    spline: str | None = written(
        None, label="Splines from", help="A stage of strips that is taken with; empty: none.", most=60
    )

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
        from_ = [(name, n) for name, pool in bench.others.items() if name != self.spline for n in range(len(pool))]
        stock = [bench.others[name][n] for name, n in from_]
        splines = [bench.others[self.spline][n] for n in range(len(bench.others[self.spline]))] if self.spline else []
        board, joints = pieces[0], list[Joint]()
        waste = {Cause.TRIMMING: 0.0, Cause.SHAPING: 0.0}
        goes = self.goes(board.size(), [(name, piece.size()) for (name, _), piece in zip(from_, stock, strict=True)])
        rounds = []
        for go in goes:
            before = len(joints)
            board = self._go(board, go, stock, splines, waste, joints)
            rounds.append(len(joints) - before)
        used = {number for go in goes for side in go for number in side.pieces}
        left = [piece for number, piece in enumerate(stock) if number not in used]
        spare = join([piece.as_piece(i) for i, piece in enumerate([*left, *splines])])
        if len(spare):
            waste[Cause.OFFCUT] = spare.volume()
        return Outcome(Pieces(board.at_origin()), spare, waste, tuple(joints), rounds=tuple(rounds))

    def goes(self, core: Floats, stock: Sequence[tuple[str, Floats]]) -> tuple[tuple[BorderSide, BorderSide], ...]:
        """Both goes, each with its two sides, from the sizes (3,) of the core and of the pieces in stock, mm, each with
        the stage it comes from. Raises StageError where they do not suffice."""
        size, out = np.array(core[:2], float), list[tuple[BorderSide, BorderSide]]()
        waiting = self._waiting([name for name, _ in stock])
        for axis in self.first.axes:
            run, go = 1 - axis, list[BorderSide]()
            for outwards in (-1.0, 1.0):
                pieces = waiting[2 * len(out) + len(go)]
                begins = at = 0.0
                numbers, wide = list[int](), 0.0
                while at < size[run] - 1e-9:
                    if not pieces:
                        raise StageError(
                            self.id, "The border pieces run out: {short} of an edge of {need} is left bare.",
                            "Cut more border pieces, or make them longer.", "with", short=float(size[run]) - at,
                            need=float(size[run]),
                        )  # fmt: skip
                    number = pieces.pop(0)
                    across, along = sorted(float(v) for v in stock[number][1][:2])
                    if self.stagger and outwards > 0 and not numbers:
                        begins = at = -along / 2
                    at, wide = at + along, max(wide, across)
                    numbers.append(number)
                go.append(BorderSide(axis, outwards, begins, tuple(numbers), wide))
            size[axis] += go[0].wide + go[1].wide
            out.append((go[0], go[1]))
        return tuple(out)

    def _waiting(self, names: Sequence[str]) -> list[list[int]]:
        """The pieces that each side may take, in their order; sides of one stage take turns."""
        if not self.sides:
            return [list(range(len(names)))] * 4
        unknown = [name for name in self.sides if name not in names]
        if unknown:
            raise StageError(
                self.id, f"A side is to come from “{unknown[0]}”, whose pieces this border does not take.",
                f"Use {', '.join(dict.fromkeys(names)) or 'a stage in “with”'}.", "sides",
            )  # fmt: skip
        pools = {name: [at for at, other in enumerate(names) if other == name] for name in self.sides}
        return [pools[self.sides[side * len(self.sides) // 4]] for side in range(4)]

    @field_validator("sides")
    @classmethod
    def _two_or_four(cls, sides: tuple[str, ...]) -> tuple[str, ...]:
        if len(sides) not in (0, 1, 2, 4):
            raise ValueError("name four stages, one for each side, or two, one for each pair of sides")
        return sides

    def _go(
        self,
        board: Cells,
        go: tuple[BorderSide, BorderSide],
        stock: Sequence[Cells],
        splines: list[Cells],
        waste: dict[Cause, float],
        joints: list[Joint],
    ) -> Cells:
        """Set both sides across an axis, cut them flush with the board's ends, and let in their splines."""
        axis, run = go[0].axis, 1 - go[0].axis
        low, high = board.bounds()
        rows = []
        for side in go:
            row = _end_to_end(stock, side, low, high)
            cut = slabs(row, np.eye(3)[run], np.array([low[run], high[run]]), np.array([1]))
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


def _end_to_end(stock: Sequence[Cells], side: BorderSide, low: Floats, high: Floats) -> Cells:
    """The pieces of a side laid end to end against the board's edge, the longer of their sides along it."""
    axis, run = side.axis, 1 - side.axis
    at, laid = float(low[run]) + side.begins, list[Cells]()
    for number in side.pieces:
        piece = stock[number]
        size = piece.size()
        if (size[1] > size[0]) != (run == 1):
            piece = piece.turned(Turn(spin=Spin.QUARTER).matrix)
        piece = piece.at_origin()
        size = piece.size()
        to = np.zeros(3)
        to[run], to[axis] = at, float(high[axis]) if side.outwards > 0 else float(low[axis] - size[axis])
        laid.append(piece.moved(to).as_piece(len(laid)))
        at += float(size[run])
    return join(laid)
