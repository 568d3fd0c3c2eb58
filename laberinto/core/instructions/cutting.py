"""Instructions of stages that mill, saw, plane and turn."""

from __future__ import annotations

from collections.abc import Iterator

from ..geometry.sawing import reach
from ..plan.model import OFFCUT
from ..stages import Arrange, Crosscut, Flatten, JointEdge, Mill, Profile, Sawing, Trim
from .model import CutBack, Instruction, Laid, MillStrips, Planed, Saw, Sawn, SawSection, Sectioned, Strip, Turn
from .told import Told


def mill(t: Told) -> Iterator[Instruction]:
    """Strips of one lamination."""
    stage, outcome = t.result.stage, t.result.outcome
    assert isinstance(stage, Mill)
    yield MillStrips(
        stage=stage.id, machine=stage.machine, stock=stage.rough_stock,
        thickness=stage.thickness if stage.as_is else 0.0,
        strips=tuple(
            Strip(name, strip.wood, spec.turned.turn.name, strip.width, strip.length, strip.thickness)
            for name, strip, spec in zip(t.makes, outcome.strips, stage.laid_out(), strict=True)
        ),
    )  # fmt: skip


def rip(t: Told) -> Iterator[Instruction]:
    """A rip or a re-saw."""
    stage = t.result.stage
    assert isinstance(stage, Sawing)
    skew, bevel = stage.angles()
    level, plumb = stage.laid_back()
    yield _sawn(t, stage.axis, skew, bevel, level=bool(level), plumb=bool(plumb))


def crosscut(t: Told) -> Iterator[Instruction]:
    """Slices."""
    stage = t.result.stage
    assert isinstance(stage, Crosscut)
    yield _sawn(t, 1, stage.skew, stage.bevel, level=bool(stage.skew), plumb=bool(stage.bevel))


def _sawn(t: Told, axis: int, skew: float, bevel: float, *, level: bool, plumb: bool) -> Saw:
    stage = t.result.stage
    assert isinstance(stage, Sawing | Crosscut)
    made, pieces = iter(t.makes), []
    for name, piece in zip(t.takes, t.pieces, strict=True):
        normal, runs = stage.layout(piece)
        _, end = reach(piece, axis, normal)
        widths = (runs[1:, 0] - runs[:-1, 1]).tolist()
        left = max((end - float(runs[-1, 1])) / float(normal[axis]), 0.0)
        pieces.append(Sawn(name, tuple(next(made) for _ in widths), tuple(round(w, 9) for w in widths), left))
    return Saw(
        stage=stage.id, machine=stage.machine, axis=axis, pieces=tuple(pieces), offcuts=t.names[stage.id + OFFCUT],
        kerf=stage.kerf, first=stage.squaring, skew=skew, bevel=bevel, level=level, plumb=plumb,
    )  # fmt: skip


def profile(t: Told) -> Iterator[Instruction]:
    """A section."""
    stage = t.result.stage
    assert isinstance(stage, Profile)
    yield SawSection(
        stage=stage.id, machine=stage.machine, offcuts=t.names[stage.id + OFFCUT], rest_on=stage.rest_on,
        kerf=stage.kerf,
        pieces=tuple(
            Sectioned(name, tuple((float(x), float(z)) for x, z in stage.corners(piece)))
            for name, piece in zip(t.takes, t.pieces, strict=True)
        ),
    )  # fmt: skip


def cut_back(t: Told) -> Iterator[Instruction]:
    """Flatten, joint and trim: one instruction for each axis along which anything comes off."""
    stage, off = t.result.stage, t.result.outcome.off
    assert isinstance(stage, Flatten | JointEdge | Trim) and off is not None
    sizes = t.result.pieces.cells.piece_sizes()
    for axis in range(3):
        if off[:, axis].any():  # nothing is done to the others
            yield CutBack(
                stage=stage.id, machine=stage.machine, axis=axis,
                pieces=tuple(
                    Planed(name, float(by[0]), float(by[1]), float(size))
                    for name, by, size in zip(t.takes, off[:, axis], sizes[:, axis], strict=True)
                ),
            )  # fmt: skip


def turned(t: Told) -> Iterator[Instruction]:
    """Turned pieces, in their order."""
    stage = t.result.stage
    yield Turn(
        stage=stage.id,
        pieces=tuple(Laid(name, turn) for name, turn in zip(t.makes, t.result.outcome.turns, strict=True)),
    )


def arrange(t: Told) -> Iterator[Instruction]:
    """Rows of standing slices."""
    stage = t.result.stage
    assert isinstance(stage, Arrange)
    lies = [lie for _, lie in stage.rows(t.sim.slices(stage.id))]
    yield Turn(stage=stage.id, pieces=tuple(Laid(name, lie.turn.name) for name, lie in zip(t.makes, lies, strict=True)))
