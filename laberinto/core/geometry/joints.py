"""Glue joints: which faces of neighbouring pieces meet, in whatever plane, over what area, and how the grain runs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from ..solid import GLUED, Bools, Cells, Floats, Ints, spread
from ..woods.strips import Strip
from .clear import filled
from .contact import COPLANAR, touching
from .polygons import corners, middles

END_GRAIN = 0.7071
"""A joint face shows end grain where fibres run more into it than along it (cosine of 45°)."""


@dataclass(frozen=True, slots=True)
class PieceContacts:
    """Where the faces of two pieces touch, cell by cell: ``strips`` (k, 2) numbers of the strips that meet, ``areas``
    (k,) mm², ``faces`` (k, 2) the faces."""

    strips: Ints
    areas: Floats
    faces: Ints


@dataclass(frozen=True)
class Row:
    """Pieces set one against the next, ``along`` a direction (3,) or any way. Where they touch is worked out for the
    whole row when it is first asked for: of whole slices the size alone tells how large their joints are."""

    cells: Cells
    along: Floats | None

    @cached_property
    def contacts(self) -> dict[tuple[int, int], PieceContacts]:
        """Those of each piece with the next, and of any further pair that touches, as mitred sides do round a core."""
        count = self.cells.pieces - 1
        found = self._touching(np.stack([np.arange(count), np.arange(1, count + 1)], axis=1), self.along)
        if self._boxes() is None:
            found |= {pair: met for pair, met in self._touching(self._beyond(), None).items() if len(met.areas)}
        return found

    def _touching(self, pairs: Ints, along: Floats | None) -> dict[tuple[int, int], PieceContacts]:
        """The contacts of pairs of pieces (k, 2); ``along`` a direction only faces that look along it or back."""
        cells = self.cells
        cell = cells.cell_of_face()
        piece = cells.piece[cell]
        looks = cells.world_planes()[0] @ along if along is not None else np.zeros(len(piece))
        slack = 1e-9 if along is None else -1e-9
        free = cells.faces[GLUED] == 0
        ahead, group_a = _of_pairs(np.flatnonzero((looks > -slack) & free), piece, pairs[:, 0])
        behind, group_b = _of_pairs(np.flatnonzero((looks < slack) & free), piece, pairs[:, 1])
        found = touching(cells, ahead, behind, group_a, group_b)
        group = group_a[found.first]
        order = group.argsort(kind="stable")
        faces = np.stack([ahead[found.first], behind[found.second]], axis=1)[order]
        strips, areas = cells.strip[cell[faces]], found.area[order]
        bounds = np.searchsorted(group[order], np.arange(len(pairs) + 1)).tolist()
        return {
            (first, second): PieceContacts(strips[a:b], areas[a:b], faces[a:b])
            for (first, second), (a, b) in zip(pairs.tolist(), pairwise(bounds), strict=True)
        }

    def _beyond(self) -> Ints:
        """Pairs of pieces (k, 2) that do not follow one another and whose boxes touch."""
        low, high = self.cells.piece_bounds()
        meet = np.ones((len(low), len(low)), bool)
        for axis in range(3):
            meet &= low[None, :, axis] < high[:, None, axis] + COPLANAR
        return np.argwhere(np.triu(meet & meet.T, 2))

    def areas(self) -> dict[tuple[int, int], float]:
        """Area of the joint of each piece with the next, and with any other that it touches, mm²."""
        boxes = self._boxes()
        if boxes is not None:
            return {(k, k + 1): area for k, area in enumerate(boxes.tolist())}
        return {pair: float(found.areas.sum()) for pair, found in self.contacts.items()}

    def _boxes(self) -> Floats | None:
        """The same where every piece fills the box round it and touches the next along an axis: what their sides
        share. None elsewhere."""
        if self.along is None or np.count_nonzero(self.along) != 1 or not filled(self.cells).all():
            return None
        low, high = self.cells.piece_bounds()
        axis = int(np.flatnonzero(self.along)[0])
        gap = low[1:, axis] - high[:-1, axis] if self.along[axis] > 0 else low[:-1, axis] - high[1:, axis]
        if np.abs(gap).max() > COPLANAR:
            return None
        shared = np.minimum(high[1:], high[:-1]) - np.maximum(low[1:], low[:-1])
        return np.asarray(np.delete(np.maximum(shared, 0.0), axis, axis=1).prod(axis=1))


def _of_pairs(faces: Ints, piece: Ints, which: Ints) -> tuple[Ints, Ints]:
    """The faces of the pieces ``which`` (k,), pair after pair, with the number of the pair each is there for."""
    order = faces[piece[faces].argsort(kind="stable")]
    ends = np.searchsorted(piece[order], np.arange(int(piece.max(initial=0)) + 2))
    counts = ends[which + 1] - ends[which]
    return order[spread(ends[which], counts)], np.arange(len(which)).repeat(counts)


@dataclass(frozen=True, slots=True)
class Joint:
    """One glue line between the pieces ``first`` and ``second`` of a row, mostly neighbours: ``area`` in mm², and
    what its contacts tell, one entry for each two cells that meet."""

    first: int
    second: int
    area: float
    row: Row

    @property
    def cells(self) -> Cells:
        """The pieces as they were set."""
        return self.row.cells

    @property
    def contacts(self) -> PieceContacts:
        """Where its two pieces touch, worked out when first asked for."""
        return self.row.contacts[self.first, self.second]

    @property
    def strips(self) -> Ints:
        """Numbers of the strips that meet, (k, 2)."""
        return self.contacts.strips

    @property
    def areas(self) -> Floats:
        """Area of each contact, mm², (k,)."""
        return self.contacts.areas

    @property
    def faces(self) -> Ints:
        """The faces that meet, (k, 2)."""
        return self.contacts.faces

    @property
    def mixed(self) -> float:
        """The part of it, mm², where end grain meets long grain, which moves apart."""
        end = np.abs(self.cells.faces[1, self.faces]) > END_GRAIN
        return float(self.areas[end[:, 0] != end[:, 1]].sum())

    @property
    def normals(self) -> Floats:
        """The joint's normal in the coordinates of either strip, (k, 2, 3)."""
        return np.asarray(np.moveaxis(self.cells.faces[:3, self.faces], 0, 2) * np.array([1.0, -1.0])[None, :, None])

    @property
    def across(self) -> Floats:
        """Rotation from the first strip's coordinates to the second's, (k, 3, 3)."""
        one, other = self.cells.cell_of_face()[self.faces].T
        # vᵢ = Rᵢᵀ w, so what is v in the first strip is R₂ᵀ R₁ v in the second
        return np.asarray(self.cells.rot[other].transpose(0, 2, 1) @ self.cells.rot[one])

    @property
    def places(self) -> Floats:
        """Middle of either face in its strip's coordinates, mm, (k, 2, 3)."""
        return middles(self.cells)[self.faces]

    def fibre_angles(self) -> Floats:
        """Angle between the fibres on both sides of each contact, 0 to 90 degrees, (k,)."""
        return _between(np.abs(self.across[:, 1, 1]))

    def parting(self) -> Floats:
        """How far the two sides of each contact move against each other in the joint's plane as the wood takes up
        moisture, (k,): 0 where they move alike, 1 where one moves fully and the other not at all.

        Wood moves across its fibres f and hardly along them, by c (I − f fᵀ). With t the part of f that lies in the
        plane, the two sides differ by c (t₂ t₂ᵀ − t₁ t₁ᵀ), whose larger eigenvalue this is.
        """
        normal = self.normals[:, 0]
        along = np.zeros_like(normal)
        along[:, 1] = 1.0
        other = self.across[:, 1, :]  # the second strip's fibres in the first one's coordinates
        one, other = (f - (f * normal).sum(axis=1, keepdims=True) * normal for f in (along, other))
        a, b, ab = (one * one).sum(axis=1), (other * other).sum(axis=1), (one * other).sum(axis=1)
        root = np.sqrt(np.maximum((a + b) ** 2 - 4 * ab**2, 0.0))
        return np.asarray((np.abs(b - a) + root) / 2)

    def reach(self, which: Bools) -> float:
        """How long the joint is over the contacts chosen (k,), mm: the longest way across what both sides share."""
        low, high = np.full((2, 3), np.inf), np.full((2, 3), -np.inf)
        world = self.cells.world()
        for side in (0, 1):
            vertex, _ = corners(self.cells, np.unique(self.faces[which, side]))
            low[side], high[side] = world[vertex].min(axis=0), world[vertex].max(axis=0)
        shared = np.sort(np.maximum(high.min(axis=0) - low.max(axis=0), 0.0))
        return float(np.hypot(shared[1], shared[2]) if shared[1] > shared[2] / 2 and shared[0] > 1e-3 else shared[2])

    def into(self) -> Floats:
        """How steeply the fibres run into the joint on either side, (k, 2) degrees: 0 along it, 90 end grain."""
        return np.asarray(90.0 - _between(np.abs(self.normals[:, :, 1])))

    def radial(self, strips: Sequence[Strip]) -> Floats:
        """Direction from the heart outwards at each contact, in the coordinates of either strip, (k, 2, 3)."""
        hearts = np.array([strip.rings.heart for strip in strips])[self.strips]
        out = np.zeros_like(self.places)
        out[:, :, 0] = self.places[:, :, 0] - hearts[:, :, 0]
        out[:, :, 2] = self.places[:, :, 2] - hearts[:, :, 1]
        return np.asarray(out / np.maximum(np.linalg.norm(out, axis=2, keepdims=True), 1e-12))

    def ring_angles(self, strips: Sequence[Strip]) -> Floats:
        """Angle between the rings on both sides of each contact, 0 to 90 degrees, (k,)."""
        radial = self.radial(strips)
        return _between(np.abs(np.einsum("kij,kj,ki->k", self.across, radial[:, 0], radial[:, 1])))

    def grain(self, strips: Sequence[Strip]) -> list[tuple[str, str]]:
        """What either side shows: ``end`` where fibres run into the joint; else ``face`` where the rings lie along
        it and ``edge`` where they stand on it."""
        end = np.abs(self.normals[:, :, 1]) > END_GRAIN
        flat = np.abs((self.normals * self.radial(strips)).sum(axis=2)) > END_GRAIN
        names = np.where(end, "end", np.where(flat, "face", "edge"))
        return [(str(a), str(b)) for a, b in names]


def _between(cosine: Floats) -> Floats:
    return np.asarray(np.degrees(np.arccos(np.clip(cosine, 0.0, 1.0))))


def joints_between(cells: Cells, along: Floats | None = None) -> list[Joint]:
    """The joints of a glue-up whose pieces 0 to n were set one against the next, in that order: of each with the next,
    and of any others that touch. Where they were set ``along`` a direction (3,), only faces that look along it or back
    are tried between neighbours."""
    if cells.pieces < 2:
        return []
    row = Row(cells, along)
    return [Joint(first, second, area, row) for (first, second), area in row.areas().items()]


def parts(joints: Sequence[Joint], count: int) -> Ints:
    """For each of ``count`` pieces the number of the whole it is glued into, (count,), counted from 0 in the order of
    their first pieces: pieces are one where a chain of joints with some area leads from one to the other."""
    whole = np.arange(count)
    for joint in joints:
        if joint.area > 0:
            one, other = sorted((int(whole[joint.first]), int(whole[joint.second])))
            whole[whole == other] = one
    return np.unique(whole, return_inverse=True)[1].astype(np.int64)
