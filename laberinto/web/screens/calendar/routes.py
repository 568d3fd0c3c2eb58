"""Weeks and today, and what the calendar goes by."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import cast

from flask import Response, current_app, redirect, render_template, request, url_for

from laberinto.core.calendar.hours import DAYS
from laberinto.core.calendar.model import AIMS
from laberinto.core.errors import InputError
from laberinto.files.table import table

from ...app import present, reading
from ...app.lookup import find
from ...app.printing import begin
from ..steps import usual_paper
from ..steps.pdf import to_pdf
from . import view
from .blueprint import bp
from .settings import save, settings
from .state import DAYS as LOOKED_AT
from .state import NAME, State, state
from .state import begin as begin_search

SHEET_STYLE = "css/calendar-paper.css"
"""How the sheet looks on paper, where it stands alone."""


def _first() -> int:
    """From which day on the sheet is asked for, counted from today."""
    asked = reading.whole(request.values.get("from")) or 0
    return min(max(asked, 0), LOOKED_AT - view.SHOWN)


def shown(found: State, template: str = "calendar/page.html", **more: object) -> str:
    """The weeks."""
    first = _first()
    return render_template(
        template, state=found, first=first, sheet=view.sheet(found, first), last=LOOKED_AT - view.SHOWN,
        since=found.since and found.since.astimezone(found.settings.clock),
        slipped=[(found.boards[one.board], one.before, one) for one in found.slips.moved],
        late=[(found.boards[b], view.late_by(found.ready[b], found.problem.due[b])) for b in found.late],
        moved=present.store().calendar.last_move(), **more,
    )  # fmt: skip


@bp.get("")
def page() -> str:
    """Two weeks of all boards."""
    found = state()
    return shown(found, typed=found.settings.typed, days=DAYS, aims=AIMS, errors={})


@bp.get("/sheet")
def sheet() -> str:
    """The sheet alone, as it is asked for while the search goes on."""
    return shown(state(), "calendar/sheet.html")


@bp.post("/weeks.pdf")
def paper() -> Response:
    """Two weeks to pin up."""
    found = state()
    style = (Path(current_app.static_folder or "") / SHEET_STYLE).read_text()
    html = render_template(
        "calendar/paper.html", sheet=view.sheet(found, _first(), style), size=usual_paper(),
        today=datetime.now(UTC),
    )  # fmt: skip
    return begin(html, 0, "laberinto-weeks", to_pdf)


COLUMNS = (
    "board", "name", "job", "begins", "ends", "minutes", "then waits", "soonest", "latest", "critical",
)  # fmt: skip


@bp.get("/jobs.csv")
def jobs_csv() -> Response:
    """Every job of the calendar as a table, in the order of their times; times have their zone, waits are minutes."""
    found = state()
    rows = [
        (
            board, found.boards[board].name, one.job.title, one.begins,
            one.begins + timedelta(minutes=one.job.minutes) if one.begins else None, one.job.minutes, one.waits,
            one.soonest, one.latest, "yes" if one.critical else "",
        )
        for board in found.boards for one in view.dated(found, board)
    ]  # fmt: skip
    rows.sort(key=lambda row: str(row[3] or "~"))
    response = Response(table(COLUMNS, rows), mimetype="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = 'attachment; filename="laberinto-calendar.csv"'
    return response


@bp.get("/today")
def today() -> str:
    """What to do today, in order, and what then stands in the clamps."""
    found = state()
    hours = view.today(found)
    if hours is None:
        return render_template("calendar/today.html", state=found, hours=None)
    low, high, is_today = hours
    return render_template(
        "calendar/today.html", state=found, hours=(found.moment(low), found.moment(high)),
        today=is_today, going=view.goings(found, low, high), standing=view.standing(found, high),
        indoors=view.indoors(found, high, present.shop()), shop=present.shop(),
    )  # fmt: skip


@bp.get("/of/<int:board_id>")
def of_board(board_id: int) -> str:
    """When everything that is left to do on a board can be done; stands in the board's own pages."""
    found, board = state(), find(board_id)
    return render_template(
        "calendar/of_board.html", state=found, board=board, dates=view.dated(found, board_id),
        ready=found.moment(found.ready[board_id]) if board_id in found.ready else None,
    )  # fmt: skip


@bp.post("/hours")
def hours() -> Response | tuple[str, int]:
    """Keep the hours, and what matters most."""
    try:
        save(present.store(), request.form)
    except InputError as error:
        found = state()
        return shown(
            found, typed={**settings(present.store()).typed, **request.form.to_dict()}, days=DAYS, aims=AIMS,
            errors={error.field: str(error)},
        ), 422  # fmt: skip
    return cast(Response, redirect(url_for("calendar.page"), 303))


@bp.post("/look")
def look() -> str | tuple[str, int]:
    """Look for the best calendar, where it is not known yet."""
    found = state()
    if found.wanted:
        begin_search(found)
    if request.headers.get("HX-Target") != "calendar-sheet":
        return "", 204
    return shown(state(), "calendar/sheet.html")


@bp.post("/enough")
def enough() -> str:
    """Take the best so far and look no further."""
    search = present.jobs().get(NAME)
    if search is not None:
        search.enough.set()
        search.done.wait(5)
    return shown(state(), "calendar/sheet.html")
