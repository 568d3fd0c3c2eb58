"""Woods: the library, and the shop's own with how they look in photos."""

from __future__ import annotations

import re
from dataclasses import dataclass
from io import BytesIO
from typing import Any, cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from PIL import Image

from laberinto.core.errors import InputError
from laberinto.core.units import parse_length, parse_number
from laberinto.core.validation import checked
from laberinto.core.woods import CAUTION_TEXT, LIBRARY, SOURCES, Caution, Porosity, Tone, Wood
from laberinto.core.woods.strips import Strip, rings_for
from laberinto.drawing.photograph import colour, straightened
from laberinto.files.woods import MOST_BYTES, PartPhoto, read_wood, write_wood
from laberinto.store import WHOLE, PhotoOf, Shelf

from ...app import bitmaps, own, present, reading
from ...app.photos import shrunk, small_jpeg

bp = Blueprint("woods", __name__, url_prefix="/woods", template_folder="templates")

PARTS = {"end": "End grain", "face": "Along the fibres"}

SHOWN = 70.0
"""Side of the square of wood that shows how it looks, mm."""

FIRST_SIZE = 80.0
"""Width of what a new photo is taken to show, mm, until it is said."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure of a wood as the form asks for it."""

    name: str
    label: str
    unit: str = ""

    @property
    def its_unit(self) -> str:
        """As this maker calls it; a length says it itself."""
        return "" if self.unit == "mm" else present.lengths().unit(self.unit)

    def shown(self, wood: Wood) -> str:
        """The figure of a wood in this maker's unit."""
        how, value = present.lengths(), float(getattr(wood, self.name))
        return how.field(value) if self.unit == "mm" else f"{how.figure(value, self.unit):.4g}"

    def read(self, text: str, like: Wood | None) -> float:
        """The figure as typed; one left as it stands for ``like`` stays exactly that. Raises InputError."""
        if like is not None and text.strip() == self.shown(like):
            return float(getattr(like, self.name))
        how, limits = present.lengths(), Wood.model_fields[self.name].metadata
        low, high = (next(getattr(m, a) for a in names for m in limits if hasattr(m, a)) for names in LIMITS)
        if self.unit == "mm":
            return parse_length(text, how.system, least=low, most=high, field=self.name)
        value = how.back(parse_number(text, self.name), self.unit)
        if not low <= value <= high:
            least, most = (f"{how.figure(limit, self.unit):.4g}" for limit in (low, high))
            raise InputError(f"{self.label} goes from {least} to {most} {self.its_unit}.", self.name)
        return value


LIMITS = (("gt", "ge"), ("lt", "le"))
"""Under which names a field has its least and its most."""


FIGURES = (
    Figure("density", "Density", "kg/m³"), Figure("tangential", "Shrinks tangentially", "%"),
    Figure("radial", "Shrinks radially", "%"), Figure("hardness", "Side hardness", "N"),
    Figure("spacing", "Ring width", "mm"), Figure("ring", "Late wood darker by", "0 to 1"),
)  # fmt: skip

TEXTS = ("name", "botanical", "raw", "oiled", "porosity", "tone")


def _wood(key: str) -> Wood:
    found = LIBRARY.get(key)
    if found is None:
        abort(404)
    return found


def _asked(key: str, like: Wood | None) -> Wood:
    """A wood as typed, over the figures of another. Raises InputError at its field."""
    values: dict[str, Any] = {name: request.form.get(name, "").strip()[:80] for name in TEXTS}
    if not values["name"]:
        raise InputError("A wood needs a name.", "name")
    for figure in FIGURES:
        values[figure.name] = figure.read(request.form.get(figure.name, ""), like)
    values["cautions"] = [caution for caution in Caution if caution.value in request.form.getlist("cautions")]
    return checked(Wood, {**values, "key": key, "source": "OWN"}, say="{Words}.")


def _key(name: str) -> str:
    """A key for a new wood of that name. Raises InputError where there is one already."""
    key = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    key = key if re.match(r"[a-z]", key) else f"wood-{key}".strip("-")
    if key in LIBRARY:
        raise InputError(f"There is {LIBRARY[key].name} already. Change that, or choose another name.", "name")
    return key


def _page(wood: Wood, status: int = 200, error: InputError | None = None, *, new: bool = False) -> Response:
    photos = {} if new else present.store().woods.photos().get(wood.key, {})
    html = render_template(
        "woods/wood.html", wood=wood, new=new, error=error, figures=FIGURES, parts=PARTS, photos=photos,
        cautions=CAUTION_TEXT, porosities=list(Porosity), tones=list(Tone), mine=wood.key in LIBRARY.own,
        ships=LIBRARY.ships(wood.key), shown=[] if new else _shown(wood), sources=SOURCES,
        typed=request.form if error else {}, like=request.values.get("like", ""), lot=request.values.get("lot", ""),
    )  # fmt: skip
    return Response(html, status)


def _shown(wood: Wood) -> list[tuple[str, str]]:
    """How it looks: end grain and face, raw and oiled, as words and address."""
    rings = rings_for(wood, 1, SHOWN, SHOWN).model_copy(update={"sapwood": None})
    strip = Strip(0, 1, wood.key, SHOWN, SHOWN, SHOWN, rings)
    return [
        (f"{words}, {finish}", bitmaps.address(strip, bitmaps.Patch(at, 0.0, 0.0, 0.0, SHOWN, SHOWN, 4), finish))
        for at, words in (("end", "End grain"), ("flat", "Face"))
        for finish in ("raw", "oiled")
    ]


def _to(key: str, anchor: str | None = None) -> Response:
    return cast(Response, redirect(url_for("woods.one", key=key, _anchor=anchor), 303))


@bp.get("")
def page() -> str:
    """All woods, the shop's own first."""
    return _table()


def _table(error: InputError | None = None) -> str:
    woods = sorted(LIBRARY.values(), key=lambda wood: (wood.key not in LIBRARY.own, wood.name))
    return render_template("woods/page.html", all=woods, own=LIBRARY.own, error=error)


@bp.get("/new")
def new() -> Response:
    """A new wood, with the figures of another to begin with."""
    like = LIBRARY.get(request.args.get("like", "")) or next(iter(LIBRARY.values()))
    name = request.args.get("name", "")[:80]
    return _page(like.model_copy(update={"name": name, "botanical": like.botanical if name else ""}), new=True)


@bp.post("")
def add() -> Response:
    """Keep a new wood; with ``lot`` that lot is of this wood from then on."""
    try:
        wood = _asked(_key(request.form.get("name", "").strip()[:80]), LIBRARY.get(request.form.get("like", "")))
    except InputError as error:
        like = LIBRARY.get(request.form.get("like", "")) or next(iter(LIBRARY.values()))
        return _page(like, 422, error, new=True)
    store, number = present.store(), reading.whole(request.form.get("lot"))
    store.woods.keep(wood)
    own.take_in(store)
    lot = store.timber.lot(number) if number is not None else None
    if lot is not None:
        store.timber.change(lot.id, lot.lot.model_copy(update={"wood": wood.key}))
        if (jpeg := store.timber.photo(lot.id)) is not None:
            _keep(wood.key, "face", _fresh(jpeg))
    return _to(wood.key)


@bp.get("/<key>")
def one(key: str) -> Response:
    """A wood: its figures, and how it looks."""
    return _page(_wood(key))


@bp.post("/<key>")
def change(key: str) -> Response:
    """Give a wood other figures: one of the library's becomes the shop's own."""
    known = _wood(key)
    try:
        wood = _asked(key, known)
    except InputError as error:
        return _page(known, 422, error)
    present.store().woods.keep(wood)
    own.take_in(present.store())
    return _to(key)


@bp.post("/<key>/remove")
def remove(key: str) -> Response:
    """Let go of a wood of the shop's own; one that took a library wood's place gives it back."""
    known, store = _wood(key), present.store()
    if key not in LIBRARY.own:
        abort(404)
    if not LIBRARY.ships(key):
        used = [board.name for shelf in Shelf for board in store.boards(shelf) if key in board.woods]
        used += [f"lot {view.id}" for view in store.timber.lots(gone=True) if view.lot.wood == key]
        if used:
            told = ", ".join(used[:3]) + (f" and {len(used) - 3} more" if len(used) > 3 else "")
            return _page(known, 422, InputError(f"{known.name} is in {told}. Change the wood there first.", "remove"))
    store.woods.remove(key)
    own.take_in(store)
    return cast(Response, redirect(url_for("woods.page"), 303))


def _fresh(jpeg: bytes) -> PhotoOf:
    """A photo of which nothing is said yet: all of it, so wide."""
    with Image.open(BytesIO(jpeg)) as image:
        return PhotoOf(jpeg, WHOLE, FIRST_SIZE, round(FIRST_SIZE * image.height / image.width, 1), "raw")


def _keep(key: str, part: str, photo: PhotoOf | None) -> None:
    """A part's photo; the wood is the shop's own from then on, and takes its colour from what it shows."""
    store = present.store()
    wood = LIBRARY[key].model_copy(update={"source": "OWN"})
    if photo is not None and part == "end":
        wood = wood.model_copy(update=_colours(wood, photo))
    store.woods.keep(wood)
    store.woods.picture(key, part, photo)
    own.take_in(store)


def _colours(wood: Wood, photo: PhotoOf) -> dict[str, str]:
    """Raw and oiled colour: the one that was photographed, and the other as far from it as it was."""
    seen = colour(own.tiled(photo))
    other = "oiled" if photo.finish == "raw" else "raw"
    before, after = wood.colour(photo.finish), wood.colour(other)
    channels = [
        min(
            max(round(int(seen[k : k + 2], 16) * int(after[k : k + 2], 16) / max(int(before[k : k + 2], 16), 1)), 0),
            255,
        )
        for k in (1, 3, 5)
    ]
    return {photo.finish: seen, other: "#" + "".join(f"{channel:02x}" for channel in channels)}


@bp.post("/<key>/<part>/photo")
def photograph(key: str, part: str) -> Response:
    """Take a photo of a part, or with ``drop`` let go of it."""
    known = _wood(key)
    if part not in PARTS:
        abort(404)
    if request.form.get("drop"):
        _keep(key, part, None)
        return _to(key, part)
    try:
        jpeg = small_jpeg(request.files.get("photo"), part)
    except InputError as error:
        return _page(known, 422, error)
    _keep(key, part, _fresh(jpeg))
    return _to(key, part)


@bp.post("/<key>/<part>/corners")
def corners(key: str, part: str) -> Response:
    """Where in a photo the wood lies, how large that is, and with which finish."""
    known = _wood(key)
    photo = present.store().woods.photos().get(key, {}).get(part)
    if photo is None:
        abort(404)
    try:
        found = _corners(request.form.get("corners", ""), part)
        how = present.lengths()
        width, height = (
            parse_length(request.form.get(name, ""), how.system, least=5, most=2000, field=part)
            for name in ("width", "height")
        )
        finish = request.form.get("finish", "")
        if finish not in ("raw", "oiled"):
            raise InputError("Say whether it was raw or oiled.", part)
        with Image.open(BytesIO(photo.jpeg)) as image:
            try:
                straightened(image, found, (8, 8))
            except ValueError as error:
                raise InputError(f"Those four corners span no square: {error}.", part) from None
    except InputError as error:
        return _page(known, 422, InputError(error.say(present.lengths()), part))
    _keep(key, part, PhotoOf(photo.jpeg, found, width, height, finish))
    return _to(key)


def _corners(text: str, field: str) -> tuple[tuple[float, float], ...]:
    """Four corners, ``x,y`` with semicolons between, as shares from 0 to 1."""
    pairs = [reading.numbers(pair) for pair in text.split(";")]
    if len(pairs) != 4 or any(pair is None or len(pair) != 2 for pair in pairs):
        raise InputError("A photo has four corners.", field)
    return tuple((min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0)) for x, y in cast("list[list[float]]", pairs))


@bp.get("/<key>/<part>.jpg")
def photo(key: str, part: str) -> Response:
    """A photo as it was taken."""
    found = present.store().woods.photos().get(key, {}).get(part)
    if found is None:
        abort(404)
    return Response(found.jpeg, mimetype="image/jpeg", headers={"Cache-Control": "private, no-cache"})


@bp.get("/<key>/wood.json")
def export(key: str) -> Response:
    """A wood as a file, with its photos."""
    photos = {
        part: PartPhoto(p.jpeg, p.corners, p.width, p.height, p.finish)
        for part, p in present.store().woods.photos().get(key, {}).items()
    }
    response = Response(write_wood(_wood(key), photos), mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="{key}.wood.json"'
    return response


@bp.post("/open")
def take() -> Response | tuple[str, int]:
    """A wood file becomes a wood of the shop's own. Nothing that is there is replaced."""
    upload = request.files.get("file")
    data = upload.read(MOST_BYTES + 1) if upload else b""
    try:
        if len(data) > MOST_BYTES:
            raise InputError("That file is larger than 12 MB.", "file")
        wood, photos = read_wood(data.decode("utf-8-sig", "replace"))
        if wood.key in LIBRARY.own:
            raise InputError(f"You have {LIBRARY[wood.key].name} already. Let go of it first.", "file")
        kept = {part: PhotoOf(shrunk(p.jpeg, "file"), p.corners, p.width, p.height, p.finish)
                for part, p in photos.items()}  # fmt: skip
    except InputError as error:
        return _table(error), 422
    store = present.store()
    store.woods.keep(wood.model_copy(update={"source": "OWN"}))
    for part, each in kept.items():
        store.woods.picture(wood.key, part, each)
    own.take_in(store)
    return _to(wood.key)
