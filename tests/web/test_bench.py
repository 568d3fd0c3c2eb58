"""One step at arm's length: pieces counted, timers that live on the server, and the hand they are for."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta

import pytest

from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import BenchStore, Store
from laberinto.web.app import present

from .conftest import Visitor

NOON = datetime(2027, 3, 14, 12, 0, tzinfo=UTC)


def test_each_step_is_walked_and_ticked(visitor: Visitor, store: Store, board: int) -> None:
    view = store.board(board)
    assert view is not None
    todo = steps(simulate(view.plan))
    for number, step in enumerate(todo, 1):
        page = visitor.get(f"/boards/{board}/bench").get_data(as_text=True)
        assert f"Step {number} of {len(todo)}" in page and step.heading in page
        visitor.post(f"/boards/{board}/bench/done", step=step.key)
    assert "All steps are done" in visitor.get(f"/boards/{board}/bench").get_data(as_text=True)
    assert visitor.post(f"/boards/{board}/bench/done", step="nowhere").status_code == 404


def test_pieces_are_counted_and_the_pace_says_when(store: Store, board: int, visitor: Visitor) -> None:
    """Three of six in the four minutes from the first: two minutes each, so the other three take six more."""
    for at in (0, 2, 4):
        store.bench.tap(board, "slices.cut", at=NOON + timedelta(minutes=at))
    tally = store.bench.tally(board, "slices.cut")
    assert tally is not None and tally.count == 3 and tally.each == timedelta(minutes=2)
    assert tally.done_at(6) == NOON + timedelta(minutes=10) and tally.done_at(3) is None
    page = visitor.get(f"/boards/{board}/bench?at=slices.cut").get_data(as_text=True)
    assert '<strong id="hand-count">3</strong> of 6' in page and "2 min each" in page
    visitor.post(f"/boards/{board}/bench/tap", step="slices.cut", by="less")
    assert store.bench.tally(board, "slices.cut").count == 2  # type: ignore[union-attr]
    # a count that waited for the server is said with how long ago it was, and twice is once
    for _ in range(2):
        visitor.post(f"/boards/{board}/bench/tap", step="slices.cut", count="5", ago="90")
    tally = store.bench.tally(board, "slices.cut")
    assert tally is not None and tally.count == 5
    assert 89 < (datetime.now(UTC) - tally.last).total_seconds() < 150
    for _ in range(6):
        store.bench.tap(board, "slices.cut", -1)
    assert store.bench.tally(board, "slices.cut") is None


def test_what_is_counted_is_what_the_step_does() -> None:
    """A checker of six by six: six strips, five joints, six slices, six rows, five joints between them."""
    todo = {s.key: s.pieces for s in steps(simulate(FAMILIES["alternating"].of(strips=6, slices=6).plan("x")))}
    assert [todo[key] for key in ("strips.rip", "panel.glue", "slices.cut", "rows.rows", "board.glue")] == [
        6,
        5,
        6,
        6,
        5,
    ]
    assert todo["panel-flat.flatten"] == 0  # one panel is no count


def test_timers_run_on_every_page_and_are_off_by_nothing(visitor: Visitor, store: Store, board: int) -> None:
    number = store.bench.start("In the clamps", 60, board, at=NOON)
    (timer,) = store.bench.timers()
    assert timer.name == "Shoal" and timer.left(NOON + timedelta(hours=1)) == timedelta(0)
    assert timer.left(NOON + timedelta(minutes=59, seconds=59.5)) == timedelta(seconds=0.5)
    for address in ("/", "/timber", f"/boards/{board}", "/nowhere"):
        page = visitor.get(address).get_data(as_text=True)
        ends = re.search(r'id="timer-\d+".*?data-ends="(\d+)"', page)
        assert ends and int(ends[1]) == round((NOON + timedelta(hours=1)).timestamp() * 1000), address
        now = re.search(r'data-now="(\d+)"', page)
        assert now and abs(int(now[1]) / 1000 - datetime.now(UTC).timestamp()) < 60
    visitor.post(f"/timers/{number}/stop", back="/timber")
    assert store.bench.timers() == [] and 'id="timers"' not in visitor.get("/").get_data(as_text=True)


def test_a_step_offers_its_own_timers(visitor: Visitor, store: Store, board: int) -> None:
    page = visitor.get(f"/boards/{board}/bench?at=panel.glue").get_data(as_text=True)
    offered = re.findall(r'name="label" value="([^"]+)".*?name="minutes" value="([\d.]+)"', page)
    told = [(label, float(span)) for label, span in offered]
    assert told == [("Open time of the glue", 10), ("Pressure must be on", 15), ("Wait after: glue up the panel", 720)]
    answer = visitor.post(
        "/timers", board=str(board), label=offered[1][0], minutes=offered[1][1], back=f"/boards/{board}/bench"
    )
    assert answer.headers["Location"] == f"/boards/{board}/bench" and len(store.bench.timers()) == 1


@pytest.mark.parametrize("minutes", ["", "soon", "0", "-3", "99999999"])
def test_what_is_no_time_is_said(visitor: Visitor, store: Store, board: int, minutes: str) -> None:
    answer = visitor.post("/timers", board=str(board), minutes=minutes, step="panel.glue")
    assert answer.status_code == 422 and 'role="alert"' in answer.get_data(as_text=True)
    assert store.bench.timers() == []


@pytest.mark.parametrize("back", ["//elsewhere.example/", "https://elsewhere.example/", "\\\\elsewhere", ""])
def test_a_timer_leads_to_no_other_site(visitor: Visitor, back: str) -> None:
    assert visitor.post("/timers", minutes="5", back=back).headers["Location"] == "/"


def test_buttons_for_the_left_hand(visitor: Visitor, board: int) -> None:
    assert "left-handed" not in visitor.get(f"/boards/{board}/bench").get_data(as_text=True)
    visitor.post("/preference", key="hand", value="left", back="/shop")
    assert "left-handed" in visitor.get(f"/boards/{board}/bench").get_data(as_text=True)


def test_a_deleted_board_takes_its_counts_and_timers_along(store: Store, board: int) -> None:
    store.bench.tap(board, "slices.cut")
    store.bench.start("Rest", 10, board)
    store.bench.start("Kettle", 5)
    store.delete(board)
    assert [timer.label for timer in store.bench.timers()] == ["Kettle"]


def test_a_pages_clock_is_read_before_its_count(visitor: Visitor, board: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """A page that was read before a press and came after it would else pass for the newer one, with the older count."""
    order: list[str] = []
    clock, tally = present.now_ms, BenchStore.tally
    monkeypatch.setattr(present, "now_ms", lambda: order.append("clock") or clock())
    monkeypatch.setattr(BenchStore, "tally", lambda *given: order.append("count") or tally(*given))
    visitor.get(f"/boards/{board}/bench?at=strips.rip")
    assert "count" in order and order[: order.index("count")] == ["clock"]


def test_a_press_that_was_overtaken_on_its_way_takes_nothing_back(visitor: Visitor, store: Store, board: int) -> None:
    for press, count in (("a-1", "1"), ("a-3", "3"), ("a-2", "2"), ("b-1", "4"), ("a-4", "5")):
        sent = visitor.post(f"/boards/{board}/bench/tap", htmx=True, step="strips.rip", count=count, press=press)
        assert sent.status_code == 200
        tally = store.bench.tally(board, "strips.rip")
        assert tally is not None and tally.count == {"a-2": 3}.get(press, int(count))


def test_a_batch_is_counted_over_all_its_boards(visitor: Visitor, store: Store, board: int) -> None:
    """Three boards of one plan: three times the slices of one, and a board's own flattening three times."""
    view = store.board(board)
    assert view is not None
    one = {step.key: step for step in steps(simulate(view.plan))}
    batch = view.plan.model_copy(update={"times": 3})
    many = {step.key: step for step in steps(simulate(batch))}
    assert (
        many["slices.cut"].pieces == 3 * one["slices.cut"].pieces
        and many["slices.cut"].a_board == one["slices.cut"].pieces
    )
    assert one["board-flat.flatten"].pieces == 0 and many["board-flat.flatten"].pieces == 3
    assert many["board.rest"].pieces == 0  # nothing is done while it rests
    store.save(board, batch, "made 3 times", based_on=view.revision)
    page = visitor.get(f"/boards/{board}/bench?at=slices.cut").get_data(as_text=True)
    assert f"of {many['slices.cut'].pieces}" in page and f"3 boards, {one['slices.cut'].pieces} each" in page
