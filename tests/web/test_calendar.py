"""The calendar's pages: hours, pins, why not, and what other programs read."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, time, timedelta, tzinfo
from io import BytesIO

import pytest
import vobject
from flask import Flask
from icalendar import Calendar
from pypdf import PdfReader

from laberinto.core.calendar.model import Aim, Found
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Store
from laberinto.web.app.jobs import Jobs
from laberinto.web.screens.calendar import state as state_module
from laberinto.web.screens.calendar.state import NAME, begin, proof, state

from .conftest import Visitor

PLAN = Alternating(strips=6, strip_width=30, row=30, slices=6).plan("Slipway")
EVERY_DAY = {f"day-{at}": "8-18" for at in range(7)}


class Nine(datetime):
    """A clock that stands at nine in the morning of today, so that a day is as long whenever this is run."""

    @classmethod
    def now(cls, tz: tzinfo | None = None) -> datetime:  # type: ignore[override]
        return datetime.combine(datetime.now(tz or UTC).date(), time(9), tz or UTC)


@pytest.fixture(autouse=True)
def _at_nine(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(state_module, "datetime", Nine)


def test_what_is_proven_says_what_it_holds_with() -> None:
    """By what was proven before it or, where nothing was, by the calendar that is shown."""

    def said(late: int, at_least: int | None, *aims: Aim) -> str:
        bounds = {Aim.SOON: 900} | ({} if at_least is None else {Aim.LATE: at_least})
        return proof(Found({}, values={Aim.LATE: late, Aim.SOON: 1080, Aim.EVENINGS: 4}, bounds=bounds), aims)

    later = "all of it is ready at most 3 hours later than the soonest there can be."
    assert said(0, None, Aim.LATE, Aim.SOON) == f"Nothing is late; with that, {later}"
    assert said(60, 60, Aim.LATE) == "Proven: the days lost cannot be fewer in all."
    assert said(60, 0, Aim.LATE, Aim.SOON) == f"With no more days lost than here, {later}"
    assert said(60, 0, Aim.EVENINGS, Aim.SOON) == f"In no more times in the shop than here, {later}"
    assert said(60, 0, Aim.LATE, Aim.EVENINGS) == "The best that was found."


@pytest.fixture
def board(store: Store, visitor: Visitor) -> int:
    """A board that is due in four weeks, and hours on every day."""
    visitor.post("/calendar/hours", **EVERY_DAY)
    return store.create(PLAN, order_for="The chandler", due=datetime.now(UTC) + timedelta(days=28))


def page(visitor: Visitor, app: Flask, path: str = "/calendar") -> str:
    """A page once the search is over."""
    if 'hx-trigger="load"' in visitor.get(path).get_data(as_text=True):
        visitor.post("/calendar/look")
    jobs: Jobs = app.extensions["jobs"]
    if (search := jobs.get(("calendar", 0))) is not None:
        assert search.done.wait(120) and search.error is None and not search.failed
    return visitor.get(path).get_data(as_text=True)


def test_nothing_to_plan(visitor: Visitor) -> None:
    assert "Nothing to plan" in visitor.get("/calendar").get_data(as_text=True)
    assert "Nothing is to be done" in visitor.get("/calendar/today").get_data(as_text=True)


def test_the_weeks_and_what_is_proven(visitor: Visitor, app: Flask, board: int) -> None:
    text = page(visitor, app)
    assert "Nothing is late" in text and "ready" in text
    assert text.count('class="cal-bar') == 16 and 'class="cal-due"' not in text  # it is due behind these two weeks
    assert 'class="cal-due"' in page(visitor, app, "/calendar?from=20")
    today = visitor.get("/calendar/today").get_data(as_text=True)
    assert "Cut the wood rough" in today and "In the clamps when you leave" in today


def test_a_calendar_that_was_found_is_kept(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    page(visitor, app)
    kept = store.calendar.found()
    app.extensions["jobs"] = Jobs()  # as after a start anew
    assert "A first calendar" not in visitor.get("/calendar").get_data(as_text=True)
    assert store.calendar.found() == kept


def test_just_after_midnight_what_was_found_still_stands(visitor: Visitor, app: Flask, board: int) -> None:
    """A job may be a little behind its time, and that moment may lie on the day before."""
    page(visitor, app)
    midnight = datetime.combine(datetime.now().astimezone().date() + timedelta(days=1), time()).astimezone()
    with app.test_request_context():
        first = state(midnight + timedelta(minutes=10))
        if first.wanted:
            begin(first)
        search = app.extensions["jobs"].get(NAME)
        assert search.done.wait(120)
        again = state(midnight + timedelta(minutes=20))
    assert again.best and again.found.starts == (first.found if first.best else search.result).starts


def test_hours_that_cannot_be_read_stand_beside_their_field_and_nothing_is_kept(visitor: Visitor, board: int) -> None:
    answer = visitor.post("/calendar/hours", **{**EVERY_DAY, "day-2": "18-17", "apart": "2027-01-01 away"})
    text = answer.get_data(as_text=True)
    assert answer.status_code == 422 and "18:00 to 17:00 ends before it begins" in text
    assert 'value="18-17"' in text and "2027-01-01 away" in text  # as it was typed
    again = visitor.get("/calendar").get_data(as_text=True)
    assert "18-17" not in again and "2027-01-01" not in again
    for typed, said in (({"zone": "Atlantis"}, "no time zone"), ({"first": "beauty"}, "Choose what matters most")):
        assert said in visitor.post("/calendar/hours", **typed).get_data(as_text=True)


def test_a_week_without_hours_says_so(visitor: Visitor, board: int) -> None:
    visitor.post("/calendar/hours", **{f"day-{at}": "" for at in range(7)})
    assert "There are no hours to work in" in visitor.get("/calendar").get_data(as_text=True)
    assert "There are no hours to work in" in visitor.get("/calendar/today").get_data(as_text=True)


def placed(text: str, job: str) -> int:
    """The day on which a job stands, counted from today."""
    found = re.search(rf'data-job="{re.escape(job)}" data-day="(\d+)"', text)
    assert found
    return int(found[1])


def test_a_job_is_pinned_to_a_day_let_go_and_the_move_taken_back(visitor: Visitor, app: Flask, board: int) -> None:
    job = f"{board}.strips.rough"
    before = placed(page(visitor, app), job)
    day = (datetime.now().astimezone() + timedelta(days=before + 3)).date().isoformat()
    moved = visitor.post("/calendar/move", job=job, day=day).get_data(as_text=True)
    assert placed(moved, job) == before + 3 and "pinned" in moved
    assert placed(page(visitor, app), job) == before + 3  # and it stays
    assert placed(visitor.post("/calendar/move", job=job, day="").get_data(as_text=True), job) == before
    assert placed(visitor.post("/calendar/undo").get_data(as_text=True), job) == before + 3
    assert placed(visitor.post("/calendar/undo").get_data(as_text=True), job) == before


def test_what_cannot_be_moved_there_stays(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    page(visitor, app)
    for job, day, said in (
        (f"{board}.strips.rough", "2020-01-01", "finds no room"), (f"{board}.strips.rough", "soon", "no day soon"),
        ("7.gone", "2027-01-01", "done or gone meanwhile"),
    ):  # fmt: skip
        answer = visitor.post("/calendar/move", job=job, day=day)
        assert answer.status_code == 422 and said in answer.get_data(as_text=True)
    assert not store.calendar.pins()


def test_a_tick_moves_what_comes_after(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    first = page(visitor, app)
    todo = steps(simulate(PLAN))
    for step in todo[:6]:
        for key in step.keys:
            store.build(board).tick(key)
    later = page(visitor, app)
    assert f'data-job="{board}.strips.rough"' in first and f'data-job="{board}.strips.rough"' not in later
    for step in todo:
        for key in step.keys:
            store.build(board).tick(key)
    assert "Nothing to plan" in page(visitor, app)


def test_a_board_that_cannot_be_built_takes_no_other_down(
    visitor: Visitor, app: Flask, board: int, store: Store
) -> None:
    broken = PLAN.with_stage(PLAN.stage("slices").model_copy(update={"count": 60}))
    store.create(broken.model_copy(update={"name": "Wreck"}), due=datetime.now(UTC) + timedelta(days=9))
    text = page(visitor, app)
    assert "Slipway" in text and "Wreck" in text and "To know" in text


def test_why_a_day_cannot_be_met(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    late = store.create(PLAN.model_copy(update={"name": "Ladder"}), due=datetime.now(UTC) + timedelta(days=1))
    text = page(visitor, app)
    assert "Not ready by their day" in text and "days late" in text
    assert "hx-post" in visitor.get(f"/calendar/why/{late}").get_data(as_text=True)  # looking begins nothing
    visitor.post(f"/calendar/why/{late}")
    job = app.extensions["jobs"].get(("why", late))
    assert job.done.wait(120) and not job.failed
    said = visitor.get(f"/calendar/why/{late}").get_data(as_text=True)
    assert "Even with nothing else to do" in said and "Its rest off the clamps cut to a day" in said and "warps" in said
    assert visitor.get("/calendar/why/999").status_code == 404


def test_other_programs_read_it_and_a_job_that_moves_keeps_its_name(visitor: Visitor, app: Flask, board: int) -> None:
    page(visitor, app)
    read = Calendar.from_ical(visitor.get("/calendar/boards.ics").data)
    events = {str(event["UID"]): event for event in read.walk("VEVENT")}
    assert len(events) == 16
    glue = next(event for event in events.values() if "Glue up the panel" in event["SUMMARY"])
    assert "clamps until" in glue["DESCRIPTION"] and glue["SUMMARY"].startswith("Slipway: ")
    assert (glue.decoded("DTEND") - glue.decoded("DTSTART")) == timedelta(minutes=30)
    other = list(vobject.readOne(visitor.get("/calendar/boards.ics").get_data(as_text=True)).vevent_list)
    assert {event.uid.value for event in other} == set(events)
    job = f"{board}.strips.rough"
    day = (datetime.now().astimezone() + timedelta(days=5)).date()
    visitor.post("/calendar/move", job=job, day=day.isoformat())
    moved = Calendar.from_ical(visitor.get("/calendar/boards.ics").data).walk("VEVENT")
    assert {str(event["UID"]) for event in moved} == set(events)
    rough = next(event for event in moved if "Cut the wood rough" in event["SUMMARY"])
    assert rough.decoded("DTSTART").astimezone().date() == day


def test_an_address_to_subscribe_to_can_be_renewed_and_taken_back(visitor: Visitor, app: Flask, board: int) -> None:
    assert visitor.get("/calendar/shared//boards.ics").status_code == 404

    def address() -> str:
        found = re.search(r"/calendar/shared/[\w-]+/boards\.ics", visitor.get("/calendar").get_data(as_text=True))
        return found[0] if found else ""

    assert not address()
    visitor.post("/calendar/share", share="on")
    first = address()
    assert visitor.get(first).mimetype == "text/calendar"
    search = app.extensions["jobs"].get(NAME)  # begun by it, so that the next time the best is at hand
    assert search.done.wait(120) and not search.failed and "A first calendar" not in page(visitor, app)
    visitor.post("/calendar/hours", **EVERY_DAY)
    assert address() == first  # other hours change no address
    visitor.post("/calendar/share", share="on")
    assert visitor.get(first).status_code == 404 and visitor.get(address()).status_code == 200
    visitor.post("/calendar/share", share="off")
    assert not address()


def test_the_weeks_on_paper(visitor: Visitor, app: Flask, board: int) -> None:
    page(visitor, app)
    sheet = PdfReader(BytesIO(visitor.printed("/calendar/weeks.pdf").data))
    text = sheet.pages[0].extract_text()
    assert len(sheet.pages) == 1 and "The weeks" in text and "Slipway" in text and "Clamps on" in text
    wide, tall = (float(v) for v in sheet.pages[0].mediabox[2:])
    assert wide > tall


class InThreeDays(Nine):
    """The same clock three days on."""

    @classmethod
    def now(cls, tz: tzinfo | None = None) -> datetime:  # type: ignore[override]
        return Nine.now(tz) + timedelta(days=3)


def test_what_slips_says_which_promise_it_moves(
    visitor: Visitor, app: Flask, board: int, store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Promised for the very day on which it can be ready: three days in which nothing is ticked break that."""
    page(visitor, app)
    ready = state_ready(app, board)
    order = store.board(board)
    assert order and order.order
    store.orders.appoint(board, "The chandler", ready + timedelta(hours=1))
    assert "What moved" not in page(visitor, app)
    monkeypatch.setattr(state_module, "datetime", InThreeDays)
    text = page(visitor, app)
    assert "What moved since" in text and "which breaks its promise for" in text
    assert "cut the wood rough: was to be done by" in text and "and is not ticked" in text
    store.build(board).tick("strips.rough")
    assert "cut the wood rough: was to be done by" not in page(visitor, app)


def state_ready(app: Flask, board: int) -> datetime:
    """When a board is ready."""
    with app.test_request_context():
        found = state()
        return found.moment(found.ready[board])


def test_a_boards_own_dates_stand_with_its_steps(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    page(visitor, app)
    assert f'hx-get="/calendar/of/{board}"' in visitor.get(f"/boards/{board}/steps").get_data(as_text=True)
    text = visitor.get(f"/calendar/of/{board}").get_data(as_text=True)
    assert "16 jobs" in text and "Cut the wood rough" in text and "At the latest" in text and "promised for" in text
    other = store.create(PLAN)
    assert "It is not on the calendar" in visitor.get(f"/calendar/of/{other}").get_data(as_text=True)
    assert visitor.get("/calendar/of/999").status_code == 404


def test_pieces_that_are_counted_shorten_their_job(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    """Six strips at 4 minutes: three planed leave half of that step's share."""
    with app.test_request_context():
        before = {name: job.minutes for name, job in state().jobs.items()}
        key = next(name for name, job in state().jobs.items() if job.title.startswith("Square one end"))
    cut = next(step for step in steps(simulate(PLAN)) if step.key == "slices.cut")
    store.build(board).tick("slices.square")
    store.bench.bring(board, "slices.cut", cut.pieces // 2)
    with app.test_request_context():
        assert state().jobs[key].minutes < before[key]


def test_in_a_cold_shop_what_is_glued_goes_indoors(visitor: Visitor, app: Flask, board: int, store: Store) -> None:
    """Waterproof PVA glue wants ten degrees: at twelve nothing is said, at six the panel is that stands in the clamps."""
    for air, said in (("12", False), ("6", True)):
        store.prefer("shop", json.dumps({"air": float(air)}))
        text = page(visitor, app, "/calendar/today")
        assert ("Take indoors for the night" in text and "6 °C" in text) is said
        assert ("the waterproof PVA glue" in text) is said
