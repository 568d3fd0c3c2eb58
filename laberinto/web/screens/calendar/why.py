"""Why a board is late, and what would mend it; worked out while the page waits."""

from __future__ import annotations

from collections.abc import Callable

from flask import abort, render_template

from laberinto.core.calendar.whynot import Why, why_not

from ...app import present
from ...app.jobs import Job
from . import view
from .blueprint import bp
from .state import State, state


@bp.get("/why/<int:board_id>")
def why(board_id: int) -> str:
    """What stands in the way of a board, once it is known; how far that is until then."""
    found = state()
    if board_id not in found.boards or board_id not in found.problem.due:
        abort(404)
    name = ("why", board_id)
    job = present.jobs().get(name)
    asked = {"problem": found.problem.jobs, "windows": found.problem.windows[1:], "means": found.problem.means,
             "due": found.problem.due}  # fmt: skip
    if job is None or job.asked != asked:
        job = present.jobs().start(name, asked, _work(found, board_id))
    running = job.running  # once for the whole page: it may end while that is written
    return render_template(
        "calendar/why.html", state=found, board=found.boards[board_id], job=job, running=running,
        why=None if running else job.result, late_by=view.late_by, later=view.later,
    )  # fmt: skip


def _work(found: State, board_id: int) -> Callable[[Job], Why]:
    names = {number: board.name for number, board in found.boards.items()}
    spare = view.evenings(found, board_id)

    def work(job: Job) -> Why:
        return why_not(found.problem, board_id, spare, names, tell=job.tell)

    return work
