"""What lies under a point of a drawn side: which strip of which wood, in which row, or the joint between two."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..geometry.faces import Face, Side, face_of
from ..plan.simulate import Simulation
from ..solid import Floats, Ints
from ..stages import Mill
from .figures import rows
from .names import names

NEAR = 0.6
"""Nearer than this (mm) to where two blocks meet, the joint is meant."""


@dataclass(frozen=True, slots=True)
class Spot:
    """The strips that meet there, one away from joints: what each is called, its wood and the stage that milled it; and
    the slice of the row, "" where rows cannot be told."""

    strips: tuple[tuple[str, str, str], ...]
    row: str = ""

    @property
    def on_joint(self) -> bool:
        """Whether it lies where two pieces are glued."""
        return len(self.strips) > 1


def spot(sim: Simulation, piece: int, side: Side, x: float, y: float) -> Spot | None:
    """At a point of a side of one of the finished boards (mm, right and down from its corner as ``face_of`` draws it);
    None beside the wood."""
    face = face_of(sim.boards[piece], side)
    near = _near(face, np.array([x, y]))
    if not len(near):
        return None
    called = list(dict.fromkeys((int(face.block[at]), int(face.strip[at])) for at in near))
    strips = tuple(dict.fromkeys(_strip(sim, number) for _, number in called[:2]))
    if len(called) > 1 and len(strips) == 1:
        strips = strips * 2  # two blocks of one strip meet there
    row = next((r.slice for r in rows(sim) if r.start <= y <= r.end), "") if side is Side.TOP else ""
    return Spot(strips, row)


def _near(face: Face, at: Floats) -> Ints:
    """Polygons that hold the point, then those of other blocks whose edge is near; nothing where none holds it."""
    a, b, owner = face.points, face.points[face.following()], face.owners()
    crosses = (a[:, 1] > at[1]) != (b[:, 1] > at[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        where = a[:, 0] + (at[1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
    holding = np.flatnonzero(np.bincount(owner, crosses & (at[0] < where), len(face)) % 2 == 1)
    if not len(holding):
        return holding
    along = b - a
    length = np.maximum((along**2).sum(axis=1), 1e-12)
    t = np.clip(((at - a) * along).sum(axis=1) / length, 0.0, 1.0)
    close = np.hypot(*(a + t[:, None] * along - at).T) < NEAR
    beside = np.setdiff1d(owner[close], holding)
    return np.concatenate([holding[-1:], beside[face.block[beside] != face.block[holding[-1]]]])


def _strip(sim: Simulation, number: int) -> tuple[str, str, str]:
    for mill, first, count in _milled(sim):
        if first <= number < first + count:
            named = names(sim)[mill.id]
            name = str(named[number - first]) if number - first < len(named) else "strip"
            return name, sim.strips[number].wood, mill.id
    return "strip", sim.strips[number].wood, ""


def _milled(sim: Simulation) -> Iterator[tuple[Mill, int, int]]:
    first = 0
    for result in sim.results:
        count = len(result.outcome.strips)
        if isinstance(result.stage, Mill):
            yield result.stage, first, count
        first += count
