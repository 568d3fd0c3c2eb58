"""To learn from: the first minutes in a new shop, the words of the trade, and which board to make."""

from __future__ import annotations

import json
from dataclasses import dataclass
from itertools import groupby
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.effort import Effort, effort
from laberinto.core.errors import InputError
from laberinto.core.fields import Spec, parse, shown
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.glossary import BY_KEY, WORDS
from laberinto.core.patterns.kinds import KINDS, Kind, family_of
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.shop import Shop
from laberinto.core.timber.cost import Bill, bill
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Painted
from laberinto.drawing.words import drawing

from ...app import bitmaps, present
from ...app.fields import FieldView
from ..cost import rates

bp = Blueprint("learn", __name__, template_folder="templates")

ASKED = ("planer_width", "drum_width", "sled_width", "clamps")
"""What of the shop decides first how large a board may be."""

AIMS: dict[str, tuple[str, str]] = {
    "first": ("A first end-grain board", "Two woods, every other row flipped. A short tour leads through it."),
    "pattern": ("A pattern I choose", "All patterns as their own faces."),
    "size": ("A board of a certain size", "Say the size; the patterns that come out so are worked out."),
    "wood": ("Something from the wood I have", "Put lots into the store, and see what they make."),
}
"""What one may want to make, in words."""


@dataclass(frozen=True, slots=True)
class Weighed:
    """A kind of board with what it costs here."""

    kind: Kind
    sim: Simulation
    bill: Bill
    effort: Effort
    picture: Markup


def _weighed(kind: Kind) -> Weighed:
    family = family_of(kind, **present.shop().for_a_pattern())
    sim = simulate(family.plan(kind.title))
    skin = Painted(sim, f"k{kind.key}", bitmaps.atlas_address, present.preference("finish"), ppm=2.0)
    face = Markup(thumbnail(face_of(sim.whole(), Side.TOP), skin, label=f"{kind.title}: its face"))
    costs = bill(sim, present.shop(), rates(), lengths=present.lengths())
    return Weighed(kind, sim, costs, effort(sim), face)


@bp.get("/which-board")
def which() -> str:
    """Plank, edge grain and end grain in one size, side by side."""
    return render_template("learn/which.html", boards=[_weighed(kind) for kind in KINDS])


@bp.get("/words")
def glossary() -> str:
    """All words of the trade."""
    groups = [(name, list(words)) for name, words in groupby(WORDS, key=lambda word: word.group)]
    return render_template("learn/glossary.html", groups=groups, drawing=lambda key: Markup(drawing(key)))


@bp.get("/words/<key>")
def word(key: str) -> str:
    """One word, as it is shown beside where it stands."""
    if key not in BY_KEY:
        abort(404)
    return render_template("learn/word.html", word=BY_KEY[key], drawing=Markup(drawing(key)))


@bp.get("/start")
def start() -> str:
    """Three questions, each with an answer ready."""
    shop, how = present.shop(), present.lengths()
    return _questions({name: shown(_specs()[name], getattr(shop, name), how) for name in ASKED}, {})


def _specs() -> dict[str, Spec]:
    return Shop.specs()


def _questions(values: dict[str, str], errors: dict[str, str], aim: str = "first") -> str:
    fields = [FieldView(_specs()[name], values[name], errors.get(name, ""), False) for name in ASKED]
    return render_template("learn/start.html", fields=fields, aims=AIMS, aim=aim)


@bp.post("/start")
def answer() -> Response | tuple[str, int]:
    """Keep the answers, all or none, and go where the third leads."""
    how, errors, now = present.lengths(), dict[str, str](), present.shop()
    values = {name: request.form.get(name, "") for name in ASKED}
    aim = request.form.get("aim", "first")
    parsed = {}
    for name in ASKED:
        spec, kept = _specs()[name], getattr(now, name)
        try:  # text left alone keeps the exact value behind it
            parsed[name] = kept if values[name].strip() == shown(spec, kept, how) else parse(spec, values[name], how)
        except InputError as error:
            errors[name] = error.say(how)
    if errors or aim not in AIMS:
        return _questions(values, errors, aim if aim in AIMS else "first"), 422
    usual = present.usual_shop()
    shop = Shop.of(**{**now.model_dump(), **parsed})
    own = {name: value for name, value in shop.model_dump().items() if value != getattr(usual, name)}
    present.store().prefer("shop", json.dumps(own))
    return cast(Response, redirect(_leads(aim), 303))


def _leads(aim: str) -> str:
    """Where an answer to the third question leads."""
    return {
        "first": url_for("patterns.gallery", tour="begin"),
        "pattern": url_for("patterns.gallery"),
        "size": url_for("sizing.wanted"),
        "wood": url_for("timber.page"),
    }[aim]
