"""Flattening, by method: passes one below the other, tracks side by side, what they leave, and how long it takes.

The figures of a machine are the shop's; the sums are geometry.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..shop import Shop
from ..stages import Method

BY_ITSELF = frozenset({Method.CNC})
"""What runs by itself and leaves the hands free; with all else hands are busy as long as it runs."""


@dataclass(frozen=True, slots=True)
class Passes:
    """One face: passes of at most ``bite`` mm one below the other, ``side_by_side`` tracks, how high ridges stand
    between tracks (mm), and how long it takes (minutes)."""

    passes: int
    bite: float
    side_by_side: int
    ridge: float
    minutes: float


def _count(off: float, bite: float) -> int:
    return max(math.ceil(off / bite - 1e-9), 1)


def _beside(short: float, tool: float, step: float) -> int:
    """Tracks ``step`` apart of a tool this wide, over a face."""
    return 1 + max(math.ceil((short - tool) / step - 1e-9), 0)


def tracked(
    width: float, length: float, off: float, *, tool: float, step: float, bite: float, feed: float, lean: float
) -> Passes:
    """A rotating tool (diameter, mm) led along the longer side in tracks ``step`` mm apart, from beyond one end to
    beyond the other, at ``feed`` m/min.

    A spindle that leans by an angle α (``lean``, degrees) cuts a flat that leans as much, so that from one track to the
    next, s apart, a ridge of s · tan α stands.
    """
    short, long = sorted((width, length))
    count, passes = _beside(short, tool, step), _count(off, bite)
    metres = passes * count * (long + tool) / 1000
    return Passes(passes, bite, count, step * math.tan(math.radians(lean)), metres / feed)


def _sled(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    return tracked(width, length, off, tool=shop.sled_bit, step=shop.sled_step, bite=shop.sled_pass,
                   feed=shop.sled_feed, lean=shop.sled_lean)  # fmt: skip


def _cnc(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    return tracked(width, length, off, tool=shop.cnc_bit, step=shop.cnc_step, bite=shop.cnc_pass,
                   feed=shop.cnc_feed, lean=shop.cnc_lean)  # fmt: skip


def _through(length: float, off: float, bite: float, feed: float, between: float) -> Passes:
    """Through a machine as wide as the piece: each pass its length at the feed, and the way round to the infeed."""
    passes = _count(off, bite)
    return Passes(passes, bite, 1, 0.0, passes * (length / 1000 / feed + between))


def _planer(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    bite = shop.planer_hair if on_end else shop.planer_bite
    return _through(length, off, bite, shop.planer_feed, shop.between_passes)


def _drum(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    return _through(length, off, shop.drum_bite, shop.drum_feed, shop.between_passes)


def _belt(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    return Passes(1, off, 1, 0.0, shop.belt_minutes * width * length / 1e4 * off)


def _plane(width: float, length: float, off: float, shop: Shop, on_end: bool) -> Passes:
    """Strokes over the shorter side, so that the iron stays on the wood; each takes one shaving as wide as the iron."""
    _, long = sorted((width, length))
    count, passes = _beside(long, shop.plane_iron, shop.plane_iron), _count(off, shop.plane_shaving)
    return Passes(passes, shop.plane_shaving, count, 0.0, passes * count / shop.plane_strokes)


_WAYS: dict[Method, Callable[[float, float, float, Shop, bool], Passes]] = {
    Method.PLANER: _planer, Method.DRUM_SANDER: _drum, Method.ROUTER_SLED: _sled, Method.BELT_SANDER: _belt,
    Method.HAND_PLANE: _plane, Method.CNC: _cnc,
}  # fmt: skip


def passes(method: Method, width: float, length: float, off: float, shop: Shop, *, on_end: bool = True) -> Passes:
    """To take ``off`` mm off one face of this size (mm)."""
    return _WAYS[method](width, length, off, shop, on_end)


def minutes(method: Method, width: float, length: float, off: Iterable[float], shop: Shop, *, on_end: bool) -> float:
    """How long it runs over all faces of a piece, ``off`` mm off each."""
    return sum(passes(method, width, length, by, shop, on_end=on_end).minutes for by in off if by > 0)
