"""Why a board is late, and what would mend it; worked out while the page waits."""

from __future__ import annotations

from typing import Any, cast

from flask import abort, render_template

from laberinto.core.calendar.whynot import Why

from ...app import present
from ...app.jobs import Job
from . import view
from .blueprint import bp
from .search import reasons
from .state import State, state


@bp.get("/why/<int:board_id>")
def why(board_id: int) -> str:
    """What stands in the way of a board, once it is known; how far that is until then."""
    return _shown(_late(board_id), board_id)


@bp.post("/why/<int:board_id>")
def ask_why(board_id: int) -> str:
    """Work it out, unless that is done."""
    found = _late(board_id)
    job = _job(found, board_id)
    if job is None or (job.result is None and not job.running):
        names = {number: board.name for number, board in found.boards.items()}
        spare = view.evenings(found, board_id)

        def work(job: Job) -> Why:
            return cast(Why, job.apart(reasons, found.problem, board_id, spare, names))

        present.jobs().start(("why", board_id), _asked(found), work)
    return _shown(found, board_id)


def _late(board_id: int) -> State:
    found = state()
    return found if board_id in found.boards and board_id in found.problem.due else abort(404)


def _asked(found: State) -> dict[str, Any]:
    problem = found.problem
    return {"problem": problem.jobs, "windows": problem.windows[1:], "means": problem.means, "due": problem.due}


def _job(found: State, board_id: int) -> Job | None:
    """What was begun for the calendar as it is, None where nothing was."""
    job = present.jobs().get(("why", board_id))
    return job if job is not None and job.asked == _asked(found) else None


def _shown(found: State, board_id: int) -> str:
    job = _job(found, board_id)
    running = job is not None and job.running  # once for the whole page: it may end while that is written
    return render_template(
        "calendar/why.html", state=found, board=found.boards[board_id], job=job, running=running,
        why=None if running or job is None else job.result, late_by=view.late_by, later=view.later,
    )  # fmt: skip
