"""All the wood of one drawing as one bitmap.

A sheet is a part of a section of a strip, painted once and shown wherever the drawing shows that section. The sheets of
a drawing are packed into one atlas, whose address holds all they depend on: a browser asks once and keeps the answer.

Sheets are laid out from the middle of the strip, and are a little larger than it. So a strip that is made a few
millimetres wider keeps its look and its sheet.
"""

from __future__ import annotations

import base64
import json
import math
import zlib
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import ValidationError

from laberinto.core.errors import InputError
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Rings, Strip

from .texture import Patch, paint

Bitmap = NDArray[np.uint8]

ROOM = 5.0
"""A sheet is as large as its strip, rounded up to this, mm."""

BLOCK = 8
"""Sheets begin at whole blocks of so many pixels, as they are compressed, so that none bleeds into its neighbour."""

MOST = 600_000
"""An atlas has about so many pixels at most, as it is first sent: what would be more is painted coarser."""

SHARPEST = 2
"""How many times finer an atlas can be had where the drawing is looked at closely."""

LIMIT = 6_000_000
"""Pixels beyond which no atlas is painted."""

QUALITY = 90


@dataclass(frozen=True, slots=True)
class Sheet:
    """A patch of one strip's wood, counted from the strip's middle; ``left`` and ``top`` say where in the strip's own
    coordinates (mm from its corner) it begins. ``colour`` is that of the wood as a whole."""

    wood: str
    rings: Rings
    patch: Patch
    left: float
    top: float
    colour: str

    @classmethod
    def of(cls, strip: Strip, section: str, depth: float, run: tuple[float, float], ppm: float, colour: str) -> Sheet:
        """A section of a strip: the "end" whole, or the "flat" or "side" at ``depth`` mm over a ``run`` from and to so
        many mm from the strip's end."""
        wide, thick = _roomy(strip.width), _roomy(strip.thickness)
        left, over = (strip.width - wide) / 2, (strip.thickness - thick) / 2
        rings = _from_middle(strip.rings, strip.width, strip.thickness)
        if section == "end":
            return cls(
                strip.wood, rings, Patch("end", 0.0, -wide / 2, -thick / 2, wide, thick, ppm), left, over, colour
            )
        first, last = run
        across, begins, half = (wide, left, strip.thickness) if section == "flat" else (thick, over, strip.width)
        patch = Patch(section, round(depth - half / 2, 3), -across / 2, first, across, last - first, ppm)
        return cls(strip.wood, rings, patch, begins, first, colour)

    @property
    def key(self) -> str:
        """What the sheet shows, however wide it is, and where it begins."""
        rings, p = self.rings, self.patch
        grown = f"{rings.heart[0]:g},{rings.heart[1]:g},{rings.spacing:g},{rings.seed},{rings.sapwood or 0:g}"
        return f"{LIBRARY.signed(self.wood)},{grown},{p.section[0]}{p.depth:g},{p.top:g}"


@lru_cache(maxsize=4096)
def _from_middle(rings: Rings, width: float, thickness: float) -> Rings:
    """Rings counted from a strip's middle: one strip shows many sections."""
    x, z = rings.heart
    return rings.model_copy(update={"heart": (round(x - width / 2, 3), round(z - thickness / 2, 3))})


def _roomy(mm: float) -> float:
    return math.ceil(round(mm / ROOM, 6)) * ROOM


class Place(NamedTuple):
    """Where in the atlas a sheet lies, pixels."""

    x: int
    y: int
    width: int
    height: int


@dataclass(frozen=True, slots=True)
class Atlas:
    """Sheets with their places, in a bitmap of ``width`` × ``height`` pixels."""

    sheets: tuple[Sheet, ...]
    places: tuple[Place, ...]
    width: int
    height: int

    @classmethod
    def of(cls, sheets: Iterable[Sheet]) -> Atlas:
        """Pack ``sheets`` on shelves, the tallest first."""
        kept = tuple(sheets)
        sizes = _sizes(kept)
        order = sorted(range(len(kept)), key=lambda k: (-sizes[k][1], -sizes[k][0], k))
        width = max(_blocks(math.sqrt(sum(_blocks(w) * _blocks(h) for w, h in sizes)) * 1.1),
                    max((_blocks(w) for w, _ in sizes), default=BLOCK))  # fmt: skip
        places: dict[int, Place] = {}
        x = y = shelf = 0
        for k in order:
            wide, tall = sizes[k]
            if x + _blocks(wide) > width:
                x, y, shelf = 0, y + shelf, 0
            places[k] = Place(x, y, wide, tall)
            x, shelf = x + _blocks(wide), max(shelf, _blocks(tall))
        return cls(kept, tuple(places[k] for k in range(len(kept))), width, max(y + shelf, BLOCK))

    @property
    def token(self) -> str:
        """The sheets as text that can stand in an address."""
        trees: dict[tuple[Any, ...], int] = {}
        rows = []
        for sheet in self.sheets:
            r, p = sheet.rings, sheet.patch
            tree = LIBRARY.signed(sheet.wood), *r.heart, r.spacing, r.seed, r.sapwood or 0
            at = trees.setdefault(tree, len(trees))
            rows.append([at, p.section, p.depth, p.left, p.top, p.width, p.height, p.ppm])
        packed = json.dumps([list(trees), rows], separators=(",", ":")).encode()
        return base64.urlsafe_b64encode(zlib.compress(packed, 6)).decode().rstrip("=")


def _sizes(sheets: Sequence[Sheet]) -> list[tuple[int, int]]:
    """Pixels of each sheet, at most MOST together unless there are very many."""
    ideal = sum(s.patch.width * s.patch.height * s.patch.ppm**2 for s in sheets)
    by = min(1.0, math.sqrt(MOST / ideal)) if ideal else 1.0
    return [
        (max(round(s.patch.width * s.patch.ppm * by), 2), max(round(s.patch.height * s.patch.ppm * by), 2))
        for s in sheets
    ]


def _blocks(pixels: float) -> int:
    return math.ceil(pixels / BLOCK) * BLOCK


def read(token: str) -> Atlas:
    """The atlas of a ``token``. Raises InputError for what is none, or asks for more than can be painted."""
    try:
        unpack = zlib.decompressobj()
        text = unpack.decompress(base64.urlsafe_b64decode(token + "=" * (-len(token) % 4)), 2_000_000)
        trees, rows = json.loads(text)
        grown = [
            (wood.partition("~")[0], Rings(heart=(hx, hz), spacing=spacing, seed=seed, sapwood=pale or None))
            for wood, hx, hz, spacing, seed, pale in trees
        ]
        sheets = [
            Sheet(grown[tree][0], grown[tree][1], _patch(section, *(float(v) for v in numbers)), 0.0, 0.0, "")
            for tree, section, *numbers in rows
        ]
    except (ValueError, TypeError, IndexError, KeyError, zlib.error, ValidationError, RecursionError):
        raise InputError("That is not the address of any wood.") from None
    if any(wood not in LIBRARY for wood, _ in grown):
        raise InputError("That wood is not known.")
    return Atlas.of(sheets)


REACH = 5000.0
"""Nothing of a strip lies further than this from its middle, mm."""


def _patch(section: str, *numbers: float) -> Patch:
    depth, left, top, width, height, ppm = numbers
    inside = all(abs(v) < REACH for v in numbers) and width > 0 and height > 0 and 0 < ppm <= 20
    if section not in ("end", "flat", "side") or not inside:
        raise ValueError(section)
    return Patch(section, depth, left, top, width, height, ppm)


Between = Callable[[Iterable[Any]], Iterator[Any]]
"""Hands on the parts of a picture one by one, and may let others go first between them."""


@lru_cache(maxsize=64)
def jpeg(token: str, finish: str, fine: int = 1, between: Between = iter) -> bytes:
    """The atlas of a ``token`` as a JPEG file, ``fine`` times as large. Raises InputError."""
    atlas = read(token)
    width, height = atlas.width * fine, atlas.height * fine
    if width * height > LIMIT:
        raise InputError(f"An atlas of {width} × {height} pixels is too large; at most {LIMIT} in all.")
    whole = np.zeros((height, width, 3), np.uint8)
    for place, bitmap in zip(between(atlas.places), painted(atlas, finish, fine), strict=True):
        tall, wide = (_blocks(v) for v in bitmap.shape[:2])
        edge = np.pad(bitmap, ((0, tall - bitmap.shape[0]), (0, wide - bitmap.shape[1]), (0, 0)), mode="edge")
        x, y = place.x * fine, place.y * fine
        whole[y : y + tall, x : x + wide] = edge
    out = BytesIO()
    Image.fromarray(whole).save(out, "JPEG", quality=QUALITY, subsampling=0)
    return out.getvalue()


def painted(atlas: Atlas, finish: str, fine: int = 1) -> Iterator[Bitmap]:
    """Each sheet of an atlas as a bitmap, ``fine`` times as large."""
    for sheet, place in zip(atlas.sheets, atlas.places, strict=True):
        named, size = LIBRARY.signed(sheet.wood), (place.width * fine, place.height * fine)
        yield _painted(named, sheet.rings, sheet.patch, finish, *size)


@lru_cache(maxsize=768)
def _painted(wood: str, rings: Rings, patch: Patch, finish: str, width: int, height: int) -> Bitmap:
    """One sheet: most of an atlas stays as it was after an edit."""
    return paint(LIBRARY[wood.partition("~")[0]], rings, patch, finish, (width, height))
