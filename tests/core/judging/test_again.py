"""Planned chaos, and whether to cut it again."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.edits import pattern
from laberinto.core.edits.again import cut_again, cut_stage
from laberinto.core.errors import InputError
from laberinto.core.judging.outlook import outlook
from laberinto.core.patterns import Alternating
from laberinto.core.patterns.chaos import Chaos, Pass, Turning
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Crosscut, Glue, Rip
from laberinto.core.units import Lengths
from laberinto.demo.bricks import ladder

MM = Lengths()


def test_a_chaos_plan_is_what_its_passes_say() -> None:
    """Pass 1 rips to 30 throughout and rolls every other; pass 2 rips between limits at 5°, turns over, and is trued."""
    family = Chaos.of(**{"passes": 2, "least-1": 30.0, "most-1": 30.0, "skew-2": 5.0, "seed": 7})
    plan = family.plan("Groyne")
    first, second = plan.stage("rip-1"), plan.stage("rip-2")
    assert isinstance(first, Rip) and isinstance(second, Rip)
    assert set(first.widths) == {30.0} and second.skew == 5.0
    assert all(26 <= width <= 36 for width in second.widths) and len(set(second.widths)) > 2
    glued = plan.stage("panel-1")
    assert isinstance(glued, Glue) and glued.turns == ("as it lies", "quarter roll")
    sim = simulate(plan)
    assert sim["trued-2"].volume == pytest.approx(
        sim["trued-2"].size[0] * sim["trued-2"].size[1] * sim["trued-2"].size[2]
    )
    # the panel is 34 flat; rolled strips of 30 level it to 30, less 1 off either face
    assert sim["flat-1"].size[2] == pytest.approx(28)


@given(
    passes=st.integers(1, 4), seed=st.integers(0, 50), halve=st.booleans(), splice=st.booleans(),
    turning=st.sampled_from(Turning), skew=st.sampled_from([0.0, 4.0, -7.0]),
)  # fmt: skip
@settings(max_examples=25)
def test_a_chaos_plan_builds_or_says_which_pass_cannot_be(
    passes: int, seed: int, halve: bool, splice: bool, turning: Turning, skew: float
) -> None:
    settings_ = {"halve-1": halve, "splice-1": splice, f"turning-{passes}": turning, f"skew-{passes}": skew}
    try:
        plan = Chaos.of(passes=passes, seed=seed, **settings_).plan("Dunlin")
    except InputError as error:
        assert error.field and str(error).endswith((".", "wider."))
        return
    sim = simulate(plan)
    assert sim.board.volume > 0 and sim.board.size[2] == pytest.approx(38)
    again = Chaos.of(passes=passes, seed=seed, **settings_).plan("Dunlin")
    assert again == plan


@pytest.mark.parametrize(
    ("values", "field", "says"),
    [
        ({"bevel-1": 10.0}, "turning-1", "Bevelled strips only nest as they lie"),
        ({"passes": 2, "splice-2": True}, "splice-2", "wedge"),
        ({"least-1": 40.0}, "most-1", "Take 40 mm or more"),
        ({"passes": 6}, "passes", "or take 5 passes"),
        ({"skew-1": 99.0}, "skew-1", "at most"),
        ({"light": "pear"}, "mid", "same wood"),
    ],
)
def test_passes_that_cannot_be_are_refused_at_their_field(values: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(InputError) as caught:
        Chaos.of(**values).plan("x")
    assert says in str(caught.value) and caught.value.field.split("-")[0] in (field.split("-")[0], "most")


def test_the_fields_of_a_pass_come_with_it() -> None:
    names = [spec.name for spec in Chaos.specs_for({"passes": "3"})]
    assert {"skew-1", "halve-2", "least-3"} <= set(names) and "skew-4" not in names
    assert Chaos.specs_for({"passes": "many"}) == Chaos.specs()
    assert Chaos().value("skew-2") == Pass(turning=Turning.FLIP, skew=6.0).skew


def test_a_pass_can_be_changed_on_the_board() -> None:
    plan = Chaos().plan("x")
    after = pattern.set_pattern(plan, {"skew-2": "3", "passes": "2"}, MM)
    assert after.words == "Chaos: skew 6 → 3" and after.plan.stage("rip-2").skew == 3
    more = pattern.set_pattern(plan, {"passes": "3", "skew-3": "2"}, MM).plan
    assert more.stage("rip-3").skew == 2
    assert simulate(more).board.volume > 0


def test_cut_again_by_hand() -> None:
    """A panel of ten strips of 30, 30 thick: pass 1 rips it to nine strips of 30 with 3 mm kerfs, as ten would need
    327; they lie 270 wide and are flattened to 28."""
    plan = Alternating().plan("x")
    cut = cut_stage(plan)
    assert isinstance(cut, Crosscut) and cut.id == "slices"
    once = cut_again(plan, 1, 1, Shop())
    assert once.words == "cut again, 1 time"
    sim = simulate(once.plan)
    assert sim["again-flat-1"].size[::2] == pytest.approx((270, 28))
    assert sim.board.size == pytest.approx((264, 13 * 28 - 6, 38))
    assert cut_again(plan, 0, 1, Shop()).plan == plan and cut_again(plan, 0, 1, Shop()).words == ""


def test_the_outlook_is_the_plans_it_offers() -> None:
    plan = Alternating().plan("x")
    found = outlook(plan, seed=3)
    assert [point.passes for point in found.points] == list(range(len(found.points))) and len(found.points) >= 3
    for point in found.points:
        assert point.plan == cut_again(plan, point.passes, 3, Shop()).plan
        assert point.size == simulate(point.plan).board.size
    faces = [point.size[0] * point.size[1] for point in found.points]
    assert faces == sorted(faces, reverse=True)
    assert [point.effort.glue_ups for point in found.points] == list(range(2, 2 + len(found.points)))
    assert found.points[found.best].worth == max(point.worth for point in found.points)
    for point in found.points:
        assert point.worth == pytest.approx(point.disorder * point.size[0] * point.size[1] / faces[0])


def test_a_plan_of_several_panels_says_why_it_cannot_be_cut_again() -> None:
    with pytest.raises(InputError, match="cuts no slices to arrange"):
        cut_again(
            Alternating().plan("x").model_copy(update={"stages": Alternating().plan("x").stages[:2]}), 1, 1, Shop()
        )
    twice = ladder()
    assert (
        cut_again(twice, 1, 1, Shop()).plan.stage("again-rip-1").source == "brick-flat"
    )  # only the panel that is cut first


def test_a_search_of_passes_can_be_stopped() -> None:
    assert len(outlook(Alternating().plan("x"), progress=lambda passes: passes < 1).points) == 2
