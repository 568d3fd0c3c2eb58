"""Edits: what they change, what they keep, and what they refuse."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.edits import rows, set_parameters, strips
from laberinto.core.errors import InputError
from laberinto.core.fields import specs
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import Arrange, Flatten, Mill, Rule, Sand
from laberinto.core.stages.mill import StripTurn
from laberinto.core.units import Lengths

PLAN = Alternating(strips=6, slices=6).plan("Edited")


def marks(plan: Plan) -> list[int | None]:
    stage = plan.stage("strips")
    assert isinstance(stage, Mill)
    return [strip.mark for strip in stage.laid_out()]


def arrange(plan: Plan) -> Arrange:
    stage = plan.stage("rows")
    assert isinstance(stage, Arrange)
    return stage


@given(st.integers(0, 5), st.integers(0, 5))
def test_moving_a_strip_there_and_back_changes_nothing(one: int, other: int) -> None:
    moved = strips.move(PLAN, "strips", [one], other).plan
    assert marks(moved).index(one + 1) == other
    assert marks(strips.move(moved, "strips", [other], one).plan) == marks(PLAN)


def test_a_moved_strip_keeps_its_rings() -> None:
    before = {strip.mark: strip.rings for strip in simulate(PLAN).strips}
    after = {strip.mark: strip.rings for strip in simulate(strips.move(PLAN, "strips", [0], 4).plan).strips}
    assert before == after


def test_a_doubled_strip_is_of_other_stock() -> None:
    doubled = simulate(strips.duplicate(PLAN, "strips", [2]).plan).strips
    assert (doubled[2].wood, doubled[2].width) == (doubled[3].wood, doubled[3].width)
    assert doubled[2].rings != doubled[3].rings


@given(st.sampled_from(list(StripTurn)[1:]))
def test_turning_a_strip_twice_is_not_turning_it(turned: StripTurn) -> None:
    once = strips.turn(PLAN, "strips", [1], turned).plan
    assert once != PLAN
    twice = strips.turn(once, "strips", [1], turned).plan
    assert simulate(twice)["panel"].outcome is simulate(strips.move(PLAN, "strips", [0], 0).plan)["panel"].outcome


def test_the_last_strip_stays() -> None:
    one = Alternating().plan("x")
    for _ in range(9):
        one = strips.remove(one, "strips", [0]).plan
    with pytest.raises(InputError, match="at least one strip"):
        strips.remove(one, "strips", [0])


def test_an_unknown_wood_is_refused_at_its_field() -> None:
    with pytest.raises(InputError) as caught:
        strips.set_wood(PLAN, "strips", [3], "mdf")
    assert caught.value.field == "wood-3"


def test_turning_a_row_overrides_the_rule_and_turning_it_back_forgets() -> None:
    turned = rows.turn(PLAN, "rows", [1], Lie.FLIP).plan
    assert arrange(turned).turned == {2: Lie.AS_CUT}
    assert rows.turn(turned, "rows", [1], Lie.FLIP).plan == PLAN


def test_a_moved_row_takes_its_own_turn_along() -> None:
    turned = rows.turn(PLAN, "rows", [0], Lie.END_FOR_END).plan
    moved = rows.move(turned, "rows", [0], 3).plan
    laid = arrange(moved).rows(6)
    assert [number for number, _ in laid] == [2, 3, 4, 1, 5, 6]
    assert laid[3] == (1, Lie.END_FOR_END)
    assert arrange(rows.reset(moved, "rows").plan) == arrange(PLAN)


def test_a_change_of_count_keeps_what_was_arranged() -> None:
    moved = rows.move(PLAN, "rows", [5], 0).plan
    fewer = set_parameters(moved, "slices", {"count": "4"}, Lengths()).plan
    assert [n for n, _ in arrange(fewer).rows(4)] == [1, 2, 3, 4]
    again = set_parameters(fewer, "slices", {"count": "6"}, Lengths()).plan
    assert [n for n, _ in arrange(again).rows(6)] == [6, 1, 2, 3, 4, 5]


def test_text_left_alone_keeps_the_exact_value() -> None:
    inches = Lengths("in", 32)
    odd = set_parameters(PLAN, "strips", {"thickness": "33.3333 mm"}, inches).plan
    typed = {"thickness": inches.field(33.3333), "length": "30"}
    after = set_parameters(odd, "strips", typed, inches).plan.stage("strips")
    assert isinstance(after, Mill)
    assert (after.thickness, after.length) == (33.3333, 762.0)


def test_a_thickness_and_an_amount_exclude_each_other_and_the_newer_wins() -> None:
    flat = set_parameters(PLAN, "panel-flat", {"to": "30", "each_face": "2"}, Lengths()).plan.stage("panel-flat")
    assert isinstance(flat, Flatten)
    assert (flat.to, flat.each_face) == (None, 2.0)


@pytest.mark.parametrize(
    ("stage", "typed", "field", "says"),
    [
        ("slices", {"count": "3.5"}, "count", "whole number"),
        ("slices", {"count": "999"}, "count", "from 1 to 200"),
        ("slices", {"kerf": "blade"}, "kerf", "not a length"),
        ("slices", {"slice": ""}, "slice", "missing"),
        ("board", {"clamp_hours": "200"}, "clamp_hours", "from 0.5 to 96"),
        ("rows", {"rule": "sideways"}, "rule", "not one of"),
        ("sanded", {"grits": "80 sixty"}, "grits", "whole numbers"),
        ("sanded", {"grits": "220 80"}, "grits", "must rise"),
        ("panel-flat", {"to": "", "each_face": ""}, "to", "either a thickness"),
    ],
)
def test_a_wrong_value_is_refused_at_its_field(stage: str, typed: dict[str, str], field: str, says: str) -> None:
    with pytest.raises(InputError, match=says) as caught:
        set_parameters(PLAN, stage, typed, Lengths())
    assert caught.value.field == field


def test_every_plain_parameter_of_every_stage_describes_itself() -> None:
    for stage in PLAN.stages:
        for spec in specs(type(stage)):
            assert spec.label != spec.name
            assert spec.kind != "choice" or len(spec.choices) > 1
    assert {spec.name for spec in specs(Sand)} == {"grits", "raise_grain"}
    assert dict(specs(Arrange)[0].choices)[Rule.FLIP.value] == "flip every other"
