"""The scores of a face. A new one is one function here and one line in ``SCORES``; docs/scores.md has the formulas,
each with an example worked out by hand."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .disorder import disorder
from .model import Score, Scored, Shown
from .raster import FIELDS, field_means, raster_of, repetition

ANGLES = 12
"""Classes of 15° that joint angles are sorted into."""


def same_wood(on: Scored) -> Score:
    """Length of joints between the same wood, as a share of all joints."""
    joints = on.seams.joints()
    alike = np.array([on.woods[a] == on.woods[b] for a, b in joints.pair], bool)
    total = float(joints.lengths.sum())
    share = float(joints.lengths[alike].sum()) / total if total else 0.0
    return Score(
        "same-wood", "Same wood touching", "share of all joints where one wood meets itself", share,
        f"{share * 100:.0f} %", Shown(joints.ends[alike]),
    )  # fmt: skip


def largest_patch(on: Scored) -> Score:
    """The largest area of one wood that no other divides, as a share of the face."""
    one, other = on.seams.pair.T if len(on.seams.pair) else (np.zeros(0, int), np.zeros(0, int))
    woods = np.array(on.woods)
    group = on.groups(woods[one] == woods[other])
    total = np.bincount(group, on.areas, minlength=len(woods))
    largest = int(np.argmax(np.round(total, 6)))
    share = float(total[largest] / on.areas.sum())
    mine = tuple(np.flatnonzero(group == largest).tolist())
    return Score(
        "patch", "Largest patch", "share of the face in the largest area of one wood", share, f"{share * 100:.0f} %",
        Shown(polygons=mine),
    )  # fmt: skip


def repeats(on: Scored) -> Score:
    """How alike the face is to itself, shifted, mirrored or turned."""
    sides = np.sqrt(_blocks(on))
    found = repetition(raster_of(on.face, on.light), float(np.median(sides)))
    value = max(found.alike, 0.0)
    how = {"as it lies": "shifted"}.get(found.turned, found.turned)
    return Score(
        "repetition", "Repetition", "how alike the face is to a shifted or mirrored copy of itself; 100 % is a repeat",
        value, f"{value * 100:.0f} %, {how}", Shown(boxes=(found.here, found.there)),
    )  # fmt: skip


def sizes(on: Scored) -> Score:
    """Variety of cell size: standard deviation over mean of the blocks' sides (root of the area). The smallest and the
    largest block are shown."""
    group, total = _grouped(on)
    there = total > 0
    sides = np.sqrt(total[there])
    value = float(sides.std() / sides.mean())
    ends = int(np.argmin(np.where(there, total.round(6), np.inf))), int(np.argmax(total.round(6)))
    mine = tuple(np.flatnonzero(np.isin(group, ends)).tolist()) if value > 1e-9 else ()
    return Score(
        "sizes", "Variety of size", "spread of the blocks' sides around their mean; 0 % where all are alike", value,
        f"{value * 100:.0f} %", Shown(polygons=mine),
    )  # fmt: skip


def angles(on: Scored) -> Score:
    """Variety of joint angle: entropy of the joints' length over classes of 15°, 0 for one angle, 1 for all alike."""
    joints = on.seams.joints()
    kind = np.round(joints.angles / (180 / ANGLES)).astype(int) % ANGLES
    share = np.bincount(kind, joints.lengths, minlength=ANGLES)
    share = share / share.sum() if share.sum() else share
    filled = share[share > 0]
    value = float(-(filled * np.log(filled)).sum() / np.log(ANGLES)) + 0.0
    commonest = kind == int(np.argmax(np.round(share, 9)))
    return Score(
        "angles", "Variety of angle", "how evenly joints run in all directions; 0 % where all run one way", value,
        f"{value * 100:.0f} %", Shown(joints.ends[commonest]),
    )  # fmt: skip


def balance(on: Scored) -> Score:
    """Light against dark over the face: the lightest of 3 × 3 fields less the darkest, in L*."""
    mean = field_means(raster_of(on.face, on.light))
    value = float(np.nanmax(mean) - np.nanmin(mean))
    ends = [np.unravel_index(int(pick(mean)), mean.shape) for pick in (np.nanargmax, np.nanargmin)]
    wide, high = (float(v) / FIELDS for v in on.face.size)
    boxes = tuple((int(j) * wide, int(i) * high, wide, high) for i, j in ends)
    return Score(
        "balance", "Light against dark", "the lightest ninth of the face less the darkest, in lightness 0 to 100",
        value, f"{value * 100:.0f}", Shown(boxes=boxes),
    )  # fmt: skip


def disorder_of(on: Scored) -> float:
    """How little order the face has as a whole, 0 to 1."""
    sides = np.sqrt(_blocks(on))
    return disorder(raster_of(on.face, on.light), len(sides), float(np.median(sides)))


SCORES: dict[str, Callable[[Scored], Score]] = {
    "same-wood": same_wood, "patch": largest_patch, "repetition": repeats, "sizes": sizes, "angles": angles,
    "balance": balance,
}  # fmt: skip
"""Every score by its key, in the order they are shown."""


def _blocks(on: Scored) -> np.ndarray:
    """Area of each block as the eye sees it, mm²."""
    total = _grouped(on)[1]
    return np.asarray(total[total > 0])


def _grouped(on: Scored) -> tuple[np.ndarray, np.ndarray]:
    """A number for each polygon, the same for those of one block, and the area by number, mm²."""
    group = on.groups(on.seams.inner)
    return group, np.bincount(group, on.areas)
