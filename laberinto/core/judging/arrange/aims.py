"""What an arrangement is to be good at. Neighbour aims depend on one joint at a time and can be proven; face aims
depend on the whole face and are searched for."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from ...solid import Floats
from ..scores.raster import Raster, field_means, repetition
from .edges import Edges


class Wish(StrEnum):
    """What is wanted of an aim."""

    IGNORE = "ignore"
    AVOID = "avoid"
    SEEK = "seek"


@dataclass(frozen=True, slots=True)
class Aim:
    """One aim: its name, and the words for each wish."""

    key: str
    label: str
    words: dict[Wish, str]


@dataclass(frozen=True, slots=True)
class NeighbourAim(Aim):
    """``cost`` gives, for slices in all lies one behind the other and so far to the right of each other (mm), 0 (none
    of it) to 1 (all of it): (n, 4, n, 4)."""

    cost: Callable[[Edges, float], Floats]


@dataclass(frozen=True, slots=True)
class FaceAim(Aim):
    """``measure`` gives 0 (none of it) to 1 for a face as a raster and the smallest shift that counts, mm."""

    measure: Callable[[Raster, float], float]


def _joints_met(edges: Edges, shift: float) -> Floats:
    most = max(float(joints.sum(axis=2).max(initial=0)) for joints in (edges.far_joints, edges.near_joints))
    return np.asarray(edges.joints_met(shift) / max(most, 1.0))


def _repeats(raster: Raster, least_shift: float) -> float:
    return max(repetition(raster, least_shift).alike, 0.0)


def _uneven(raster: Raster, _least_shift: float) -> float:
    mean = field_means(raster)
    return float(np.nanmax(mean) - np.nanmin(mean))


NEIGHBOURS: dict[str, NeighbourAim] = {
    aim.key: aim
    for aim in (
        NeighbourAim(
            "woods", "Same wood at the joints",
            {Wish.IGNORE: "never mind", Wish.AVOID: "keep apart", Wish.SEEK: "let bands meet"},
            lambda edges, shift: edges.same_wood(shift) / max(edges.length, 1.0),
        ),
        NeighbourAim(
            "joints", "Joints from row to row",
            {Wish.IGNORE: "never mind", Wish.AVOID: "stagger", Wish.SEEK: "let corners meet"}, _joints_met,
        ),
    )
}  # fmt: skip
"""Aims of neighbours, by key."""

FACES: dict[str, FaceAim] = {
    aim.key: aim
    for aim in (
        FaceAim(
            "repetition", "Repeats and mirrors",
            {Wish.IGNORE: "never mind", Wish.AVOID: "no visible repeat", Wish.SEEK: "mirror and repeat"}, _repeats,
        ),
        FaceAim(
            "balance", "Light against dark",
            {Wish.IGNORE: "never mind", Wish.AVOID: "even over the face", Wish.SEEK: "gather the light"}, _uneven,
        ),
    )
}  # fmt: skip
"""Aims of the whole face, by key."""

Wishes = dict[str, Wish]


def wanted(aims: Iterable[str], wishes: Wishes) -> bool:
    """Whether anything is wished of some aims."""
    return any(wishes.get(key, Wish.IGNORE) is not Wish.IGNORE for key in aims)


def neighbour_cost(edges: Edges, wishes: Wishes, shift: float = 0.0) -> Floats:
    """What each joint costs under the wishes where the nearer slice is glued ``shift`` mm farther to the right,
    (n, 4, n, 4), 0 or more."""
    n = len(edges)
    wished = (_under(wishes[key], aim.cost(edges, shift)) for key, aim in NEIGHBOURS.items() if wanted([key], wishes))
    return np.asarray(sum(wished, np.zeros((n, 4, n, 4))))


def face_cost(raster: Raster, least_shift: float, wishes: Wishes) -> float:
    """What a face costs under the wishes."""
    wished = (
        _under(wishes[key], aim.measure(raster, least_shift)) for key, aim in FACES.items() if wanted([key], wishes)
    )
    return float(sum(wished))


def _under(wish: Wish, cost: Any) -> Any:
    return cost if wish is Wish.AVOID else 1.0 - cost
