"""What the edges of slices show: woods along the joint to the row before and the row behind, in all four lies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...geometry.faces import Side, face_of
from ...geometry.rotations import Lie
from ...plan.simulate import Simulation
from ...solid import Cells, Floats, Ints
from ...stages import Arrange

ON_EDGE = 1e-3
"""A cell this near the edge of its slice (mm) reaches it."""

LEVEL_FACE = 0.9999
"""A polygon of a face less square on than this (cosine) is a side that leans."""

BARE = -1
"""Where an edge shows no wood: ragged, or beyond the slice's end."""

LIES: tuple[Lie, ...] = tuple(Lie)
"""The four lies, in the order in which all arrays here have them."""

ENDS = (Lie.AS_CUT, Lie.OTHER_END_UP)
"""One lie for either end of a slice; the other two are these turned half round."""

Run = tuple[float, float, str]
"""From and to along an edge, mm, and the wood there."""


@dataclass(frozen=True, slots=True)
class Edges:
    """The far and near edges of n slices in each lie, cut into the same k stretches.

    ====== ============ =======================================================
    widths (k,)         of the stretches, mm
    far    (n, 4, k)    wood (index into ``woods``) or BARE, away from you
    near   (n, 4, k)    the same towards you
    ====== ============ =======================================================

    ``far_joints`` and ``near_joints`` (n, 4, k) say whether a joint between strips lies at a stretch's start.
    """

    widths: Floats
    far: Ints
    near: Ints
    far_joints: NDArray[np.bool_]
    near_joints: NDArray[np.bool_]
    woods: tuple[str, ...]

    def __len__(self) -> int:
        return len(self.far)

    @property
    def length(self) -> float:
        """Of an edge over all, mm."""
        return float(self.widths.sum())

    def same_wood(self, shift: float = 0.0) -> Floats:
        """Millimetres of one wood against itself, where a slice in a lie is followed by another in another that lies
        ``shift`` mm farther to the right: (n, 4, n, 4), first the slice that lies farther away."""
        widths, at_near, at_far = self._against(shift)
        near, far = self._flat(self.near)[:, at_near], self._flat(self.far)[:, at_far]
        alike = (near[:, None] == far[None]) & (near[:, None] != BARE)
        n = len(self)
        return np.asarray(alike @ widths).reshape(n, 4, n, 4)

    def joints_met(self, shift: float = 0.0) -> Floats:
        """How many joints run on from one row into the next, (n, 4, n, 4) like ``same_wood``."""
        starts = np.concatenate([[0.0], np.cumsum(self.widths)[:-1]])
        i, j = np.nonzero(np.abs(starts[:, None] - starts[None] - shift) < ON_EDGE)
        near, far = self._flat(self.near_joints)[:, i].astype(float), self._flat(self.far_joints)[:, j].astype(float)
        n = len(self)
        return np.asarray(near @ far.T).reshape(n, 4, n, 4)

    def _against(self, shift: float) -> tuple[Floats, Ints, Ints]:
        """Both edges cut into the same stretches where one lies ``shift`` mm to the right: their widths (m,), and which
        stretch of either edge each is part of."""
        bounds = np.concatenate([[0.0], np.cumsum(self.widths)])
        both = np.unique(np.round(np.concatenate([bounds, bounds + shift]), 6))
        both = both[(both >= max(0.0, shift) - 1e-9) & (both <= bounds[-1] + min(0.0, shift) + 1e-9)]
        middles = (both[1:] + both[:-1]) / 2
        most = len(self.widths) - 1
        at = (np.clip(np.searchsorted(bounds, middles - by) - 1, 0, most) for by in (0.0, shift))
        return (np.diff(both), *at)

    def _flat(self, of: NDArray[np.generic]) -> NDArray[np.generic]:
        return of.reshape(len(self) * 4, -1)


def slices_of(sim: Simulation, arrange: Arrange) -> list[Cells]:
    """All slices that an arrangement stands up, by slice number; those left out are not among them."""
    pools = [sim.taken(name).cells for name in arrange.sources]
    every = [pool.of_piece(k) for pool in pools for k in range(pool.pieces)]
    return [slice_ for number, slice_ in enumerate(every, 1) if number not in arrange.without]


def edges_of(sim: Simulation, arrange: Arrange) -> Edges:
    """The edges of all slices that an arrangement stands up, by slice number."""
    slices = slices_of(sim, arrange)
    runs = [tuple(_runs(sim, piece, lie) for lie in ENDS) for piece in slices]
    every = [run for ends in runs for pair in ends for side in pair for run in side]
    width = max((run[1] for run in every), default=0.0)
    # every change of wood in any slice, either way round, bounds the stretches
    cuts = {0.0, width}
    for piece, ends in zip(slices, runs, strict=True):
        own = round(float(piece.size()[0]), 3)
        for start, end, _ in (run for pair in ends for side in pair for run in side):
            cuts |= {start, end, own - start, own - end}
    bounds = np.unique(np.round(sorted(cut for cut in cuts if 0 <= cut <= width), 4))
    woods = tuple(sorted({run[2] for run in every}))
    middles = (bounds[1:] + bounds[:-1]) / 2
    shape = (len(slices), 4, len(middles))
    far, near = np.full(shape, BARE), np.full(shape, BARE)
    far_j, near_j = np.zeros(shape, bool), np.zeros(shape, bool)
    for k, (piece, ends) in enumerate(zip(slices, runs, strict=True)):
        own = round(float(piece.size()[0]), 3)
        for m, lie in enumerate(LIES):
            back, front = ends[lie in (Lie.OTHER_END_UP, Lie.FLIP)]
            sides = (front, back) if lie.reverses else (back, front)  # end for end of what the end shows
            for side, wood_at, joint_at in zip(sides, (far, near), (far_j, near_j), strict=True):
                laid = [(own - b, own - a, wood) for a, b, wood in side] if lie.reverses else side
                for a, b, wood in laid:
                    wood_at[k, m, (middles > a) & (middles < b)] = woods.index(wood)
                    joint_at[k, m] |= (np.abs(bounds[:-1] - a) < ON_EDGE) & (a > ON_EDGE)
    return Edges(np.diff(bounds), far, near, far_j, near_j, woods)


def _runs(sim: Simulation, piece: Cells, lie: Lie) -> tuple[list[Run], list[Run]]:
    """Woods along the far and the near edge of a slice that lies so, strip by strip."""
    face = face_of(piece.turned(lie.turn.matrix).at_origin(), Side.TOP)
    following = face.following()
    owner = face.owners()
    found: list[list[Run]] = []
    # of a slice cut aslant the sides lean into the picture; the joint is where its face ends
    level = face.tilt[owner] > LEVEL_FACE
    if not level.any():
        return [], []
    ends = float(face.points[level, 1].min()), float(face.points[level, 1].max())
    for line in ends:  # the picture runs down towards you
        on = level & (np.abs(face.points[:, 1] - line) < ON_EDGE) & (np.abs(face.points[following, 1] - line) < ON_EDGE)
        side = []
        for e in np.flatnonzero(on):
            a, b = sorted(round(float(face.points[at, 0]), 3) for at in (e, following[e]))
            side.append((a, b, sim.strips[int(face.strip[owner[e]])].wood))
        found.append(sorted(side))
    return found[0], found[1]
