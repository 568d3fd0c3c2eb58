"""How little order a face has as a whole: near 0 for whatever repeats, near 1 for a true shuffle, between for mirrored
halves. docs/scores.md has the formula and faces whose order nobody would dispute."""

from __future__ import annotations

import numpy as np

from ...solid import Floats, Ints
from .raster import TURNED, Raster, correlations

SHARED = 0.4
"""A copy must lie over at least this share of the face: of a small overlap chance alone makes a likeness."""

CHANCE = 2.6
"""Standard deviations by which the likest of all copies of a shuffled face is expected to be alike."""

MIRRORED = 0.5
"""A face that is its own mirror image has half of its order so."""


def disorder(raster: Raster, blocks: int, side: float) -> float:
    """Of a face of so many ``blocks`` with a median ``side`` (mm), 0 to 1: (1 − what repeats) × (1 − what neighbours
    tell of each other)."""
    repeats = max(_alike(raster, blocks, side))
    return float((1 - repeats) * (1 - _told(raster, blocks, side)))


def _alike(raster: Raster, blocks: int, side: float) -> tuple[float, float]:
    """How alike the face is to a shifted copy of itself, and half of how alike to a mirrored or turned one: the
    correlation beyond what chance gives among so many blocks, 0 to 1."""
    h, w = raster.light.shape
    copies = np.stack([raster.light[::down, ::right] for down, right in TURNED.values()])
    down, right = np.abs(np.ogrid[-h + 1 : h, -w + 1 : w][0]), np.abs(np.ogrid[-h + 1 : h, -w + 1 : w][1])
    shared = (h - down) * (w - right) / (h * w)
    chance = np.minimum(CHANCE / np.sqrt(np.maximum(blocks * shared, 1.0)), 0.95)
    found = (correlations(raster.light, copies, SHARED) - chance) / (1 - chance)
    away = np.maximum(down, right) * raster.step >= side * 0.99
    shifted = max(float(np.where(away, found[0], 0.0).max()), 0.0)
    turned = max(float(found[1:].max()), 0.0)
    if not np.isfinite(found).any():  # one tone all over
        shifted = 1.0
    return min(shifted, 1.0), MIRRORED * min(turned, 1.0)


def _told(raster: Raster, blocks: int, side: float) -> float:
    """How much a block's wood tells of its neighbour's: mutual information over the lesser entropy, the mean of
    neighbours across and along, less what chance makes of so few blocks (Miller, 1955)."""
    there = np.isfinite(raster.light)
    kinds, flat = np.unique(np.round(raster.light[there], 6), return_inverse=True)
    kind = np.full(raster.light.shape, -1)
    kind[there] = flat.ravel()
    step = max(round(side / raster.step), 1)
    pairs = ((kind[:, :-step], kind[:, step:]), (kind[:-step], kind[step:]))
    return float(np.mean([_shared_information(one, other, len(kinds), blocks) for one, other in pairs]))


def _shared_information(one: Ints, other: Ints, kinds: int, blocks: int) -> float:
    both = (one >= 0) & (other >= 0)
    joint = np.bincount((one * kinds + other)[both], minlength=kinds * kinds).reshape(kinds, kinds)
    if not joint.any():
        return 0.0
    apart = _entropy(joint.sum(axis=1)), _entropy(joint.sum(axis=0))
    if min(apart) < 1e-9:
        return 1.0
    shared = sum(apart) - _entropy(joint.ravel()) - (kinds - 1) ** 2 / (2 * blocks)
    return min(max(shared, 0.0) / min(apart), 1.0)


def _entropy(counts: Ints) -> float:
    share: Floats = counts[counts > 0] / counts.sum()
    return float(-(share * np.log(share)).sum())
