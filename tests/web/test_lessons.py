"""A lesson of one board stands at the step of the next that it fits, once; it can be changed and dropped."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.lessons import When
from laberinto.core.errors import InputError
from laberinto.core.patterns import Alternating, Brick
from laberinto.store import Store

from .conftest import Visitor

PAGES = ("steps", "build", "bench")
SAID = "Net Loft taught:"


@pytest.fixture
def taught(visitor: Visitor, store: Store) -> int:
    """A board whose panel tore in the planer, and the lesson of it."""
    board = store.create(Alternating(strips=6, slices=6, light="beech").plan("Net Loft"))
    store.build(board).write("panel-flat.flatten", "Elm tears: half the bite.", None)
    page = visitor.get(f"/boards/{board}/build?at=panel-flat.flatten").get_data(as_text=True)
    assert "make it a lesson" in page
    form = visitor.get(f"/lessons/new?board={board}&step=panel-flat.flatten&text=Elm").get_data(as_text=True)
    assert 'value="flatten" selected' in form and "thickness planer" in form
    visitor.post("/lessons", board=board, step="panel-flat.flatten", text="Elm tears: half the bite.", kind="flatten")
    return board


def test_it_stands_at_the_first_step_that_fits_on_every_page_but_not_its_own(
    visitor: Visitor, store: Store, taught: int
) -> None:
    other = store.create(Alternating(strips=6, slices=6).plan("Skerry"))
    steps = visitor.get(f"/boards/{other}/steps").get_data(as_text=True)
    assert steps.count(SAID) == 1  # there are two flattenings; it is said once
    assert SAID in visitor.get(f"/boards/{other}/build?at=panel-flat.flatten").get_data(as_text=True)
    assert SAID in visitor.get(f"/boards/{other}/bench?at=panel-flat.flatten").get_data(as_text=True)
    assert SAID not in visitor.get(f"/boards/{other}/bench?at=slices.cut").get_data(as_text=True)
    assert all(SAID not in visitor.get(f"/boards/{taught}/{page}").get_data(as_text=True) for page in PAGES)


def test_it_is_changed_and_dropped_and_outlives_its_board(visitor: Visitor, store: Store, taught: int) -> None:
    other = store.create(Alternating(strips=6, slices=6).plan("Skerry"))
    (lesson,) = store.lessons.all()
    visitor.post(f"/lessons/{lesson.id}", text="A quarter of the bite.", kind="oil")
    page = visitor.get("/lessons").get_data(as_text=True)
    assert "A quarter of the bite." in page and "Said at oil" in page
    assert SAID in visitor.get(f"/boards/{other}/bench?at=oiled.dust").get_data(as_text=True)
    refused = visitor.post(f"/lessons/{lesson.id}", text="Everywhere.", kind="")
    assert refused.status_code == 422 and "fits everything is heard by nobody" in refused.get_data(as_text=True)
    store.delete(taught)
    assert store.lessons.all()[0].taught_by == "Net Loft" and visitor.get("/lessons").status_code == 200
    visitor.post(f"/lessons/{lesson.id}", drop="yes")
    assert not store.lessons.all() and "No lessons yet" in visitor.get("/lessons").get_data(as_text=True)
    assert visitor.post(f"/lessons/{lesson.id}", drop="yes").status_code == 404


def test_empty_or_endless_lessons_are_refused_beside_their_field(visitor: Visitor, store: Store, taught: int) -> None:
    for text, says in (("", "in a sentence"), ("x" * 401, "401 characters")):
        answer = visitor.post("/lessons", board=taught, step="panel-flat.flatten", text=text, kind="flatten")
        assert answer.status_code == 422 and says in answer.get_data(as_text=True)
    assert visitor.post("/lessons", board=taught, text="Odd.", kind="nothing").status_code == 422
    assert visitor.post("/lessons", board=999, text="Odd.", kind="oil").status_code == 404


def test_all_that_is_said_of_when_has_to_be_so() -> None:
    plan = Alternating(light="beech", dark="elm").plan("Any")
    assert When(kind="crosscut", wood="elm").at(plan) == "slices"
    assert When(kind="crosscut", wood="olive").at(plan) is None
    assert When(machine="thickness planer").at(plan) == "panel-flat"
    assert When(family="brick").at(plan) is None and When(family="brick").at(Brick().plan("Any")) == "strips"
    with pytest.raises(InputError):
        When()


def test_what_recurs_on_three_boards_is_offered_and_then_kept(visitor: Visitor, store: Store) -> None:
    """Panels 0.4, 0.5 and 0.3 under plan on the last three boards of a pattern: the median is 0.4."""
    for name, off in (("Haven", 0.4), ("Skerry", 0.5), ("Slip", 0.3)):
        board = store.create(Alternating(strips=6, slices=6).plan(name))
        store.build(board).write("panel-flat.flatten", "", 30 - off, planned=30.0, quantity="to")
    page = visitor.get("/lessons").get_data(as_text=True)
    assert "From your figures" in page and "0.4 mm under plan" in page
    visitor.post("/lessons", board=board, text="Plan 0.4 more.", kind="flatten", family="alternating")
    assert "From your figures" not in visitor.get("/lessons").get_data(as_text=True)


def test_a_lesson_may_hang_on_a_thickness_and_on_who_it_is_for(visitor: Visitor, store: Store) -> None:
    board = store.create(Alternating(strips=6, slices=6).plan("Haven"))
    store.orders.appoint(board, "the ferry galley", None)
    form = visitor.get(f"/lessons/new?board={board}&step=trimmed.ends").get_data(as_text=True)
    assert "the ferry galley" in form and "On boards so thick" in form
    visitor.post("/lessons", board=board, text="Feet at the corners.", order="the ferry galley")
    plan = Alternating(strips=6, slices=6).plan("Skerry")
    same, other = store.create(plan), store.create(plan)
    store.orders.appoint(same, "The Ferry Galley", None)
    said = [visitor.get(f"/boards/{one}/steps").get_data(as_text=True).count("Haven taught:") for one in (same, other)]
    assert said == [1, 0]


def test_thickness_is_about_so_much() -> None:
    """38 fits from 35 to 41."""
    plan = Alternating(strips=6, slices=6).plan("Any")
    when = When(thickness=38)
    assert [when.at(plan, thick) is not None for thick in (34.9, 35, 41, 41.1)] == [False, True, True, False]
    assert when.at(plan) is None
