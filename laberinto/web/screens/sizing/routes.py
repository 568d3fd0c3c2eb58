"""Addresses of sizes: the board that is wanted, new or at hand, and the boards that the wood at hand makes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from laberinto.core.edits.pattern import family_of
from laberinto.core.edits.sizes import take
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import Spec, parse
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.plan.model import Wanted
from laberinto.core.plan.simulate import simulate
from laberinto.core.sizing.from_wood import Largest, all_largest
from laberinto.store import BoardView, LotView, StaleError

from ...app import present, reading
from ...app.fields import FieldView
from ...app.jobs import Job
from ...app.lookup import find
from ...app.saving import save
from ..patterns.draft import free_name
from ..timber.view import store as timber
from .view import USUAL, Sizes, face, sizes

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


@bp.get("/timber/boards")
def from_wood() -> tuple[str, int]:
    """The largest board of every pattern that chosen lots make; found while the page waits."""
    how = present.lengths()
    fields, values = [], {}
    for spec, usual in ((THICK, 40.0), (RATIO, 4 / 3)):
        start = how.field(usual) if spec.kind == "length" else f"{usual:.2f}"
        typed, wrong = request.args.get(spec.name, start), ""
        try:
            values[spec.name] = usual if typed == start else parse(spec, typed, how)
        except InputError as error:
            wrong = error.say(how)
        fields.append(FieldView(spec, typed, wrong))
    there = [view for view in timber().lots() if view.free]
    asked = set(request.args.getlist("lot"))
    chosen = [view for view in there if not asked or str(view.id) in asked]
    job = _search(chosen, values) if len(values) == 2 and chosen and "go" in request.args else None
    part = request.headers.get("HX-Target") == "boards"
    found: list[Largest] = [] if job is None else (job.best or []) if job.running else (job.result or [])
    ranked = sorted(found, key=lambda one: -(one.sim.board.size[0] * one.sim.board.size[1] if one.sim else 0))
    return render_template(
        "sizing/boards.html" if part else "sizing/from_wood.html", fields=fields, lots=there, asked=asked, job=job,
        running=job is not None and job.running, found=ranked, total=len(FAMILIES), face=face,
        query=request.query_string.decode(),
    ), 200  # fmt: skip


def _search(chosen: list[LotView], values: dict[str, float]) -> Job:
    lots, shop = [(view.lot, view.free) for view in chosen], present.shop()
    asked = {"lots": lots, **values, "shop": shop}
    job = present.jobs().get(("from wood", 0))
    if job is not None and job.asked == asked and not job.failed:
        return job

    def work(job: Job) -> list[Largest]:
        return all_largest(
            FAMILIES.values(), lots, shop, values["thickness"], values["ratio"],
            progress=lambda found: job.tell(len(found) / len(FAMILIES), list(found)),
        )  # fmt: skip

    return present.jobs().start(("from wood", 0), asked, work)


@bp.post("/timber/boards")
def make_of_wood() -> Response:
    """Make the board that a search found."""
    job = present.jobs().get(("from wood", 0))
    found: list[Largest] = (job.result or job.best or []) if job else []
    one = next((one for one in found if one.family.key == request.form.get("family") and one.made), None)
    if one is None or one.made is None:
        return cast(Response, redirect(url_for("sizing.from_wood"), 303))
    return _to_board(present.store().create(one.made.plan(free_name()), words="from the wood there is"))
