"""Line of sight: whether a face looks out of its piece, or into the wood beside it."""

from __future__ import annotations

import numpy as np
import shapely

from .solid import Bools, Cells, Floats, Ints

AHEAD = 1e-4
"""Wood that begins nearer than this (mm) in front of a face hides it; a hair of overlap does not."""

LEVEL = 1e-9
"""A face whose normal is this near square to the line runs along it."""

OUTSIDE = 1e-7
"""A line this near (mm) a cell's side still runs into it; where two cells meet in front, both hide what is behind."""


def looks_out(cells: Cells, faces: Ints, middles: Floats, frame: Floats) -> Bools:
    """Which ``faces`` see out of their own piece from their middles (m, 3) along the frame's third row.

    ``frame`` (3, 3) has the picture's right, down and towards-the-eye as rows. A line is followed through
    every cell of the same piece whose shadow in the picture holds the middle.
    """
    own, towards = cells.cell_of_face()[faces], frame[2]
    shadow = cells.world() @ frame[:2].T
    low = np.minimum.reduceat(shadow, cells.vptr[:-1], axis=0)
    high = np.maximum.reduceat(shadow, cells.vptr[:-1], axis=0)
    tree = shapely.STRtree(shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1]))
    face, cell = tree.query(shapely.points(middles @ frame[:2].T), predicate="intersects")
    depth = middles @ towards
    along = cells.world() @ towards
    begins = np.minimum.reduceat(along, cells.vptr[:-1])
    ends = np.maximum.reduceat(along, cells.vptr[:-1])
    rival = (cell != own[face]) & (cells.piece[cell] == cells.piece[own[face]]) & (ends[cell] > depth[face] + AHEAD)
    face, cell = face[rival], cell[rival]
    hidden = np.zeros(len(faces), bool)
    # most hidden faces are glued to what hides them, so look there first and follow the line only for the rest
    touching = begins[cell] <= depth[face] + AHEAD
    for first in (touching, ~touching):
        now = first & ~hidden[face]
        hidden[face[now][_wood_ahead(cells, cell[now], middles[face[now]], towards)]] = True
    return ~hidden


def _wood_ahead(cells: Cells, cell: Ints, start: Floats, towards: Floats) -> Bools:
    """Whether the line from each start (k, 3) runs through its cell (k,) anywhere ahead."""
    if not len(cell):
        return np.zeros(0, bool)
    counts = (cells.fptr[1:] - cells.fptr[:-1])[cell]
    first = np.concatenate([[0], np.cumsum(counts)[:-1]])
    plane = np.repeat(cells.fptr[cell] - first, counts) + np.arange(counts.sum())
    normals, offsets = cells.world_planes()
    line = np.repeat(np.arange(len(cell)), counts)
    along = normals[plane] @ towards
    rest = offsets[plane] - (normals[plane] * start[line]).sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = rest / along
    leave = np.minimum.reduceat(np.where(along > LEVEL, cut, np.inf), first)
    enter = np.maximum.reduceat(np.where(along < -LEVEL, cut, -np.inf), first)
    inside = np.logical_and.reduceat((np.abs(along) > LEVEL) | (rest > -OUTSIDE), first)
    return np.asarray(inside & (leave > np.maximum(enter, 0.0) + AHEAD))
