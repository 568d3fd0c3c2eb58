"""A face as rows of light and dark, and how far it repeats itself."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from ...geometry.faces import Face
from ...solid import Floats

MOST = 96
"""Samples along the longer side of a face."""

FIELDS = 3
"""A face is divided into 3 × 3 fields to weigh light against dark."""

LEAST_SHARED = 0.25
"""A copy must lie over at least this share of the face to count as a repeat."""

Bools = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Raster:
    """A face sampled every ``step`` mm, row by row from the far side: lightness 0 to 1 (h, w), NaN where no wood is."""

    light: Floats
    step: float


@dataclass(frozen=True, slots=True)
class Repeat:
    """How alike a face is to a copy of itself: correlation (−1 to 1), how the copy is turned, and where the stretch
    that repeats lies on the face and on the copy: left, top, width, height in mm."""

    alike: float
    turned: str
    here: tuple[float, float, float, float]
    there: tuple[float, float, float, float]


def raster_of(face: Face, light: Floats, columns: int = 0, step: float = 0.0) -> Raster:
    """Sample a face by the lightness (m,) of its polygons, so that its longer side gets MOST samples; or in so many
    ``columns``, ``step`` mm apart, of which those beyond its right edge stay NaN."""
    width, height = (float(v) for v in face.size)
    across = step or max(width, height) / MOST
    w, h = columns or max(round(width / across), 2), max(round(height / across), 1 if columns else 2)
    x, y = (np.arange(w) + 0.5) * (step or width / w), (np.arange(h) + 0.5) * height / h
    rings = [shapely.Polygon(face.points[a:b]) for a, b in zip(face.ptr, face.ptr[1:], strict=False)]
    places: Any = shapely.points(*np.meshgrid(x, y))
    point, polygon = shapely.STRtree(rings).query(places.ravel(), predicate="intersects")
    out = np.full(w * h, np.nan)
    out[point] = light[polygon]
    return Raster(out.reshape(h, w), across)


def field_means(raster: Raster) -> Floats:
    """Mean lightness of the face in FIELDS × FIELDS fields, NaN where a field has no wood."""
    rows, columns = (np.linspace(0, side, FIELDS + 1).round().astype(int) for side in raster.light.shape)
    parts = [
        [raster.light[rows[i] : rows[i + 1], columns[j] : columns[j + 1]] for j in range(FIELDS)] for i in range(FIELDS)
    ]
    return np.array([[np.nanmean(part) if np.isfinite(part).any() else np.nan for part in row] for row in parts])


TURNED: dict[str, tuple[int, int]] = {
    "as it lies": (1, 1), "left for right": (1, -1), "far for near": (-1, 1), "half a turn round": (-1, -1),
}  # fmt: skip
"""The copies a face is compared with: steps along rows and columns."""


def repetition(raster: Raster, least_shift: float) -> Repeat:
    """The stretch of a face that repeats most: the highest normalised correlation between the face and itself,
    shifted by ``least_shift`` mm or more along either side, or mirrored or turned and anywhere."""
    h, w = raster.light.shape
    best: Repeat | None = None
    copies = np.stack([raster.light[::down, ::right] for down, right in TURNED.values()])
    for (turned, (down, right)), alike in zip(TURNED.items(), correlations(raster.light, copies), strict=True):
        if (down, right) == (1, 1):
            shift_y, shift_x = np.ogrid[-h + 1 : h, -w + 1 : w]
            near = np.maximum(np.abs(shift_y), np.abs(shift_x)) * raster.step < least_shift
            alike = np.where(near, -np.inf, alike)
        at = np.unravel_index(int(np.argmax(np.round(alike, 9))), alike.shape)
        if np.isfinite(alike[at]) and (best is None or alike[at] > best.alike + 1e-9):
            dy, dx = int(at[0]) - h + 1, int(at[1]) - w + 1
            best = Repeat(float(alike[at]), turned, *_places(dy, dx, h, w, down, right, raster.step))
    if best is None:  # one tone all over: every copy is the face itself
        whole = 0.0, 0.0, w * raster.step, h * raster.step
        return Repeat(1.0, "as it lies", whole, whole)
    return best


def correlations(one: Floats, others: Floats, least: float = LEAST_SHARED) -> Floats:
    """Correlation of a picture (h, w) with each of k others laid over it at every shift, (k, 2h − 1, 2w − 1), each
    over what the two share; −inf where that is less than the share ``least`` of the picture, or neither changes. By
    Fourier transforms, as in Padfield, Masked object registration in the Fourier domain, 2012."""
    h, w = one.shape
    size = (2 * h, 2 * w)

    def spectra(values: Floats) -> NDArray[np.complex128]:
        """Of the values, their squares and where there are any: (3, …)."""
        filled = np.nan_to_num(values)
        return np.asarray(np.fft.rfft2(np.stack([filled, filled * filled, np.isfinite(values).astype(float)]), size))

    a, a2, mask_a = spectra(one)[:, None]
    b, b2, mask_b = np.conj(spectra(others))
    # sums over what is shared: how much that is, of either picture and its square, and of their product
    crossed = np.fft.irfft2(
        np.stack([mask_a * mask_b, a * mask_b, mask_a * b, a2 * mask_b, mask_a * b2, a * b]), size
    )  # fmt: skip
    crossed = np.roll(crossed, (h - 1, w - 1), axis=(-2, -1))[..., : 2 * h - 1, : 2 * w - 1]
    shared, sums = crossed[0], crossed[1:]
    enough = shared >= least * np.isfinite(one).sum() - 0.5
    mean_a, mean_b, square_a, square_b, product = sums / np.maximum(shared, 1.0)
    var_a, var_b = square_a - mean_a**2, square_b - mean_b**2
    flat = (var_a < 1e-9) | (var_b < 1e-9)
    out = (product - mean_a * mean_b) / np.sqrt(np.where(flat, 1.0, var_a * var_b))
    return np.where(enough & ~flat, out, -np.inf)


def _places(
    dy: int, dx: int, h: int, w: int, down: int, right: int, step: float
) -> tuple[tuple[float, float, float, float], tuple[float, float, float, float]]:
    """Where the shared stretch lies on the face, and where it lay on the copy before that was turned, mm."""
    top, left = max(dy, 0), max(dx, 0)
    tall, wide = h - abs(dy), w - abs(dx)
    first, second = max(-dy, 0), max(-dx, 0)
    if down < 0:
        first = h - first - tall
    if right < 0:
        second = w - second - wide
    here = (left * step, top * step, wide * step, tall * step)
    return here, (second * step, first * step, wide * step, tall * step)
