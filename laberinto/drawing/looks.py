"""Looks of woods that were photographed: tiles that take the place of painted rings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from laberinto.core.woods import Wood

from .photograph import Pixels

Floats = NDArray[np.floating[Any]]

PARTS = ("end", "face")
"""End grain, and grain along the fibres."""


@dataclass(frozen=True)
class Look:
    """What one part of a wood looks like: how its tile is made when it is first asked for, the tile's size in mm, and
    with which finish it was photographed."""

    make: Callable[[], Pixels]
    width: float
    height: float
    finish: str
    _kept: list[Pixels] = field(default_factory=list, compare=False)
    _lock: Lock = field(default_factory=Lock, compare=False)

    @property
    def tile(self) -> Pixels:
        """Its pixels, (rows, columns, 3)."""
        with self._lock:
            if not self._kept:
                self._kept.append(self.make())
            return self._kept[0]


_looks: dict[str, Mapping[str, Look]] = {}


def keep(looks: Mapping[str, Mapping[str, Look]]) -> None:
    """The looks there are from now on, by the name a wood's ``look`` gives and then by part."""
    _looks.clear()
    _looks.update(looks)
    _smaller.cache_clear()


def of(wood: Wood, section: str) -> Look | None:
    """The look of a section of a wood: of its end grain, or else along its fibres; None where ours is drawn."""
    return _looks.get(wood.look, {}).get("end" if section == "end" else "face") if wood.look else None


@lru_cache(maxsize=48)
def _smaller(name: str, part: str, by: int) -> Floats:
    pixels = _looks[name][part].tile
    image = Image.fromarray(pixels)
    size = max(image.width // by, 2), max(image.height // by, 2)
    return np.asarray(image.resize(size, Image.Resampling.BOX), np.float32)


def sampled(wood: Wood, section: str, a: Floats, b: Floats, seed: int, finish: str) -> NDArray[np.uint8]:
    """The tile of a section at columns ``a`` and rows ``b`` (mm), as (rows, columns, 3). Each strip begins at a place
    of its own, as no two strips look alike; with the other finish the colour changes as the wood's own does."""
    look = of(wood, section)
    assert look is not None
    part = "end" if section == "end" else "face"
    step = float(abs(a[1] - a[0])) if len(a) > 1 else 1.0
    fine = look.tile.shape[1] / look.width * step  # pixels of the tile that one pixel covers
    pixels = _smaller(wood.look, part, 2 ** max(int(np.log2(max(fine, 1.0))), 0))
    chance = np.random.default_rng(seed)
    columns, across = _between((a + chance.uniform(0, look.width)) / look.width, pixels.shape[1])
    rows, down = _between((b + chance.uniform(0, look.height)) / look.height, pixels.shape[0])
    upper = pixels[rows[0]][:, columns[0]] * (1 - across[:, None]) + pixels[rows[0]][:, columns[1]] * across[:, None]
    lower = pixels[rows[1]][:, columns[0]] * (1 - across[:, None]) + pixels[rows[1]][:, columns[1]] * across[:, None]
    seen = upper * (1 - down[:, None, None]) + lower * down[:, None, None]
    if finish != look.finish:
        now, then = (_channels(wood.colour(name)) for name in (finish, look.finish))
        seen = seen * (now / np.maximum(then, 1.0))
    return np.asarray(seen.clip(0, 255).astype(np.uint8))


def _between(share: Floats, count: int) -> tuple[tuple[NDArray[np.int64], NDArray[np.int64]], Floats]:
    """The two pixels round each place of a tile that repeats, and how far it is to the second."""
    at = np.mod(share, 1.0) * count - 0.5
    first = np.floor(at).astype(np.int64)
    return (first % count, (first + 1) % count), (at - first).astype(np.float32)


def _channels(colour: str) -> Floats:
    return np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)], np.float32)
