"""Addresses of the gallery and of each family's form."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, make_response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.effort import effort
from laberinto.core.errors import LaberintoError
from laberinto.core.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.simulate import simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Painted, Ringed

from .. import present, wood
from ..jobs import cut_ahead, cut_alone
from .draft import NAME, Draft, all_shown, chosen, offered, read, shown_plan, start

bp = Blueprint("patterns", __name__, url_prefix="/boards/new", template_folder="templates")

CARD_PPM = 2.0
"""Resolution of wood on a card, pixels a mm."""


def _family(key: str) -> type[Family]:
    if key not in FAMILIES:
        abort(404)
    return FAMILIES[key]


@bp.get("")
def gallery() -> str:
    """Every family, each to be filled with its face; ``palette`` names the woods."""
    palette = chosen(request.args.get("palette", ""))
    cut_ahead(all_shown(palette))
    return render_template("patterns/gallery.html", families=FAMILIES, palettes=offered(), palette=palette)


@bp.get("/<key>/card")
def card(key: str) -> str:
    """A family as its own simulated face, with the work it asks for."""
    family = _family(key)
    palette = chosen(request.args.get("palette", ""))
    try:
        plan = shown_plan(family, palette)
        cut_alone(plan)
        sim = simulate(plan)
    except LaberintoError as error:
        return render_template(
            "patterns/card.html", family=family, palette=palette, problem=error.say(present.lengths())
        )
    face = face_of(sim.board.pieces[0], Side.TOP)
    finish = present.preference("finish")
    # one wood alone shows by its rings, so it is painted; the others read by their tones
    plain = len(family.wood_fields()) > 1
    skin = Ringed(sim, f"g{key}", finish) if plain else Painted(sim, f"g{key}", wood.address, finish, ppm=CARD_PPM)
    picture = Markup(thumbnail(face, skin, label=f"{family.title}: the face it makes"))
    return render_template(
        "patterns/card.html", family=family, palette=palette, picture=picture, effort=effort(sim), sim=sim
    )


@bp.get("/<key>")
def form(key: str) -> str:
    family = _family(key)
    draft = read(family, start(family, chosen(request.args.get("palette", ""))))
    return _page("patterns/new.html", draft)


@bp.post("/<key>/preview")
def preview(key: str) -> str:
    """The form as typed; ``palette`` fills in the woods of one."""
    family = _family(key)
    values = request.form.to_dict()
    if palette := chosen(values.get("palette", "")):
        values |= {field: wood for field, wood in palette.woods().items() if field in family.wood_fields()}
    return _page("patterns/form.html", read(family, values))


@bp.post("/<key>")
def create(key: str) -> Response:
    draft = read(_family(key), request.form)
    if draft.sim is None:
        return make_response(_page("patterns/new.html", draft), 422)
    board_id = present.store().create(draft.sim.plan)
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))


@bp.post("/<key>/bare")
def bare(key: str) -> Response:
    """A board of nothing but the form's first strips: every stage after them is put in by hand."""
    draft = read(_family(key), request.form)
    if draft.sim is None:
        return make_response(_page("patterns/new.html", draft), 422)
    plan = draft.sim.plan
    board_id = present.store().create(plan.model_copy(update={"stages": plan.stages[:1], "pattern": None}))
    return cast(Response, redirect(url_for("board.page", board_id=board_id, view="stage"), 303))


def _page(template: str, draft: Draft) -> str:
    return render_template(template, draft=draft, family=draft.family, name_spec=NAME, palettes=offered())
