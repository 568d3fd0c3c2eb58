"""An image reduced to woods: each cell takes the wood whose lightness is nearest to the image's there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..woods import Wood
from ..woods.tones import lightness
from .grid import LETTERS


def from_pixels(
    rgb: NDArray[np.uint8],
    rows: int,
    columns: int,
    woods: Sequence[Wood],
    finish: str = "oiled",
    *,
    stretch: bool = True,
) -> tuple[str, ...]:
    """Rows of letters for an image (h, w, 3) of sRGB values, laid over a grid. With ``stretch`` its darkest and
    lightest cells are matched to the darkest and lightest wood."""
    h, w, _ = rgb.shape
    # luminance by IEC 61966-2-1, and from it lightness as in core/tones.py
    linear = np.where(rgb / 255 > 0.04045, ((rgb / 255 + 0.055) / 1.055) ** 2.4, rgb / 255 / 12.92)
    y = linear @ np.array([0.2126, 0.7152, 0.0722])
    grey = np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, y * 24389 / 27)
    across, down = (np.linspace(0, side, n + 1).round().astype(int) for side, n in ((w, columns), (h, rows)))
    cells = np.array(
        [
            [_mean(grey, down[i], down[i + 1], across[j], across[j + 1]) for j in range(columns)]
            for i in range(rows)
        ]
    )  # fmt: skip
    tones = np.array([lightness(wood.colour(finish)) for wood in woods])
    low, high = float(cells.min()), float(cells.max())
    if stretch and high - low > 1:
        cells = tones.min() + (cells - low) / (high - low) * (tones.max() - tones.min())
    nearest = np.abs(cells[:, :, None] - tones).argmin(axis=2)
    return tuple("".join(LETTERS[k] for k in row) for row in nearest)


def _mean(grey: NDArray[np.float64], top: int, bottom: int, left: int, right: int) -> float:
    return float(grey[top : max(bottom, top + 1), left : max(right, left + 1)].mean())
