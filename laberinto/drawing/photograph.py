"""A photo of wood made into a tile: straightened from four corners, evened in light, and repeating without a seam."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Pixels = NDArray[np.uint8]
Point = tuple[float, float]

MOST_TILE = 768
"""Longest side of a tile, pixels."""

COARSE = 48
"""The lamp is looked for in a picture so many pixels wide and high."""


def perspective(seen: Sequence[Point], source: Sequence[Point]) -> tuple[float, ...]:
    """The eight numbers (as an image transform takes them) of the perspective that carries four points of the picture
    that is wanted back to those of its source. Raises ValueError where three of them lie in a line."""
    rows, wanted = [], []
    for (x, y), (u, v) in zip(seen, source, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        wanted += [u, v]
    matrix = np.array(rows, float)
    if np.linalg.cond(matrix) > 1e12:
        raise ValueError("three of the corners lie in a line")
    return tuple(np.linalg.solve(matrix, np.array(wanted, float)).tolist())


def straightened(photo: Image.Image, corners: Sequence[Point], size: tuple[int, int]) -> Image.Image:
    """The part of a photo between four corners (shares of its width and height: upper left, upper right, lower right,
    lower left), seen square on, so many pixels wide and high. Raises ValueError for corners that span no area."""
    points = [(x * photo.width, y * photo.height) for x, y in corners]
    around = np.array(points)
    one, next_ = np.roll(around, -1, 0) - around, np.roll(around, -2, 0) - np.roll(around, -1, 0)
    turns = one[:, 0] * next_[:, 1] - one[:, 1] * next_[:, 0]
    if not (np.all(turns > 1) or np.all(turns < -1)):
        raise ValueError("the corners cross each other, or lie in a line")
    wide, high = size
    back = perspective(((0, 0), (wide, 0), (wide, high), (0, high)), points)
    return photo.convert("RGB").transform(size, Image.Transform.PERSPECTIVE, back, Image.Resampling.BICUBIC)


def evened(picture: Image.Image) -> Image.Image:
    """Without the lamp: what changes slowly over the picture, as a surface of second order fitted to each channel, is
    taken out, and the mean stays."""
    pixels = np.asarray(picture, np.float32)
    small = np.asarray(picture.resize((COARSE, COARSE), Image.Resampling.BOX), np.float32).reshape(-1, 3)
    fitted = np.linalg.lstsq(_surface(COARSE, COARSE), small, rcond=None)[0]
    light = (_surface(picture.width, picture.height) @ fitted).reshape(pixels.shape)
    even = pixels * (light.mean(axis=(0, 1)) / np.maximum(light, 1.0))
    return Image.fromarray(even.clip(0, 255).astype(np.uint8))


def _surface(wide: int, high: int) -> NDArray[np.float32]:
    """The terms of a surface of second order at the middle of each pixel, (pixels, 6)."""
    down, across = np.meshgrid((np.arange(high) + 0.5) / high, (np.arange(wide) + 0.5) / wide, indexing="ij")
    x, y = across.ravel(), down.ravel()
    return np.column_stack([np.ones_like(x), x, y, x * x, x * y, y * y]).astype(np.float32)


def tileable(picture: Image.Image) -> Pixels:
    """The picture faded into itself shifted by half, so that its edges meet. Where two parts are mixed the contrast
    that mixing takes is given back, which keeps rings as clear as they were."""
    pixels = np.asarray(picture, np.float32)
    high, wide = pixels.shape[:2]
    fade_x = np.sin(np.pi * (np.arange(wide) + 0.5) / wide) ** 2
    fade_y = np.sin(np.pi * (np.arange(high) + 0.5) / high) ** 2
    own = (fade_y[:, None] * fade_x[None, :])[:, :, None].astype(np.float32)
    other = 1 - own
    mean = pixels.mean(axis=(0, 1))
    shifted = np.roll(pixels, (high // 2, wide // 2), axis=(0, 1))
    mixed = ((pixels - mean) * own + (shifted - mean) * other) / np.sqrt(own**2 + other**2)
    return np.asarray((mixed + mean).clip(0, 255).astype(np.uint8))


def tile(photo: Image.Image, corners: Sequence[Point], width: float, height: float) -> Pixels:
    """All three: a tile of wood ``width`` × ``height`` mm. Raises ValueError for corners that span no area."""
    scale = MOST_TILE / max(width, height)
    return tileable(evened(straightened(photo, corners, (max(round(width * scale), 8), max(round(height * scale), 8)))))


def colour(pixels: NDArray[Any]) -> str:
    """The mean colour, ``#rrggbb``."""
    return "#" + "".join(f"{round(float(channel)):02x}" for channel in pixels.reshape(-1, 3).mean(axis=0))
