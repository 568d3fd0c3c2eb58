"""Cut list, log and calendar as tables."""

from __future__ import annotations

import io
from datetime import UTC, datetime, timedelta

import ezdxf

from laberinto.core.patterns import Alternating
from laberinto.demo.timber import hold, stock
from laberinto.files.table import rows_of
from laberinto.store import Store

from .conftest import Visitor


def test_the_cut_list_has_every_strip_of_the_batch(visitor: Visitor, store: Store) -> None:
    """Six strips 30 × 33 × 650 of two woods, three boards; rough sizes are larger by the shop's allowances."""
    plan = Alternating(strips=6, slices=6).plan("Shoal").model_copy(update={"times": 3})
    rows = rows_of(visitor.get(f"/boards/{store.create(plan)}/paper/cut-list.csv").get_data(as_text=True))
    assert sum(int(row["count"]) for row in rows) == 18 and {row["wood"] for row in rows} == {"Beech", "Plum"}
    for row in rows:
        assert (
            float(row["width"]) == 30
            and float(row["rough width"]) > 30
            and float(row["rough length"]) > float(row["length"])
        )


def test_the_log_has_what_was_done_and_measured(visitor: Visitor, store: Store, board: int) -> None:
    build, at = store.build(board), datetime(2026, 3, 2, 9, tzinfo=UTC)
    build.tick("strips.rough", at)
    build.write("strips.plane", "=cmd", 35.1, at + timedelta(hours=1), 35.0, "thickness", "mm", 2)
    rows = rows_of(visitor.get(f"/boards/{board}/paper/log.csv").get_data(as_text=True))
    assert [row["what"] for row in rows] == ["done", "measured"] and rows[0]["when"] == "2026-03-02T09:00:00+00:00"
    assert (rows[1]["text"], rows[1]["measured"], rows[1]["planned"], rows[1]["piece"]) == ("=cmd", "35.1", "35", "3")


def test_the_calendar_has_every_job_in_order(visitor: Visitor, store: Store) -> None:
    due = datetime.now(UTC) + timedelta(days=40)
    board = store.create(Alternating(strips=4, slices=4).plan("Skerry"), order_for="The chandler", due=due)
    rows = rows_of(visitor.get("/calendar/jobs.csv").get_data(as_text=True))
    assert rows and {row["board"] for row in rows} == {str(board)}
    begins = [datetime.fromisoformat(row["begins"]) for row in rows]
    assert begins == sorted(begins) and all(at.tzinfo for at in begins)
    for row, at in zip(rows, begins, strict=True):
        assert datetime.fromisoformat(row["ends"]) - at == timedelta(minutes=int(row["minutes"]))


def test_the_cut_plan_that_is_held_is_a_drawing(visitor: Visitor, store: Store) -> None:
    """A plank for each that is held, and as many strips as are cut from them."""
    board = store.create(Alternating(light="hornbeam", dark="elm", strips=4, slices=5).plan("Slipway"))
    assert visitor.get(f"/boards/{board}/paper/cut-plan.dxf").status_code == 404
    stock(store)
    hold(store, "Slipway")
    assert "Cut plan .dxf" in visitor.get(f"/boards/{board}/paper").get_data(as_text=True)
    drawing = ezdxf.read(io.StringIO(visitor.get(f"/boards/{board}/paper/cut-plan.dxf").get_data(as_text=True)))
    held = store.timber.cuts(board)[0].plan
    assert len(drawing.modelspace().query('LWPOLYLINE[layer=="planks"]')) == len(held.planks)
    pieces = sum(len(section.pieces) for plank in held.planks for section in plank.sections)
    assert len(drawing.modelspace().query('LWPOLYLINE[layer=="strips"]')) == pieces
