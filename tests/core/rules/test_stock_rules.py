"""Rules about wood and saws, from plans that trip them and near-identical ones that do not: a check that cries wolf is as
bad as one that is silent."""

from __future__ import annotations

from typing import Any

import pytest

from laberinto.core.geometry.joints import joints_between
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Check, check
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.units import Lengths

MM = Lengths()


def plan(*stages: dict[str, Any]) -> Plan:
    return read_plan({"format": "laberinto-plan", "version": 1, "name": "Rule", "stages": list(stages)})


def said(plan_: Plan, rule: str, shop: Shop | None = None) -> list[Check]:
    return [finding for finding in check(simulate(plan_), MM, shop) if finding.rule == rule]


def blank(width: float = 120.0, length: float = 1200.0, thickness: float = 30.0, **more: Any) -> list[dict[str, Any]]:
    strips = [{"wood": "elm", "width": width / 4, "count": 4}]
    return [
        {"id": "s", "kind": "mill", "thickness": thickness, "length": length, "strips": strips, **more},
        {"id": "g", "kind": "glue", "from": "s"},
    ]


def cut(source: str = "g", **values: Any) -> dict[str, Any]:
    return {"id": "c", "kind": "crosscut", "from": source, **values}


def test_a_blank_cut_in_half_is_held_by_its_halves() -> None:
    """598.5 and a kerf of 3 from 1200: nothing is left behind, and nothing needs to be."""
    halves = plan(*blank(), cut(slice=598.5, count=2, squaring=0))
    assert said(halves, "short_remainder") == []
    lines = next(step for step in steps(simulate(halves)) if step.key == "c.cut").lines
    assert "Nothing is left over." in lines and not any("−" in line or "-1" in line for line in lines)
    assert (
        len(said(plan(*blank(length=600), cut(slice=40, count=13)), "short_remainder")) == 1
    )  # 600 − 5 − 13 × 43 = 36


def test_a_remainder_is_measured_on_its_shorter_edge() -> None:
    """Skewed by 30° over 200 mm, a cut lies 200 tan 30° = 115.5 farther along one edge than along the other, and so much of
    the panel's first end is lost. Of 700 mm, n slices of 40 with a kerf of 3 leave 700 − 115.5 − n × 43 ÷ cos 30° there."""
    stage = plan(*blank(width=200, length=700), cut(slice=40, count=8, skew=30, squaring=0))
    sim = simulate(stage)
    left = sim["c"].stage.remainder(sim["g"].pieces[0])  # type: ignore[attr-defined]
    assert left == pytest.approx(700 - 200 * 0.5773503 - 8 * 43 / 0.8660254, abs=1e-3)
    told = next(step for step in steps(sim) if step.key == "c.cut")
    assert f"Remainder: {MM.show(left)}, along the shorter edge." in told.lines
    assert any("Set the cut 30° from square" in line for line in told.lines)
    assert any("runs on a carriage" in caution for caution in told.cautions)
    assert said(stage, "short_remainder") == []
    (finding,) = said(
        plan(*blank(width=200, length=700), cut(slice=40, count=11, skew=30, squaring=0)), "short_remainder"
    )
    assert "Only 38.4 mm" in finding.why


def test_crosscuts_of_offcuts_are_measured_on_the_offcuts() -> None:
    stages = [
        *blank(length=700),
        cut(slice=40, count=6, squaring=0),
        {"id": "o", "kind": "crosscut", "from": "c:offcut", "slice": 60, "count": 1, "squaring": 0},
    ]
    stages.append({"id": "z", "kind": "glue", "from": "c", "with": ["o"], "across": "length"})
    found = [step for step in steps(simulate(plan(*stages))) if step.key == "o.cut"]
    assert found and not any("-" in line for line in found[0].lines)


def test_a_last_slice_needs_no_cut_behind_it() -> None:
    """Thirteen slices of 42 with twelve cuts of 3 between them and a squaring cut of 5: 587 of a panel."""
    exact = simulate(plan(*blank(length=587), cut(slice=42, count=13)))
    assert exact["c"].outcome.offcuts.volume() == pytest.approx(2 * 120 * 30)  # what the squaring cut leaves: 5 − 3


def test_much_more_panel_than_its_slices_need_is_noted() -> None:
    assert [f.stage for f in said(plan(*blank(length=900), cut(slice=40, count=8)), "long_remainder")] == ["c"]
    assert said(plan(*blank(length=500), cut(slice=40, count=9)), "long_remainder") == []


def test_one_wood_whose_rings_turn_is_no_palindrome() -> None:
    def flipped(*woods: str) -> Plan:
        data = Alternating(strips=6, slices=4).plan("x").as_dict()
        data["stages"][0]["strips"] = [{"wood": wood, "width": 30.0} for wood in woods]
        return read_plan({**data, "pattern": None})

    assert said(flipped("ash", "ash", "ash"), "palindromes") == []
    assert len(said(flipped("ash", "elm", "ash"), "palindromes")) == 1


def test_a_slice_is_re_sawn_on_its_lower_edge() -> None:
    """A panel 260 wide stands 260 high; its slices of 45 stand on their other edge, 45 high."""
    resaw = {"id": "r", "kind": "resaw", "width": 8, "kerf": 1.5}
    assert len(said(plan(*blank(width=260), {**resaw, "from": "g"}), "too_high_to_resaw")) == 1
    slices = plan(*blank(width=260), cut(slice=45, count=10), {**resaw, "from": "c"})
    assert said(slices, "too_high_to_resaw") == []
    text = " ".join(next(step for step in steps(simulate(slices)) if step.stage == "r").cautions)
    assert "band saw" in text and "blade and fence" not in text


def mitred(*turns: str) -> list[dict[str, Any]]:
    """A strip parted at 45° aslant through its length, its parts turned and glued."""
    return [
        {"id": "s", "kind": "mill", "thickness": 30, "length": 600, "strips": [{"wood": "elm", "width": 60}]},
        {"id": "c", "kind": "crosscut", "from": "s", "slice": 120, "count": 2, "skew": 45, "squaring": 0},
        {"id": "g", "kind": "glue", "from": "c", "across": "length", "turns": list(turns)},
    ]


def test_mitres_that_mirror_each_other_move_alike() -> None:
    """Fibres at 45° to the joint from either side cross by 90°, but both sides move along it by the same."""
    mirrored = simulate(plan(*mitred("as it lies", "face over")))
    (joint,) = mirrored["g"].outcome.joints
    assert joint.fibre_angles() == pytest.approx([90.0]) and joint.parting() == pytest.approx([0.0], abs=1e-9)
    assert said(mirrored.plan, "mixed_grain") == []


def test_long_grain_against_end_grain_parts_over_the_length_of_the_joint() -> None:
    """A rail 30 deep laid long-grain along the end grain of a panel 470 wide: the joint is 470 long, whatever its height."""
    wide = blank(width=470, length=300, thickness=30)
    rail = {"id": "r", "kind": "mill", "thickness": 30, "length": 470, "strips": [{"wood": "elm", "width": 40}]}
    stages = [
        *wide,
        rail,
        {
            "id": "b",
            "kind": "glue",
            "from": "g",
            "with": ["r"],
            "across": "length",
            "turns": ["as it lies", "quarter turn"],
        },
    ]
    (finding,) = said(plan(*stages), "mixed_grain")
    assert "along a joint of 470 mm" in finding.why and "141 cm²" in finding.why  # 470 × 30


def test_pieces_are_compared_as_they_are_set() -> None:
    """Slices of panels of different thickness stand up equally high; lying beside each other they would step."""

    def two(first: float, second: float) -> list[dict[str, Any]]:
        strips = [{"wood": "elm", "width": 30, "count": 4}]
        return [
            {"id": f"{name}-s", "kind": "mill", "thickness": t, "length": 300, "strips": strips}
            for name, t in (("a", first), ("b", second))
        ]

    stages = two(30, 24)
    for name in "ab":
        stages += [{"id": f"{name}-g", "kind": "glue", "from": f"{name}-s"}]
        stages += [{"id": f"{name}-c", "kind": "crosscut", "from": f"{name}-g", "slice": 40, "count": 3}]
    rows = {"id": "r", "kind": "arrange", "from": "a-c", "with": ["b-c"], "rule": "as-cut"}
    assert said(plan(*stages, rows, {"id": "z", "kind": "glue", "from": "r", "across": "length"}), "unequal") == []
    flat = [*two(30, 24), {"id": "z", "kind": "glue", "from": "a-s", "with": ["b-s"]}]
    assert len(said(plan(*flat), "unequal")) == 1


def test_what_a_groove_leaves_is_no_sliver_and_neither_is_a_typed_rounding() -> None:
    base = Alternating(strips=6, slices=6).plan("x").as_dict()
    at = next(k for k, s in enumerate(base["stages"]) if s["id"] == "trimmed")
    kept = base["stages"][: at + 1]
    groove = {"id": "groove", "kind": "groove", "from": "trimmed", "inset": 20}
    again = {"id": "again", "kind": "trim", "from": "groove", "edge": 1.0}
    assert said(read_plan({**base, "pattern": None, "stages": [*kept, groove, again]}), "slivers") == []
    glue = next(s for s in kept if s["id"] == "board")
    glue["shifts"] = [0, 0.00005]
    assert said(read_plan({**base, "pattern": None, "stages": kept}), "slivers") == []
    glue["shifts"] = []
    kept[-1]["edge"] = 29.8  # of strips 30 wide 0.2 stay at either edge
    assert len(said(read_plan({**base, "pattern": None, "stages": kept}), "slivers")) == 1


@pytest.mark.parametrize(
    ("stages", "near", "rule", "says"),
    [
        ([*blank(thickness=90), cut(slice=40, count=4)], [*blank(thickness=78), cut(slice=40, count=4)], "too_deep_a_cut", "90 mm deep"),
        ([*blank(thickness=60), {"id": "r", "kind": "rip", "from": "g", "width": 20, "bevel": 45}],
         [*blank(thickness=55), {"id": "r", "kind": "rip", "from": "g", "width": 20, "bevel": 45}], "too_deep_a_cut", "84.9 mm deep along the tilted"),
        ([*blank(thickness=400), {"id": "f", "kind": "flatten", "from": "g", "to": 30}],
         [*blank(thickness=40), {"id": "f", "kind": "flatten", "from": "g", "to": 30}], "much_off", "185 mm off each face"),
        (blank(width=1000), blank(width=800), "wide_strips", "Strips 250 mm wide"),
        ([*blank(), cut(slice=40, count=4, kerf=1.5)], [*blank(), cut(slice=40, count=4, kerf=2.9)], "unlike_kerf", "your saw's is 3 mm"),
        ([*blank(length=200)[:1], {"id": "p", "kind": "profile", "from": "s"}],
         [*blank(length=260)[:1], {"id": "p", "kind": "profile", "from": "s"}], "short_for_a_profile", "200 mm long"),
    ],
    ids=["deep", "deep and tilted", "much off", "wide", "kerf", "short for a profile"],
)  # fmt: skip
def test_what_no_machine_does(stages: list[dict[str, Any]], near: list[dict[str, Any]], rule: str, says: str) -> None:
    assert [says in finding.why for finding in said(plan(*stages), rule)] == [True]
    assert said(plan(*near), rule) == []


def test_a_hollow_is_wider_than_its_knife() -> None:
    data = FAMILIES["hollowed"]().plan("x").as_dict()
    hollow = next(s for s in data["stages"] if s["kind"] == "hollow")

    def at(knife: float | None) -> list[Check]:
        hollow["knife"] = knife
        return said(read_plan({**data, "pattern": None}), "hollow_for_its_knife")

    assert at(None) == at(hollow["radius"] - 10) == []
    (finding,) = at(hollow["radius"] + 20)
    assert finding.remedy and float(finding.remedy.value) > hollow["radius"] + 20


def test_dust_of_oak_and_beech_is_told_and_each_wood_once() -> None:
    sim = simulate(FAMILIES["brick"].of(**dict.fromkeys(FAMILIES["brick"].wood_fields()[:1], "oak")).plan("x"))
    found = [f for f in check(sim, MM) if "cancer" in f.why]
    assert len(found) == 1 and found[0].why.startswith("European oak")
    assert len({f.key for f in check(sim, MM)}) == len(check(sim, MM))


def test_equal_findings_go_by_names_of_their_own() -> None:
    plan_ = Alternating.of(light="beech", dark="robinia").plan("x")
    keys = [f.key for f in check(simulate(plan_), MM) if f.rule == "wood_cautions"]
    assert len(keys) == len(set(keys)) >= 3 and "wood_cautions.strips.beech.nasal-cancer" in keys


def test_oils_that_harden_say_when_food_may_touch_them() -> None:
    data = Alternating.of(finish="tung").plan("x")
    assert len(said(data, "curing")) == 1 and said(Alternating().plan("x"), "curing") == []
    told = {step.key: step for step in steps(simulate(data))}
    assert any("cures for about 30 days" in line for line in told["oiled.round-2"].lines)
    assert any("nut" in caution for caution in told["oiled.round-1"].cautions)
    assert any("30 days" in line for line in told["waxed.wax"].lines)


def test_stages_put_in_and_cut_again_take_the_shops_kerf() -> None:
    from laberinto.core.edits.again import once_more
    from laberinto.core.edits.stages import insert

    shop = Shop.of(kerf=2.2)
    start = plan(*blank())
    for kind in ("rip", "crosscut", "profile"):
        put = insert(start, "g", kind, shop).plan
        assert put.stages[2].kerf == 2.2, kind  # type: ignore[attr-defined]
    again = once_more(Alternating().plan("x"), 1, 1, shop)
    assert {s.kerf for s in again.stages if s.kind == "rip"} == {2.2}  # type: ignore[attr-defined]
    for family in ("weave", "diamonds", "tumbling", "blocks"):
        sawn = [s for s in FAMILIES[family].of(kerf=2.2).plan("x").stages if s.kind == "profile"]
        assert sawn and {s.kerf for s in sawn} == {2.2}  # type: ignore[attr-defined]


def test_what_is_glued_is_what_touches() -> None:
    assert joints_between(simulate(plan(*blank()))["s"].pieces.cells.of_piece(0)) == []


@pytest.mark.parametrize(("size", "says"), [(2.0, True), (4.0, False)])
def test_a_guard_chamfer_outlasts_the_planer_or_is_said_to_be_gone(size: float, says: bool) -> None:
    """Three off each face: a chamfer of 2 is gone by then, one of 4 is not."""
    guarded = plan(
        *blank(120, 400, 30), cut(slice=45, count=3),
        {"id": "a", "kind": "arrange", "from": "c"}, {"id": "b", "kind": "glue", "from": "a", "across": "length"},
        {"id": "e", "kind": "ease", "from": "b", "size": size},
        {"id": "f", "kind": "flatten", "from": "e", "each_face": 3, "method": "planer"},
    )  # fmt: skip
    assert bool(said(guarded, "shallow_guard")) is says
