"""Addresses of the gallery and of each family's form."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Iterator
from dataclasses import replace
from time import perf_counter
from typing import Any, cast

from flask import (
    Blueprint,
    Response,
    abort,
    make_response,
    redirect,
    render_template,
    request,
    stream_template,
    url_for,
)
from flask_wtf.csrf import generate_csrf
from markupsafe import Markup

from laberinto.core.analysis.effort import effort
from laberinto.core.errors import LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.patterns.palettes import Palette
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Painted, Ringed, Skin

from ...app import bitmaps, present
from ...app.jobs import cut_alone
from .draft import NAME, Draft, chosen, offered, read, shown_plan, start

log = logging.getLogger(__name__)

bp = Blueprint("patterns", __name__, url_prefix="/boards/new", template_folder="templates")

WORTH = 2000
"""Characters that are worth sending by themselves."""

CARD_PPM = 2.0
"""Resolution of wood on a card, pixels a mm."""


def _family(key: str) -> type[Family]:
    if key not in FAMILIES:
        abort(404)
    return FAMILIES[key]


@bp.get("")
def gallery() -> Response:
    """Every family as its own face; ``palette`` names the woods. The page goes out card by card as they are cut."""
    palette = chosen(request.args.get("palette", ""))
    generate_csrf()  # its cookie has to go out before the page does
    page = stream_template(
        "patterns/gallery.html", families=FAMILIES, palettes=offered(), palette=palette, card=lambda f: card(f, palette)
    )
    response = Response(_now_and_then(page), mimetype="text/html")
    response.headers["Content-Encoding"] = "identity"  # packed, nothing would be seen before the end
    return response


def _now_and_then(page: Iterable[str], every: float = 0.1) -> Iterator[str]:
    """The page as it comes, its head at once and then so many seconds apart: each piece makes the browser lay out and
    paint anew."""
    waiting: list[str] = []
    size, sent = 0, 0.0
    for piece in page:
        waiting.append(piece)
        size += len(piece)
        if size > WORTH and perf_counter() - sent > every:
            yield "".join(waiting)
            waiting.clear()
            size, sent = 0, perf_counter()
    yield "".join(waiting)


def card(family: type[Family], palette: Palette | None) -> Markup:
    """A family as its own simulated face, with the work it asks for; or why it cannot be made. By now the page is on
    its way, so that whatever goes wrong is said on the card and leaves the others alone."""
    shown: dict[str, Any] = {"family": family, "palette": palette}
    try:
        plan = shown_plan(family, palette)
        bare = plan.undressed()  # on a face this small its eased edge is a hair, and took a fifth of the cutting
        cut_alone(bare)
        sim = simulate(bare)
        shown |= {"sim": sim, "effort": effort(replace(sim, plan=plan)), "picture": _picture(family, sim)}
    except LaberintoError as error:
        shown["problem"] = error.say(present.lengths())
    except Exception:
        log.exception("the card of %s failed", family.key)
        shown["problem"] = "This face could not be drawn; the server's log says why. Its form may still work."
    return Markup(render_template("patterns/card.html", **shown))


def _picture(family: type[Family], sim: Simulation) -> Markup:
    """One wood alone shows by its rings, so it is painted; several read by their tones."""
    face, finish, prefix = face_of(sim.whole(), Side.TOP), present.preference("finish"), f"g{family.key}"
    skin: Skin = Ringed(sim, prefix, finish)
    if len(family.wood_fields()) == 1:
        skin = Painted(sim, prefix, bitmaps.atlas_address, finish, ppm=CARD_PPM)
    return Markup(thumbnail(face, skin, label=f"{family.title}: the face it makes"))


@bp.get("/<key>")
def form(key: str) -> str:
    """A pattern’s numbers beside its face."""
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
    """Make the board; what is wrong stands beside its field."""
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
