"""Pieces of any glue-up arranged so that one wood meets itself as little as can be found."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.judging.arrange.pieces import arrange_pieces, same_wood
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate

WOODS = ("ash", "elm", "plum")


def laid(*woods: str, dry: tuple[int, ...] = (), **glue: object) -> Plan:
    strips = [{"wood": wood, "width": 20} for wood in woods]
    return read_plan({
        "format": "laberinto-plan", "version": 1, "name": "Laid",
        "stages": [
            {"id": "s", "kind": "mill", "thickness": 30, "length": 200, "strips": strips},
            {"id": "p", "kind": "glue", "from": "s", "dry": dry, **glue},
        ],
    })  # fmt: skip


def test_woods_are_set_apart() -> None:
    """Three of ash, then three of elm: each joint is 200 × 30, and four of the five join a wood to itself. In turn none
    does."""
    plan = laid("ash", "ash", "ash", "elm", "elm", "elm")
    assert same_wood(simulate(plan), "p") == pytest.approx(4 * 6000)
    made = arrange_pieces(plan, "p")
    assert same_wood(simulate(made.plan), "p") == pytest.approx(0) and "0 cm² of joints, before 240" in made.words
    assert made == arrange_pieces(plan, "p")  # the same each time


def test_joints_that_stay_dry_do_not_count() -> None:
    """Two of ash and two of elm with a dry joint in the middle: ash elm | elm ash is as good as any."""
    made = arrange_pieces(laid("ash", "ash", "elm", "elm", dry=(2,)), "p").plan
    assert same_wood(simulate(made), "p") == pytest.approx(0)
    assert made.stage("p").dry == (2,)  # type: ignore[attr-defined]


def test_where_nothing_better_is_found_it_is_said() -> None:
    with pytest.raises(InputError, match="No better order was found"):
        arrange_pieces(laid("ash", "elm", "ash", "elm"), "p")
    with pytest.raises(InputError, match="From 3 to"):
        arrange_pieces(laid("ash", "elm"), "p")


@settings(max_examples=12)
@given(st.lists(st.sampled_from(WOODS), min_size=4, max_size=9), st.booleans())
def test_it_never_makes_it_worse(woods: list[str], upright: bool) -> None:
    plan = laid(*woods, across="thickness" if upright else "width")
    before = simulate(plan)
    try:
        made = arrange_pieces(plan, "p").plan
    except InputError:
        return
    after = simulate(made)
    assert same_wood(after, "p") < same_wood(before, "p")
    assert after.board.volume == pytest.approx(before.board.volume)
