"""Bitmaps of wood for the drawings, each at an address that holds all it depends on."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from flask import Blueprint, Response, abort, request
from markupsafe import Markup
from pydantic import ValidationError

from laberinto.core.errors import InputError
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Rings, Strip, rings_for
from laberinto.drawing import atlas
from laberinto.drawing.skin import sample
from laberinto.drawing.texture import MOST_PIXELS, Patch, webp

from .. import present, reading
from ..caching import for_good
from ..turns import TURNS, Rank, between

__all__ = ["Patch", "address", "atlas_address", "bp", "ringed", "swatch"]

bp = Blueprint("bitmaps", __name__, url_prefix="/wood")

SWATCH = 24.0
"""Side of a swatch, mm."""

VERSION = "5"
"""Part of every address; raise it when the painting changes, since browsers keep these for a year."""


def address(strip: Strip, patch: Patch, finish: str) -> str:
    """The address of a patch of a strip."""
    rings, p = strip.rings, patch
    grown = f"{rings.heart[0]:g},{rings.heart[1]:g},{rings.spacing:g},{rings.seed},{rings.sapwood or 0:g}"
    place = f"{p.depth:g},{p.left:g},{p.top:g},{p.width:g},{p.height:g},{p.ppm:g}"
    # numbers of this size and commas stand in an address as they are
    return f"/wood/{strip.wood}/{p.section}.webp?r={grown}&p={place}&f={finish}&v={VERSION}{_mark(strip.wood)}"


def _mark(key: str) -> str:
    """Another address whenever a wood of the shop's own changes."""
    _, _, mark = LIBRARY.signed(key).partition("~")
    return f"&m={mark}" if mark else ""


def atlas_address(token: str, finish: str) -> str:
    """The address of an atlas. ``&fine=2`` behind it asks for twice the resolution."""
    return f"/wood/atlas/{token}.jpg?f={finish}&v={VERSION}"


def token_of(address: str) -> str:
    """What the atlas of an ``address`` is painted from."""
    return address.removeprefix("/wood/atlas/").partition(".")[0]


class Ends(NamedTuple):
    """The ends of strips as one bitmap: its address and size in pixels, and for each strip where in it its end lies, as
    x, y, width and height."""

    href: str
    width: int
    height: int
    places: list[tuple[float, float, float, float]]


def ends(strips: Sequence[Strip], finish: str, ppm: float) -> Ends:
    """The ends of ``strips`` in their order, ``ppm`` pixels a mm."""
    sheets = [atlas.Sheet.of(strip, "end", 0.0, (0.0, 0.0), ppm, "") for strip in strips]
    packed = atlas.Atlas.of(sheets)
    places = []
    for strip, sheet, place in zip(strips, sheets, packed.places, strict=True):
        across, down = place.width / sheet.patch.width, place.height / sheet.patch.height
        places.append(
            (
                place.x - sheet.left * across,
                place.y - sheet.top * down,
                strip.width * across,
                strip.thickness * down,
            )
        )
    return Ends(atlas_address(packed.token, finish), packed.width, packed.height, places)


def swatch(key: str, finish: str, ppm: float = 2.5) -> str:
    """The address of a wood's own end grain, for where no strip of it is at hand; ``ppm`` pixels a mm."""
    return _swatch(key, finish, ppm, LIBRARY.state)


@lru_cache(maxsize=256)
def _swatch(key: str, finish: str, ppm: float, _state: int) -> str:
    strip = Strip(0, 1, key, SWATCH, SWATCH, SWATCH, _own_rings(key))
    return address(strip, Patch("end", 0.0, 0.0, 0.0, SWATCH, SWATCH, ppm), finish)


def ringed(key: str, finish: str) -> Markup:
    """A wood's own end grain as a drawing in the page, which has nothing to fetch. Each wood once a page."""
    return _ringed(key, finish, LIBRARY.state)


@lru_cache(maxsize=256)
def _ringed(key: str, finish: str, _state: int) -> Markup:
    return Markup(sample(f"sample-{key}", LIBRARY[key], _own_rings(key), SWATCH, finish))


def _own_rings(key: str) -> Rings:
    return rings_for(LIBRARY[key], 1, SWATCH, SWATCH).model_copy(update={"sapwood": None})


@bp.get("/<key>/<section>.webp")
def patch(key: str, section: str) -> Response:
    wood = LIBRARY.get(key)
    finish = request.args.get("f", "oiled")
    if wood is None or section not in ("end", "flat", "side") or finish not in ("oiled", "raw"):
        abort(404)
    grown, place = reading.numbers(request.args.get("r")), reading.numbers(request.args.get("p"))
    if grown is None or place is None or (len(grown), len(place)) != (5, 6) or grown[3] != int(grown[3]):
        abort(404)
    try:
        hx, hz, spacing, seed, sapwood = grown
        rings = Rings(heart=(hx, hz), spacing=spacing, seed=int(seed), sapwood=sapwood or None)
    except ValidationError:
        abort(404)
    depth, left, top, width, height, ppm = place
    reach = max(abs(v) for v in (*rings.heart, depth, left, top, width, height))
    if not (width > 0 and height > 0 and 0 < ppm <= 40 and reach < 5000 and width * height * ppm * ppm <= MOST_PIXELS):
        abort(404)
    return _kept(webp(wood, rings, Patch(section, depth, left, top, width, height, ppm), finish), "image/webp")


@bp.get("/atlas/<token>.jpg")
def whole(token: str) -> Response:
    """All the wood of one drawing."""
    finish, fine = request.args.get("f", "oiled"), reading.whole(request.args.get("fine", "1"))
    if finish not in present.FINISHES or fine is None or not 1 <= fine <= atlas.SHARPEST:
        abort(404)
    try:
        with TURNS.first(Rank.DRAWING):
            return _kept(atlas.jpeg(token, finish, fine, between), "image/jpeg")
    except InputError:
        abort(404)


def _kept(bitmap: bytes, kind: str) -> Response:
    """A bitmap whose address holds all it depends on, so that it can be kept for good."""
    return for_good(Response(bitmap, mimetype=kind))
