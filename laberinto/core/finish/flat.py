"""Flattening under a router on a sled: tracks side by side, pass below pass, and what they leave."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from ..shop import Shop


@dataclass(frozen=True, slots=True)
class Tracks:
    """One face: tracks side by side, passes one below the other, how high ridges stand between tracks (mm), and how
    long the bit runs (minutes)."""

    side_by_side: int
    passes: int
    ridge: float
    minutes: float


def router_minutes(width: float, length: float, off: Iterable[float], shop: Shop) -> float:
    """How long the bit runs over all faces of a piece, ``off`` mm off each."""
    return sum(tracks(width, length, by, shop).minutes for by in off if by > 0)


def tracks(width: float, length: float, off: float, shop: Shop) -> Tracks:
    """To take ``off`` mm off a face of this size (mm). The sled runs along the longer side, from beyond one end to
    beyond the other.

    A bit whose spindle leans by an angle α cuts a flat that leans as much, so that from one track to the next, s apart,
    a ridge of s · tan α stands.
    """
    short, long = sorted((width, length))
    count = 1 + max(math.ceil((short - shop.sled_bit) / shop.sled_step - 1e-9), 0)
    passes = max(math.ceil(off / shop.sled_pass - 1e-9), 1)
    metres = passes * count * (long + shop.sled_bit) / 1000
    return Tracks(count, passes, shop.sled_step * math.tan(math.radians(shop.sled_lean)), metres / shop.sled_feed)
