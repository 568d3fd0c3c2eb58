"""Joints as a face shows them: where the outlines of two pieces of wood run along each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ...geometry.faces import Face
from ...solid import Floats, Ints

STRAIGHT = 1e-4
"""Edges are on one line where direction and distance differ by less than this, radians and mm."""

LEAST = 1e-3
"""Shorter than this (mm) is no joint."""


@dataclass(frozen=True, slots=True)
class Seams:
    """Where polygons of a face meet: the pair of polygons (k, 2), the stretch from and to (k, 2, 2) in mm of the
    picture, whether both are one block that was only cut in thought (k,)."""

    pair: Ints
    ends: Floats
    inner: np.ndarray

    @property
    def lengths(self) -> Floats:
        """mm, (k,)."""
        return np.asarray(np.hypot(*(self.ends[:, 1] - self.ends[:, 0]).T))

    @property
    def angles(self) -> Floats:
        """From across the board, 0 up to 180 degrees, (k,)."""
        run = self.ends[:, 1] - self.ends[:, 0]
        return np.asarray(np.degrees(np.arctan2(run[:, 1], run[:, 0])) % 180.0)

    def joints(self) -> Seams:
        """Only real joints between two blocks."""
        return Seams(self.pair[~self.inner], self.ends[~self.inner], self.inner[~self.inner])


def seams_of(face: Face) -> Seams:
    """All stretches along which two polygons of a face meet. Kept with the face."""
    return face.memo.once(_seams, face)


def _seams(face: Face) -> Seams:
    following = face.following()
    start, end = face.points, face.points[following]
    owner = face.owners()
    run = end - start
    length = np.hypot(run[:, 0], run[:, 1])
    long = length > LEAST
    start, end, owner, run = start[long], end[long], owner[long], run[long] / length[long, None]
    # a line's direction points right, or straight down; its edges run along or against it
    back = (run[:, 0] < -STRAIGHT) | ((np.abs(run[:, 0]) <= STRAIGHT) & (run[:, 1] < 0))
    along = np.where(back[:, None], -run, run)
    angle = np.arctan2(along[:, 1], along[:, 0])
    offset = along[:, 0] * start[:, 1] - along[:, 1] * start[:, 0]
    at = np.stack([(start * along).sum(axis=1), (end * along).sum(axis=1)], axis=1)
    at.sort(axis=1)
    pairs: list[tuple[int, int]] = []
    ends: list[Floats] = []
    for line in _lines(angle, offset):
        ahead, behind = line[~back[line]], line[back[line]]
        if not len(ahead) or not len(behind):
            continue
        low = np.maximum(at[ahead, 0][:, None], at[behind, 0][None])
        high = np.minimum(at[ahead, 1][:, None], at[behind, 1][None])
        direction = along[line[0]]
        foot = np.array([-direction[1], direction[0]]) * offset[line[0]]
        for i, j in zip(*np.nonzero(high - low > LEAST), strict=True):
            pairs.append((int(owner[ahead[i]]), int(owner[behind[j]])))
            ends.append(np.stack([foot + direction * low[i, j], foot + direction * high[i, j]]))
    if not pairs:
        return Seams(np.zeros((0, 2), np.int64), np.zeros((0, 2, 2)), np.zeros(0, bool))
    pair = np.array(pairs, np.int64)
    one, other = pair.T
    alike = face.strip[one] == face.strip[other]
    inner = alike & (np.abs(face.maps[one] - face.maps[other]).reshape(len(pair), -1).max(axis=1) < 1e-3)
    return Seams(pair, np.stack(ends), inner)


def _lines(angle: Floats, offset: Floats) -> Iterator[Ints]:
    """Indices of the edges that lie on each line."""
    order = np.lexsort((offset, np.round(angle / STRAIGHT)))
    breaks = (np.diff(np.round(angle[order] / STRAIGHT)) != 0) | (np.diff(offset[order]) > STRAIGHT)
    yield from np.split(order, np.flatnonzero(breaks) + 1)
