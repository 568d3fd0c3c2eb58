"""Wood as a bitmap: rings, pores and rays of one strip, in the strip's own coordinates.

The picture is a section through one solid: rings are cylinders about the heart, so end grain and the
sides of a strip agree. Everything irregular comes from the rings' seed; the same strip always looks the
same, wherever it is cut, and no two strips look alike.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from laberinto.core.errors import InputError
from laberinto.core.woods import Porosity, Wood
from laberinto.core.woods.strips import Rings

from . import looks

Floats = NDArray[np.floating[Any]]

Image.init()  # looks for its formats now, not when the first picture is asked for

MOST_PIXELS = 3_000_000

CONTRAST = 0.85
"""How dark latewood of full ring contrast is drawn."""


SAPWOOD = 0.62
"""How far sapwood is from the heartwood's colour towards cream."""


@dataclass(frozen=True, slots=True)
class Patch:
    """A rectangle of one section of a strip: corner and size in mm in the section's two coordinates.

    ``section`` is "end" (x, z), "flat" (x, y) or "side" (z, y); ``depth`` is the third coordinate in mm
    and ``ppm`` the resolution in pixels a mm.
    """

    section: str
    depth: float
    left: float
    top: float
    width: float
    height: float
    ppm: float


@dataclass(frozen=True, slots=True)
class _Look:
    """How a ring structure shows: pores a mm² early and late, their radius in mm, ray strength and width."""

    early: float
    late: float
    radius: float
    depth: float
    rays: float
    ray_width: float


_LOOKS = {
    Porosity.RING: _Look(early=7.0, late=1.6, radius=0.135, depth=0.42, rays=0.05, ray_width=0.35),
    Porosity.SEMI_RING: _Look(early=4.0, late=1.2, radius=0.10, depth=0.38, rays=0.025, ray_width=0.2),
    Porosity.DIFFUSE: _Look(early=9.0, late=7.0, radius=0.05, depth=0.16, rays=0.03, ray_width=0.22),
    Porosity.NONE: _Look(early=0.0, late=0.0, radius=0.05, depth=0.0, rays=0.015, ray_width=0.15),
}


def _noise(seed: int, u: Floats, v: Floats) -> Floats:
    """Smooth value noise from −1 to 1 at (u, v), one knot a unit, repeating every 256."""
    table = _table()
    iu, iv = np.floor(u).astype(np.int32), np.floor(v).astype(np.int32)
    fu, fv = u - iu, v - iv
    fu, fv = fu * fu * (3 - 2 * fu), fv * fv * (3 - 2 * fv)
    right, down = _place(seed)
    iu, iv = iu + right, iv + down
    row, next_row, col, next_col = (iu & 255) * 256, ((iu + 1) & 255) * 256, iv & 255, (iv + 1) & 255
    a, b = table.take(row + col), table.take(next_row + col)
    c, d = table.take(row + next_col), table.take(next_row + next_col)
    top = a + (b - a) * fu
    return np.asarray(top + (c + (d - c) * fu - top) * fv)


def _grid(seed: int, u: Floats, v: Floats) -> Floats:
    """The same noise where ``u`` (columns) and ``v`` (rows) are lines of a grid: as (rows, columns). What lies between
    four knots is a sum over them, column by column and row by row, so all of it is two products of matrices."""
    right, down = _place(seed)
    (first, across), (top, along) = _weights(u), _weights(v)
    knots = _table()[np.ix_((np.arange(across.shape[1]) + first + right) & 255,
                            (np.arange(along.shape[1]) + top + down) & 255)]  # fmt: skip
    return np.asarray(along @ (across @ knots).T)


def _weights(u: Floats) -> tuple[int, Floats]:
    """The first knot, and how much (len(u), knots) of each is seen at each of ``u``."""
    whole = np.floor(u).astype(np.int64)
    share = (u - whole).astype(np.float32)
    share *= share * (3 - 2 * share)
    first = int(whole.min())
    weights = np.zeros((len(u), int(whole.max()) - first + 2), np.float32)
    line, at = np.arange(len(u)), whole - first
    weights[line, at], weights[line, at + 1] = 1 - share, share
    return first, weights


@lru_cache(maxsize=1)
def _table() -> Floats:
    """Chance for all noise; each seed begins at a place of its own."""
    return np.random.default_rng(7).uniform(-1, 1, (256, 256)).astype(np.float32)


def _place(seed: int) -> tuple[int, int]:
    """Where in the table a seed begins: the seed times an odd number near 2³² over the golden ratio, which sets seeds
    that follow each other far apart."""
    mixed = seed * 0x9E3779B1 & 0xFFFFFFFF
    return mixed >> 24, mixed >> 16 & 255


def _scatter(seed: int, a: NDArray[np.int64], b: NDArray[np.int64]) -> Floats:
    """A number from −1 to 1 for each point of a grid, whose lines are given so that they broadcast."""
    right, down = _place(seed)
    return np.asarray(_table().take(((a + right) & 255) * 256 + ((b + down) & 255)))


def _smooth(low: float, high: float, x: Floats) -> Floats:
    t = np.clip((x - low) / (high - low), 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


@dataclass(frozen=True, slots=True)
class _Rings:
    """Ring borders of irregular width out to ``reach`` mm from the heart."""

    borders: Floats
    shade: Floats

    @classmethod
    def grow(cls, rings: Rings, reach: float) -> _Rings:
        rng = np.random.default_rng(rings.seed)
        n = int(600 / rings.spacing)
        # good and bad years come in runs
        years = rng.normal(0, 1, n + 8)
        runs = np.convolve(years, np.ones(5) / 5**0.5, mode="valid")[:n]
        widths = rings.spacing * np.clip(1 + 0.16 * rng.normal(0, 1, n) + 0.2 * runs, 0.35, 2.2)
        shade = rng.normal(0, 1, n + 2)
        borders = np.concatenate([[0.0], np.cumsum(widths)])
        last = int(np.searchsorted(borders, reach)) + 2
        return cls(borders[: last + 1].astype(np.float32), shade.astype(np.float32))

    def at(self, r: Floats) -> tuple[NDArray[np.int64], Floats]:
        """Number of the ring at radius ``r`` and how far through it, 0 early to 1 late."""
        k = np.clip(np.searchsorted(self.borders, r, side="right") - 1, 0, len(self.borders) - 2)
        return k, (r - self.borders[k]) / (self.borders[k + 1] - self.borders[k])


def _latewood(porosity: Porosity, frac: Floats) -> Floats:
    """Darkness 0 to 1 through a ring."""
    if porosity is Porosity.RING:
        return np.asarray(0.85 * _smooth(0.18, 0.6, frac) + 0.15 * frac)
    if porosity is Porosity.SEMI_RING:
        return np.asarray(0.25 * frac + 0.75 * frac**2.2)
    if porosity is Porosity.NONE:
        return np.asarray(frac**3)
    return np.asarray(0.28 * frac + 0.72 * _smooth(0.8, 1.0, frac))


def paint(
    wood: Wood, rings: Rings, patch: Patch, finish: str, size: tuple[int, int] | None = None
) -> NDArray[np.uint8]:
    """The patch as (rows, columns, 3) sRGB; row 0 is the low end of the section's second coordinate. ``size`` is
    columns and rows where they are not what the patch's own resolution gives.

    Raises InputError for a patch of more than MOST_PIXELS.
    """
    columns, rows = size or (max(round(patch.width * patch.ppm), 2), max(round(patch.height * patch.ppm), 2))
    if columns * rows > MOST_PIXELS:
        raise InputError(f"A patch of {columns} × {rows} pixels is too large; at most {MOST_PIXELS} in all.")
    a = (patch.left + (np.arange(columns) + 0.5) * patch.width / columns).astype(np.float32)
    b = (patch.top + (np.arange(rows) + 0.5) * patch.height / rows).astype(np.float32)
    seed = rings.seed
    if looks.of(wood, patch.section) is not None:
        return looks.sampled(wood, patch.section, a, b, seed, finish)
    look = _LOOKS[wood.porosity]
    end = patch.section == "end"
    x, z = _ring_plane(patch, a, b, seed)

    def noise(chance: int, mm: float) -> Floats:
        return _grid(chance, a / mm, b / mm) if end else _noise(chance, x / mm, z / mm)

    dx, dz = x - np.float32(rings.heart[0]), z - np.float32(rings.heart[1])
    r0 = np.hypot(dx, dz)
    r = np.maximum(r0 + np.float32(rings.spacing) * (0.8 * noise(seed, 15) + 0.11 * noise(seed + 1, 3.5)), 0.0)
    grown = _Rings.grow(rings, float(r.max()) + rings.spacing)
    k, frac = grown.at(r)

    dark = CONTRAST * wood.ring * _latewood(wood.porosity, frac)
    dark += wood.ring * 0.10 * grown.shade[k] + 0.035 * noise(seed + 2, 11)
    grain = np.random.default_rng(seed + 9).standard_normal((rows, columns), np.float32)
    if end:
        ray = _noise(seed + 3, _angle(dx, dz, rings) * np.maximum(r0, 6) / np.float32(look.ray_width), r0 / 9)
        dark += look.rays * np.where(ray > 0.25, -(ray - 0.25) * 1.4, 0.25 * ray)
        dark += 0.018 * grain
        dark = np.maximum(dark, _pores(patch, columns, rows, frac, look, seed) + 0.4 * dark)
    else:
        dark += 0.05 * _grid(seed + 4, a * 5.2, b / 22) + 0.03 * _grid(seed + 5, a * 13, b / 9)
        streak = _grid(seed + 6, a / (look.radius * 2.6), b / 5.5)
        share = np.where(frac < 0.35, look.early, look.late) / 9.0
        dark += np.where(streak > 0.75 - 0.45 * share, look.depth * 0.5 * (streak - 0.3), 0.0)
        dark += 0.014 * grain
    pale = None
    if rings.sapwood is not None:
        # its border follows a ring loosely, and is sharp
        pale = _smooth(-0.35, 0.35, r - rings.sapwood - 0.5 * noise(seed + 10, 9))
    return _colour(wood, finish, dark, noise(seed + 7, 17), pale)


def _angle(dx: Floats, dz: Floats, rings: Rings) -> Floats:
    """Angle about the heart, with its jump on the far side of the tree from the strip."""
    towards = np.arctan2(-rings.heart[1], -rings.heart[0])
    return np.asarray(np.mod(np.arctan2(dz, dx) - np.float32(towards - np.pi), np.float32(2 * np.pi)))


def _ring_plane(patch: Patch, a: Floats, b: Floats, seed: int) -> tuple[Floats, Floats]:
    """Where each pixel of columns ``a`` and rows ``b`` lies across the fibres, (x, z) in mm; what is the same all along
    a row or column is one number. Long grain waves a little along its length."""
    if patch.section == "end":
        return a[None, :], b[:, None]
    sway = a[None, :] + np.float32(0.5) * _noise(seed + 8, b / 60, np.zeros_like(b))[:, None]
    depth = np.full((1, 1), patch.depth, np.float32)
    return (sway, depth) if patch.section == "flat" else (depth, sway)


def _pores(patch: Patch, columns: int, rows: int, frac: Floats, look: _Look, seed: int) -> Floats:
    """Darkness of the vessels cut across: points on a jittered grid, more of them in early wood."""
    if look.early <= 0:
        return np.zeros((rows, columns))
    # as far as the largest pore reaches from the pixel its middle is in; that much more room all round
    ppm = columns / patch.width
    edge = max(int(np.ceil(1.35 * look.radius * ppm)), 1)
    dark = np.zeros((rows + 2 * edge, columns + 2 * edge))
    pitch = (1 / look.early) ** 0.5
    ia = np.arange(np.floor(patch.left / pitch), np.ceil((patch.left + patch.width) / pitch)).astype(np.int64)
    ib = np.arange(np.floor(patch.top / pitch), np.ceil((patch.top + patch.height) / pitch)).astype(np.int64)
    ga, gb = ia[None, :], ib[:, None]
    jitter_a, jitter_b, chance, size = (_scatter(seed + k, ga, gb) for k in (11, 12, 13, 14))
    px = ((ga + 0.5 + 0.48 * jitter_a) * pitch - patch.left) * columns / patch.width
    py = ((gb + 0.5 + 0.48 * jitter_b) * pitch - patch.top) * rows / patch.height
    inside = (px >= 0) & (px < columns) & (py >= 0) & (py < rows)
    px, py, chance, size = px[inside], py[inside], chance[inside], size[inside]
    early = frac[py.astype(np.int64), px.astype(np.int64)]
    share = look.late / look.early + (1 - look.late / look.early) * (1 - _smooth(0.22, 0.42, early))
    here = np.flatnonzero(chance * 0.5 + 0.5 < share)
    px, py, early, size = px[here], py[here], early[here], size[here]
    if not len(here):
        return dark[edge:-edge, edge:-edge]
    radius = look.radius * (1 + 0.35 * size) * np.where(early < 0.4, 1.0, 0.6) * ppm
    strength = np.minimum(radius / 0.5, 1) * look.depth
    column, row = px.astype(np.int64), py.astype(np.int64)
    begin = (row + edge) * dark.shape[1] + column + edge
    reach, flat, near = radius + 0.5, dark.reshape(-1), range(-edge, edge + 1)
    across = [(dx, (column + dx + 0.5 - px) ** 2) for dx in near]
    for dy in near:
        up = (row + dy + 0.5 - py) ** 2
        for dx, side in across:
            cover = reach - np.sqrt(side + up)
            seen = np.flatnonzero(cover > 0)
            spot = begin[seen] + (dy * dark.shape[1] + dx)
            np.maximum.at(flat, spot, np.minimum(cover[seen], 1.0) * strength[seen])
    return dark[edge:-edge, edge:-edge]


def _colour(wood: Wood, finish: str, dark: Floats, hue: Floats, pale: Floats | None) -> NDArray[np.uint8]:
    """Darkness over the wood's colour, or where it is ``pale`` over that of its sapwood; shadows run warmer, as light
    lost in wood does."""
    base = np.array([int(wood.colour(finish)[i : i + 2], 16) for i in (1, 3, 5)], float) / 255
    depth = 1.18 if finish == "oiled" else 1.0
    mean = CONTRAST * wood.ring * 0.35  # so that the picture as a whole keeps the wood's colour
    d = np.clip((dark - mean) * depth, -0.25, 0.85).astype(np.float32)
    sap = base + SAPWOOD * (np.array([0.90, 0.80, 0.62]) - base)
    rgb = np.empty((*d.shape, 3), np.uint8)
    for channel, (absorb, warm) in enumerate(((0.86, 1.0), (1.04, 0.2), (1.16, -0.8))):
        light = np.exp(d * np.float32(-absorb * 1.15)) * (1 + np.float32(0.02 * warm) * hue) * 255
        paler = float(sap[channel] - base[channel])
        light = light * (float(base[channel]) if pale is None else float(base[channel]) + pale * paler)
        rgb[..., channel] = np.clip(light + 0.5, 0, 255)
    return rgb


@lru_cache(maxsize=512)
def webp(wood: Wood, rings: Rings, patch: Patch, finish: str) -> bytes:
    """The patch as a WebP file."""
    out = BytesIO()
    Image.fromarray(paint(wood, rings, patch, finish)).save(out, "WEBP", quality=88, method=2)
    return out.getvalue()
