"""Addresses of sizes: the board that is wanted, new or at hand, and the boards that the wood at hand makes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, cast
from urllib.parse import urlencode

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from werkzeug.datastructures import MultiDict

from laberinto.core.edits.pattern import family_of
from laberinto.core.edits.sizes import take
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import Spec, parse
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.plan.model import Wanted
from laberinto.core.plan.simulate import simulate
from laberinto.store import BoardView, LotView, StaleError

from ...app import present, reading
from ...app.fields import FieldView
from ...app.jobs import Job
from ...app.lookup import find
from ...app.saving import save
from ..patterns.draft import free_name
from ..timber.view import store as timber
from .search import Offer, offers
from .view import USUAL, Sizes, sizes

bp = Blueprint("sizing", __name__, template_folder="templates")


def _new() -> Family:
    key = request.values.get("family", "alternating")
    if key not in FAMILIES:
        abort(404)
    return FAMILIES[key].of(**present.shop().for_a_pattern())


def _page(page: Sizes, board: BoardView | None = None, problem: str = "", status: int = 200) -> tuple[str, int]:
    part = request.headers.get("HX-Target") == "sizes"
    families = {key: family for key, family in FAMILIES.items() if key != "picture"}
    return render_template(
        "sizing/sizes.html" if part else "sizing/page.html", page=page, board=board, families=families,
        problem=problem or page.problem,
    ), status  # fmt: skip


@bp.get("/boards/size")
def wanted() -> tuple[str, int]:
    """A new board of a wanted size."""
    return _page(sizes(_new(), request.args, request.args.getlist("hold"), USUAL))


@bp.post("/boards/size")
def make() -> Response | tuple[str, int]:
    page = sizes(_new(), request.form, request.form.getlist("hold"), USUAL)
    if page.chosen is None:
        return _page(page, status=422)
    plan = page.chosen.plan.model_copy(update={"name": free_name(), "wanted": _wanted(page)})
    return _to_board(
        present.store().create(plan, words=f"made to {present.lengths().show_size(*page.chosen.sim.board.size)}")
    )


def _wanted(page: Sizes) -> Wanted:
    assert page.want is not None
    return Wanted(width=page.want.width, length=page.want.length, thickness=page.want.thickness)


def _to_board(board_id: int) -> Response:
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))


@bp.get("/boards/<int:board_id>/size")
def size(board_id: int) -> tuple[str, int]:
    """A board brought to another size."""
    board = find(board_id)
    return _board_page(board)


def _start(board: BoardView) -> dict[str, float]:
    """The size that is wanted of it, or else the size it has; the usual where it cannot be built."""
    wanted = board.plan.wanted
    try:
        there: Mapping[str, float] = dict(zip(USUAL, simulate(board.plan).board.size, strict=True))
    except LaberintoError:
        there = USUAL
    return {name: getattr(wanted, name) or there[name] for name in USUAL}


def _board_page(board: BoardView, problem: str = "", status: int = 200) -> tuple[str, int]:
    family = family_of(board.plan)
    if family is None:
        return render_template("sizing/none.html", board=board), 200
    return _page(sizes(family, request.values, request.values.getlist("hold"), _start(board)), board, problem, status)


@bp.post("/boards/<int:board_id>/size")
def resize(board_id: int) -> Response | tuple[str, int]:
    board = find(board_id)
    family = family_of(board.plan)
    if family is None:
        abort(404)
    page = sizes(family, request.form, request.form.getlist("hold"), _start(board))
    if page.chosen is None or page.want is None:
        return _page(page, board, status=422)
    based = reading.whole(request.form.get("revision"))
    try:
        edit = take(board.plan, page.chosen, page.want, present.lengths())
        save(board, edit, based_on=-1 if based is None else based)
    except StaleError as stale:
        return _board_page(find(board_id), f"{stale} Look at it as it stands, then take the size again.", 409)
    except LaberintoError as error:
        return _page(page, board, error.say(present.lengths()), 422)
    return _to_board(board_id)


# -- the wood at hand -----------------------------------------------------------------------------------------------

THICK = Spec("thickness", "Thickness", "Of the finished board.", "length", 12.0, 150.0, False)
RATIO = Spec("ratio", "Length to width", "1.33 is four to three.", "number", 0.5, 3.0, False)
SPECS = (THICK.name, RATIO.name)


@dataclass(frozen=True, slots=True)
class FromWood:
    """What is asked: the fields as typed, the lots there are, those that were chosen ("" where nobody chose yet), and
    what it comes to for a search, None where a field is wrong or nothing is there."""

    fields: list[FieldView]
    lots: list[LotView]
    chosen: set[str]
    search: dict[str, Any] | None

    @classmethod
    def of(cls, given: MultiDict[str, str]) -> FromWood:
        """What is typed."""
        how = present.lengths()
        fields, values = [], {}
        for spec, usual in ((THICK, 40.0), (RATIO, 4 / 3)):
            start = how.field(usual) if spec.kind == "length" else f"{usual:.2f}"
            typed, wrong = given.get(spec.name, start), ""
            try:
                values[spec.name] = usual if typed == start else parse(spec, typed, how)
            except InputError as error:
                wrong = error.say(how)
            fields.append(FieldView(spec, typed, wrong))
        there = [view for view in timber().lots() if view.free]
        asked = set(given.getlist("lot"))
        lots = [(view.lot, view.free) for view in there if not asked or str(view.id) in asked]
        search = {"lots": lots, **values, "shop": present.shop(), "finish": present.preference("finish")}
        return cls(fields, there, asked, search if len(values) == 2 and lots else None)


@bp.get("/timber/boards")
def from_wood() -> str:
    """The largest board of every pattern that chosen lots make, once that was asked for."""
    it = FromWood.of(request.args)
    job = present.jobs().get(("from wood", 0))
    if job is not None and job.asked != it.search:
        job = None
    running = job is not None and job.running  # once for the whole page: it may end while that is written
    part = request.headers.get("HX-Target") == "boards"
    found: list[Offer] = [] if job is None else (None if running else job.result) or job.best or []
    return render_template(
        "sizing/boards.html" if part else "sizing/from_wood.html", it=it, job=job, running=running,
        found=sorted(found, key=lambda one: -one.face), total=len(FAMILIES), query=request.query_string.decode(),
        moved=job is None and "lot" in request.args,
    )  # fmt: skip


@bp.post("/timber/boards/look")
def look() -> Response | tuple[str, int]:
    """Look for them, in place of what was looked for before."""
    it = FromWood.of(request.form)
    if it.search is None:
        return render_template(
            "sizing/from_wood.html", it=it, job=None, running=False, found=[], total=len(FAMILIES), query="",
            moved=False,
        ), 422  # fmt: skip
    asked = it.search
    job = present.jobs().get(("from wood", 0))
    if job is None or job.asked != asked or job.result is None:

        def work(job: Job) -> list[Offer]:
            given = (asked[name] for name in ("lots", "shop", "thickness", "ratio", "finish"))
            return cast("list[Offer]", job.apart(offers, tuple(FAMILIES), *given))

        present.jobs().start(("from wood", 0), asked, work)
    typed = [(name, value) for name, value in request.form.items(multi=True) if name in ("lot", *SPECS)]
    return cast(Response, redirect(f"{url_for('sizing.from_wood')}?{urlencode(typed)}", 303))


@bp.post("/timber/boards")
def make_of_wood() -> Response:
    """Make the board that a search found."""
    job = present.jobs().get(("from wood", 0))
    found: list[Offer] = (job.result or job.best or []) if job else []
    one = next((one for one in found if one.family == request.form.get("family") and one.made), None)
    if one is None or one.made is None:
        return cast(Response, redirect(url_for("sizing.from_wood"), 303))
    return _to_board(present.store().create(one.made.plan(free_name()), words="from the wood there is"))
