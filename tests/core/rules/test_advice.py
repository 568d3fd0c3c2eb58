"""Checks and steps: every rule has a plan that trips it and a near-identical one that does not."""

import numpy as np
import pytest

from laberinto.core.errors import InputError
from laberinto.core.geometry.joints import joints_between
from laberinto.core.geometry.rotations import Pose, Turn
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Check, Severity, check
from laberinto.core.solid import boxes, join
from laberinto.core.stages import Cause
from laberinto.core.steps import DEFER, steps
from laberinto.core.units import Lengths

BASE = Alternating(light="sycamore", dark="pear")


def changed(stage: str, **values: object) -> Plan:
    plan = BASE.plan("Advice")
    before = plan.stage(stage)
    return plan.with_stage(type(before).model_validate(before.model_dump() | values))


def without_strips(*gone: int) -> Plan:
    data = BASE.plan("Advice").as_dict()
    data["stages"][0]["strips"] = [s for i, s in enumerate(data["stages"][0]["strips"]) if i not in gone]
    return read_plan(data)


def findings(plan: Plan) -> list[Check]:
    return check(simulate(plan))


def test_a_sound_plan_says_nothing() -> None:
    assert findings(BASE.plan("Advice")) == []


@pytest.mark.parametrize(
    ("plan", "near", "stage", "severity", "says", "fix"),
    [
        (without_strips(9), without_strips(8, 9), "rows", Severity.STOP, "9 strips reads the same", "Take 8 or 10 strips"),
        # 5 + 13 × 45 = 590 are used, so 630 leaves 40 and 650 leaves 60
        (changed("strips", length=630.0), changed("strips", length=645.0), "slices", Severity.CAUTION, "Only 40 mm", "10 mm longer"),
        (BASE.changed(strip_width=9).plan("Advice"), BASE.changed(strip_width=10).plan("Advice"), "strips", Severity.CAUTION, "bend", "caul"),
        (
            BASE.changed(strips=12).plan("Advice"), BASE.changed(strips=12, strip_width=25).plan("Advice"), "panel-flat", Severity.CAUTION,
            "360 mm the panel is wider", "two sub-panels",
        ),
        (
            changed("board-flat", method="planer"), changed("board-flat", method="router-sled"), "board-flat",
            Severity.CAUTION, "tear out", "0.2 mm a pass",
        ),
        (changed("board-flat", to=41.0), changed("board-flat", to=40.0), "board-flat", Severity.CAUTION, "Only 0.5 mm", "2 mm thicker"),
        (changed("trimmed", width=299.5), changed("trimmed", width=298.0), "trimmed", Severity.NOTE, "only 0.5 mm", "2 mm a side"),
        (BASE.changed(dark="yew").plan("Advice"), BASE.plan("Advice"), "strips", Severity.STOP, "Yew: poisonous", "another wood"),
        (BASE.changed(dark="red-oak").plan("Advice"), BASE.changed(dark="oak").plan("Advice"), "strips", Severity.CAUTION, "seep", "closed or fine"),
    ],
    ids=["palindrome", "remainder", "thin", "wide", "end-grain", "little", "trim", "poison", "seeps"],
)  # fmt: skip
def test_a_rule_speaks_where_it_should_and_not_beside_it(
    plan: Plan, near: Plan, stage: str, severity: Severity, says: str, fix: str
) -> None:
    found = [c for c in findings(plan) if says in c.why]
    assert [(c.stage, c.severity) for c in found] == [(stage, severity)]
    assert fix in found[0].fix
    assert not [c for c in findings(near) if says.split()[-1] in c.why and c.stage == stage and c.severity is severity]


def test_long_grain_against_end_grain_is_a_structural_fault() -> None:
    """A lying box beside a standing one: which way their fibres run into the joint decides."""
    lying = boxes(np.array([[30.0, 40, 40]]), np.array([0]))
    standing = lying.turned(Turn(Pose.STAND_UP).matrix).at_origin()
    beside = join([lying, standing.as_piece(1).moved([30, 0, 0])])
    (joint,) = joints_between(beside)
    assert (joint.area, joint.mixed) == (1600, 0)  # both show long grain to the joint
    behind = join([lying, standing.as_piece(1).moved([0, 40, 0])])
    (joint,) = joints_between(behind)
    assert (joint.area, joint.mixed) == (1200, 1200)  # 30 × 40 of end grain against long grain


@pytest.mark.parametrize(
    ("changes", "field", "says"),
    [
        ({"strips": 9}, "strips", "Take 8 or 10"),
        ({"dark": "sycamore"}, "dark", "same wood"),
        ({"width": 310.0}, "width", "10 mm short of 310 mm. Take 12 strips"),
        ({"length": 400.0}, "length", "10 mm short of 400 mm. Take 14 slices"),
        ({"panel_length": 560.0}, "panel_length", "30 mm more than this. Make it 650 mm, or cut 12 slices"),
    ],
)
def test_the_pattern_refuses_with_the_number_that_would_work(changes: dict[str, object], field: str, says: str) -> None:
    with pytest.raises(InputError) as caught:
        BASE.changed(**changes).plan("Advice")  # type: ignore[arg-type]
    assert caught.value.field == field
    assert says in str(caught.value)


def test_asking_for_a_size_gives_that_size() -> None:
    sim = simulate(BASE.changed(width=280.0, length=370.0).plan("Advice"))
    assert sim.board.size == pytest.approx((280, 370, 38))
    assert sim["trimmed"].outcome.waste[Cause.TRIMMING] == pytest.approx((300 * 390 - 280 * 370) * 38)


def test_steps_come_in_order_with_settings_maps_and_cautions() -> None:
    todo = steps(simulate(BASE.plan("Advice")))
    assert len({step.key for step in todo}) == len(todo)
    settings = {step.key: step.setting for step in todo if step.setting}
    assert settings["slices.cut"] == "42 mm"
    assert settings["panel-flat.flatten"] == "30 mm"
    assert settings["trimmed.ends"] == "384 mm"
    order = [step.stage for step in todo]
    assert order == sorted(order, key=BASE.plan("Advice").index)
    cut = next(step for step in todo if step.key == "slices.cut")
    assert any("never trapped" in caution for caution in cut.cautions)
    assert "manual" in DEFER and "trained" in DEFER


def test_steps_speak_the_shops_units() -> None:
    todo = {step.key: step for step in steps(simulate(BASE.plan("Advice")), Lengths("in", 32))}
    # 42 mm is 52.91/32 in: 53/32 = 42.07 mm, near enough not to matter
    assert todo["slices.cut"].setting == '1 21/32"'


def test_drying_oil_warns_of_rags_and_mineral_oil_does_not() -> None:
    def rags(oil: str) -> bool:
        todo = steps(simulate(changed("oiled", oil=oil)))
        return any("catch fire" in caution for step in todo for caution in step.cautions)

    assert rags("tung") and not rags("mineral")


def test_hand_set_rows_are_listed_slice_by_slice() -> None:
    todo = steps(simulate(changed("rows", turned={3: "end-for-end"})))
    lines = next(step for step in todo if step.key == "rows.rows").lines
    assert "Stand up, then turn end for end, mark away from you and arrow down: slice 3." in lines
