"""Parallel saw cuts through one piece: rips, crosscuts and re-saws, square, skewed or bevelled."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..solid import Cells, Floats, slabs

FULL = 1e-9
"""A piece counts as long enough when it lacks no more than this, mm."""


def blade(axis: int, skew: float = 0.0, bevel: float = 0.0) -> Floats:
    """Unit normal (3,) of a cut that takes slices along ``axis`` (0 rip, 1 crosscut, 2 re-saw).

    ``skew`` turns the blade about the vertical, ``bevel`` tilts it, both in degrees; 0 is square.
    """
    theta, beta = math.radians(skew), math.radians(bevel)
    level = np.array([math.cos(theta), math.sin(theta), 0.0] if axis == 0 else [math.sin(theta), math.cos(theta), 0.0])
    if axis == 2:
        return np.array([0.0, 0.0, 1.0])
    return np.asarray(level * math.cos(beta) + np.array([0.0, 0.0, math.sin(beta)]) + 0.0)


def turned_back(axis: int, skew: float, bevel: float = 0.0) -> Floats:
    """The (3, 3) rotation that lays the faces of such a cut square to ``axis`` again."""
    theta, beta = math.radians(-skew if axis == 0 else skew), math.radians(-bevel)
    c, s = math.cos(theta), math.sin(theta)
    level = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    c, s = math.cos(beta), math.sin(beta)
    if axis == 0:
        roll = np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]])
    else:
        roll = np.array([[1.0, 0.0, 0.0], [0.0, c, -s], [0.0, s, c]])
    return np.asarray(roll @ level if bevel else level)


@dataclass(frozen=True, slots=True)
class Sawn:
    """What cutting one piece gives: slices numbered as pieces, offcuts at either end, kerf dust in mm³."""

    slices: Cells
    offcuts: tuple[Cells, ...]
    kerf: float


def reach(piece: Cells, axis: int, normal: Floats) -> tuple[float, float]:
    """Where along ``normal`` full slices can begin and end: the wedge that a skew or a bevel wastes at either
    side of the box round the piece lies before and beyond, mm."""
    low, high = piece.bounds()
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    height = corners @ normal
    near = corners[:, axis] == low[axis]
    return float(height[near].max()), float(height[~near].min())


def kerfs(piece: Cells, normal: Floats, start: float, widths: Sequence[float], kerf: float, squaring: float) -> Floats:
    """Where the blade runs: (n+1, 2) from and to along the normal, mm, the squaring cut first and one behind each
    slice. The blade takes its whole width of the first cut too, or as much as there is wood before it: none where the
    piece begins square with the first slice."""
    lowest = float((piece.world() @ normal).min())
    ends = start + squaring + np.cumsum(np.asarray(widths) + kerf)
    first = start + squaring
    return np.stack(
        [
            np.concatenate([[min(max(first - kerf, lowest), first)], ends - kerf]),
            np.concatenate([[first], ends]),
        ],
        axis=1,
    )


def saw(piece: Cells, normal: Floats, start: float, widths: Sequence[float], kerf: float, squaring: float) -> Sawn:
    """Cut slices of ``widths`` (mm, square to the blade) one after the other, each followed by a kerf.

    The first cut squares the end: it takes ``squaring`` mm, kerf included, beyond ``start``, or nothing where
    both are 0. The last slice needs no cut where the wood ends with it.
    """
    bounds = kerfs(piece, normal, start, widths, kerf, squaring).ravel()
    count = len(widths)
    cut = slabs(piece, normal, bounds, 2 * np.arange(count + 2))
    slices, slab = cut.within(1, 2 * count)
    offcuts = (cut.of(0), cut.of(2 * count + 2))
    return Sawn(
        slices.replace(piece=slab // 2 - 1),
        tuple(end for end in offcuts if len(end)),
        float(cut.lost.sum()),
    )
