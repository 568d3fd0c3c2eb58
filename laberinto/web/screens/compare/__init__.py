"""Two boards, or two states of one, side by side, with what is different in words."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, abort, render_template, request
from markupsafe import Markup

from laberinto.core.analysis.compare import differences
from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.analysis.unlike import Unlike, unlike
from laberinto.core.errors import LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Ringed
from laberinto.drawing.unlike import unlike as hatch

from ...app import present, reading
from ...app.lookup import find

bp = Blueprint("compare", __name__, template_folder="templates")


@dataclass(frozen=True, slots=True)
class Half:
    """One side: the board, which state of it, and its face."""

    key: str
    board_id: int
    name: str
    state: str
    sim: Simulation
    figures: Figures
    prefix: str


def half(key: str, prefix: str) -> Half:
    """The board (``3``) or the state of one (``3.17``) that a key names; 404 where there is none."""
    number, _, state_of = key.partition(".")
    board_id, revision = reading.whole(number), reading.whole(state_of)
    if board_id is None or (state_of and revision is None):
        abort(404)
    board = find(board_id)
    plan, state = board.plan, "as it stands"
    if revision is not None:
        found = present.store().revisions(board.id).plan_at(revision)
        if found is None:
            abort(404)
        line = next(r for r in present.store().revisions(board.id).all() if r.id == revision)
        letter = f"variant {line.letters}, " if line.letters else ""
        plan, state = found, letter + (line.name or line.words) + ", " + present.when(line.created)
    sim = simulate(plan)
    return Half(key, board.id, plan.name, state, sim, figures(sim), prefix)


def picture(half_: Half, within: tuple[float, float], marked: Unlike) -> Markup:
    """The face, to the scale that both sides share, hatched where it differs from the other's."""
    face = face_of(half_.sim.whole(), Side.TOP)
    skin = Ringed(half_.sim, half_.prefix, present.preference("finish"))
    over = hatch(marked, (float(face.size[0]), float(face.size[1])))
    return Markup(thumbnail(face, skin, label=f"The face of {half_.name}, {half_.state}", within=within, over=over))


@bp.get("/compare")
def page() -> str:
    """``one`` and ``other`` name what is compared; without ``other`` the page asks for it."""
    boards = present.store().boards()
    if not boards:
        abort(404)
    one = request.args.get("one") or str(boards[0].id)
    others = [board for board in boards if str(board.id) != one.partition(".")[0]]
    own = next((board for board in boards if str(board.id) == one.partition(".")[0]), None)
    other = request.args.get("other") or (str(others[0].id) if others else one)
    try:
        left, right = half(one, "l"), half(other, "r")
    except LaberintoError as error:
        return render_template(
            "compare/page.html", boards=boards, own=own, one=one, other=other, problem=error.say(present.lengths())
        )
    halves = (left, right)
    within = max(h.figures.width for h in halves), max(h.figures.length for h in halves)
    found = unlike(left.sim, right.sim)
    return render_template(
        "compare/page.html", boards=boards, own=own, one=one, other=other, halves=halves, unlike=found.share,
        pictures=[picture(h, within, found) for h in halves],
        differences=differences(left.sim, right.sim, present.lengths()),
    )  # fmt: skip
