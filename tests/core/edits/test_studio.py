"""Edits of the studio: stages put in and taken out, panels that meet, laminations as a line, rings, shifts, tones."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.analysis.compare import differences
from laberinto.core.analysis.figures import figures
from laberinto.core.analysis.figures import rows as laid_rows
from laberinto.core.analysis.unlike import unlike
from laberinto.core.edits import Edit, lamination, rows, stages, strips, woods
from laberinto.core.edits.lamination import LaminationError
from laberinto.core.edits.offers import fitting
from laberinto.core.errors import InputError, PlanError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import attempt, simulate
from laberinto.core.stages import Arrange, Glue, Mill, Rule
from laberinto.core.stages.arrange import Panels
from laberinto.core.stages.mill import StripTurn
from laberinto.core.steps import steps
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Sawn
from laberinto.core.woods.tones import contrast, lightness

PLAN = Alternating(strips=6, slices=6).plan("Edited")
IDS = [stage.id for stage in PLAN.stages]
MM = Lengths()


def mill(plan: Plan, name: str = "strips") -> Mill:
    stage = plan.stage(name)
    assert isinstance(stage, Mill)
    return stage


def up_to(plan: Plan, stage_id: str) -> Plan:
    """The plan as far as a stage."""
    return plan.model_copy(update={"stages": plan.stages[: plan.index(stage_id) + 1]})


# Stages


def test_whatever_is_offered_can_be_put_in() -> None:
    """The first values of every offer suit the wood that lies there."""
    for result in simulate(PLAN).results:
        for offer in fitting(result):
            edit = stages.insert(PLAN, result.stage.id, offer.name)
            new = [s for s in edit.plan.stages if s.id not in IDS][-1]
            _, fault = attempt(up_to(edit.plan, new.id))
            assert fault is None or fault.stage != new.id, f"{offer.name} after {result.stage.id}: {fault}"


@given(st.sampled_from(IDS), st.data())
def test_putting_in_and_taking_out_changes_nothing(after: str, data: st.DataObject) -> None:
    result = next(r for r in simulate(PLAN).results if r.stage.id == after)
    kind = data.draw(st.sampled_from([offer.name for offer in fitting(result)]))
    more = stages.insert(PLAN, after, kind).plan
    new = [s.id for s in more.stages if s.id not in IDS][-1]  # further wood stands before what takes it
    assert stages.remove(more, new).plan == PLAN


@given(st.sampled_from(IDS[1:-1]))
def test_moving_a_stage_later_and_back_changes_nothing(name: str) -> None:
    there = stages.move(PLAN, name, later=True).plan
    assert [s.id for s in there.stages] != IDS
    assert stages.move(there, name, later=False).plan == PLAN


def test_what_does_not_fit_is_refused() -> None:
    with pytest.raises(InputError, match="Groove does not fit here"):
        stages.insert(PLAN, "strips", "groove")
    with pytest.raises(InputError, match="cannot be put in"):
        stages.insert(PLAN, "strips", "lathe")
    with pytest.raises(InputError, match="begins with strips"):
        stages.remove(PLAN, "strips")
    with pytest.raises(InputError, match="stands at the end"):
        stages.move(PLAN, "waxed", later=True)


def test_a_stage_that_is_off_leaves_the_wood_and_gives_no_steps() -> None:
    """38 mm were left of slices of 42; without flattening, 42 stay, and the thread keeps its knot."""
    off = stages.switch(PLAN, "board-flat").plan
    sim = simulate(off)
    assert sim.board.size[2] == pytest.approx(42)
    assert not [step for step in steps(sim) if step.stage == "board-flat"]
    assert len(sim.results) == len(PLAN.stages)
    assert stages.switch(off, "board-flat").plan == PLAN
    with pytest.raises(InputError, match="cannot be off"):
        stages.switch(PLAN, "strips")
    data = PLAN.as_dict()
    data["stages"][0]["skip"] = True
    with pytest.raises(PlanError, match="cannot be off"):
        read_plan(data)


def test_a_broken_plan_is_done_as_far_as_it_goes() -> None:
    long = PLAN.with_stage(PLAN.stage("slices").model_copy(update={"count": 40}))
    results, fault = attempt(long)
    assert [r.stage.id for r in results] == ["strips", "panel", "panel-flat"]
    assert fault is not None and fault.stage == "slices"


# Several panels


def test_a_second_panel_is_laid_between_the_first() -> None:
    """Twice 6 slices of 30 mm, less 3 mm trimmed at either end: 354 mm; every other row is of panel B."""
    two = stages.second_panel(PLAN, "panel").plan
    sim = simulate(two)
    assert sim.board.size[1] == pytest.approx(12 * 30 - 6)
    assert [row.slice for row in laid_rows(sim)][:4] == ["A1", "B1", "A2", "B2"]
    assert stages.remove(two, "strips-2").plan == PLAN
    in_turn = two.with_stage(two.stage("rows").model_copy(update={"panels": Panels.IN_TURN}))
    assert [row.slice for row in laid_rows(simulate(in_turn))][5:8] == ["A6", "B1", "B2"]


def test_panels_of_other_woods_show_row_by_row() -> None:
    """A panel of ash between a panel of elm gives rows of one wood each, in turn."""
    two = stages.second_panel(PLAN, "panel").plan
    for name, wood in (("strips", "ash"), ("strips-2", "elm")):
        two = strips.set_wood(two, name, range(6), wood).plan
    sim = simulate(two)
    face = face_of(sim["trimmed"].pieces[0], Side.TOP)
    middles = [face.points[a:b].mean(axis=0)[1] for a, b in zip(face.ptr[:-1], face.ptr[1:], strict=True)]
    by_height = sorted(zip(middles, face.strip.tolist(), strict=True))
    seen = [sim.strips[strip].wood for _, strip in by_height]
    assert seen == (["ash"] * 6 + ["elm"] * 6) * 6


@given(st.integers(0, 999_999))
def test_a_shuffle_is_an_order_and_a_seed_gives_the_same_one(seed: int) -> None:
    stage = Arrange(id="rows", source="x", shuffle=seed)
    order = stage.by_rule([5, 4])
    assert sorted(order) == list(range(1, 10)) and order == stage.by_rule([5, 4])


@pytest.mark.parametrize(
    ("rule", "lies"),
    [
        (Rule.BOOK, [Lie.AS_CUT, Lie.OTHER_END_UP, Lie.AS_CUT, Lie.OTHER_END_UP, Lie.AS_CUT]),
        (Rule.PAIRS, [Lie.AS_CUT, Lie.FLIP, Lie.FLIP, Lie.AS_CUT, Lie.AS_CUT]),
    ],
)
def test_rules_repeat_down_the_board(rule: Rule, lies: list[Lie]) -> None:
    assert [lie for _, lie in Arrange(id="rows", source="x", rule=rule).rows(5)] == lies


# Rows by hand


def arrange(plan: Plan) -> Arrange:
    stage = plan.stage("rows")
    assert isinstance(stage, Arrange)
    return stage


def test_two_rows_change_places_and_back() -> None:
    swapped = rows.swap(PLAN, "rows", [1, 4]).plan
    assert arrange(swapped).order == (1, 5, 3, 4, 2, 6)
    assert rows.swap(swapped, "rows", [4, 1]).plan == PLAN
    with pytest.raises(InputError, match="exactly two"):
        rows.swap(PLAN, "rows", [1])


def test_many_rows_turn_at_once_and_single_ones_go_back_to_the_rule() -> None:
    turned = rows.turn(PLAN, "rows", [0, 1, 2], Lie.END_FOR_END).plan
    assert arrange(turned).turned == {1: Lie.END_FOR_END, 2: Lie.OTHER_END_UP, 3: Lie.END_FOR_END}
    assert arrange(rows.clear(turned, "rows", [0, 2]).plan).turned == {2: Lie.OTHER_END_UP}
    assert rows.reset(turned, "rows").plan == PLAN


def test_a_shifted_row_moves_and_shows_on_the_face() -> None:
    """Row 3 of 6 shifted by 15 mm makes the raw board 15 mm wider; shifting back forgets it."""
    shifted = rows.shift(PLAN, "rows", [2], 15).plan
    assert simulate(shifted)["board"].size[0] == pytest.approx(180 + 15)
    assert rows.shift(shifted, "rows", [2], -15).plan == PLAN
    assert rows.clear(shifted, "rows", [2]).plan == PLAN


def test_a_rule_shifts_every_other_row_and_single_rows_stay_by_hand() -> None:
    brick = rows.shift_rule(rows.shift(PLAN, "rows", [0], 4).plan, "rows", [15], 0).plan
    glue = brick.stage("board")
    assert isinstance(glue, Glue)
    assert [glue.shift_at(row) for row in range(4)] == [4, 15, 0, 15]
    cycle = rows.shift_rule(PLAN, "rows", [0, 10, 20], 1).plan.stage("board")
    assert isinstance(cycle, Glue) and [cycle.shift_at(row) for row in range(4)] == [0, 11, 22, 3]
    assert rows.shift_rule(brick, "rows", [0], 0).plan.stage("board").shifts == ()  # type: ignore[attr-defined]
    without = stages.remove(PLAN, "board").plan
    with pytest.raises(InputError, match="row behind row"):
        rows.shift(without, "rows", [0], 3)


# Strips


@pytest.mark.parametrize(
    ("line", "strips_"),
    [
        ("beech 30, plum 3x12, beech 30", [("beech", 30), ("plum", 12), ("plum", 12), ("plum", 12), ("beech", 30)]),
        ("(ash 20; elm 10) x2", [("ash", 20), ("elm", 10)] * 2),
        ("BOG OAK 12,5, hornb 1/2\"", [("bog-oak", 12.5), ("hornbeam", 12.7)]),
        ("a 30, B 2×4 cm", [("pear", 30), ("plum", 40), ("plum", 40)]),
    ],
)  # fmt: skip
def test_a_line_is_read(line: str, strips_: list[tuple[str, float]]) -> None:
    found = lamination.parse(line, MM, {"A": "pear", "B": "plum"})
    assert [(lamina.wood, lamina.width) for lamina in found] == strips_


@pytest.mark.parametrize(
    ("line", "word", "says"),
    [
        ("beech 30, mdf 12", "mdf", "no wood called"),
        ("beech 30, plumb 12", "plumb", "Did you mean plum"),
        ("beech, plum 12", "beech", "How wide"),
        ("beech 30 plum 20", "30 plum 20", "comma between"),
        ("beech 2", "2", "outside 3 mm to 400 mm"),
        ("black 30", "black", "may be black cherry, black walnut"),
        ("(beech 30, plum 20", "", "still open"),
        ("beech 30) x2", ")", "closes nothing"),
        ("(beech 30) x900", "(beech 30) x900", "Repeat 1 to 400"),
        ("", "", "empty"),
    ],
)
def test_a_wrong_word_is_pointed_at(line: str, word: str, says: str) -> None:
    with pytest.raises(LaminationError, match=says) as caught:
        lamination.parse(line, MM)
    assert line[caught.value.start : caught.value.end] == word


@given(
    st.lists(st.tuples(st.sampled_from(list(LIBRARY)), st.integers(3, 90)), min_size=1, max_size=12),
    st.sampled_from([MM, Lengths("in", 32)]),
)
def test_a_written_line_reads_back(items: list[tuple[str, int]], lengths: Lengths) -> None:
    plan = Plan(name="x", stages=(Mill(id="m", strips=[{"wood": w, "width": b} for w, b in items]),))  # type: ignore[arg-type]
    line = lamination.written(mill(plan, "m").laid_out(), lengths)
    found = lamination.parse(line, lengths)
    assert [lamina.wood for lamina in found] == [wood for wood, _ in items]
    assert [lamina.width for lamina in found] == pytest.approx([width for _, width in items], abs=0.01)


def test_a_new_line_keeps_the_strips_that_were_there() -> None:
    turned = strips.turn(PLAN, "strips", [0], StripTurn.FACE_OVER).plan
    laid = mill(lamination.lay(turned, "strips", "elm 20, beech 25, plum 30", MM).plan).laid_out()
    assert [(s.wood, s.width, s.mark, s.turned) for s in laid] == [
        ("elm", 20, 7, StripTurn.AS_SAWN), ("beech", 25, 1, StripTurn.FACE_OVER), ("plum", 30, 2, StripTurn.AS_SAWN),
    ]  # fmt: skip
    assert lamination.lay(PLAN, "strips", "(beech 30, plum 30) x3", MM).words == ""


def test_rings_alternate_mirror_and_lie_as_sawn() -> None:
    over, end, plain = StripTurn.FACE_OVER, StripTurn.END_FOR_END, StripTurn.AS_SAWN
    turned: Callable[[Edit], list[StripTurn]] = lambda edit: [s.turned for s in mill(edit.plan).laid_out()]  # noqa: E731
    assert turned(strips.alternate_rings(PLAN, "strips")) == [plain, over] * 3
    assert turned(strips.mirror_rings(PLAN, "strips")) == [plain] * 3 + [end] * 3
    assert (
        strips.plain_rings(strips.mirror_rings(PLAN, "strips").plan, "strips").plan.stages
        == strips.laid(PLAN, mill(PLAN), mill(PLAN).laid_out(), "").plan.stages
    )


@given(st.sets(st.integers(0, 5), min_size=1))
def test_hearts_lie_up_or_down_as_asked(chosen: set[int]) -> None:
    """Asked for one side and then the other, every chosen strip lies the other way round; the rest stay."""
    up = strips.set_heart(PLAN, "strips", sorted(chosen), up=True).plan
    down = strips.set_heart(up, "strips", sorted(chosen), up=False).plan
    for at, (one, other, first) in enumerate(
        zip(mill(up).laid_out(), mill(down).laid_out(), mill(PLAN).laid_out(), strict=True)
    ):
        if at in chosen:
            assert strips.heart_up(mill(up), one) and not strips.heart_up(mill(down), other)
            assert one.turned.then(StripTurn.FACE_OVER) is other.turned
        else:
            assert one.turned is other.turned is first.turned
    assert strips.set_heart(down, "strips", sorted(chosen), up=False).words == ""


def test_a_quarter_sawn_strip_has_its_heart_beside_it() -> None:
    strip = simulate(strips.set_sawn(PLAN, "strips", [2], Sawn.QUARTER).plan).strips[2]
    across, down = strip.rings.heart[0] - strip.width / 2, strip.rings.heart[1] - strip.thickness / 2
    assert abs(across) > 5 * abs(down)


# Woods


def test_one_wood_takes_the_place_of_another_everywhere() -> None:
    two = woods.replace_wood(stages.second_panel(PLAN, "strips").plan, "plum", "elm").plan
    assert woods.used(two) == ["beech", "elm"]
    assert woods.letters(two) == {"A": "beech", "B": "elm"}
    with pytest.raises(InputError, match="no plum"):
        woods.replace_wood(two, "plum", "ash")


def test_lightness_and_contrast() -> None:
    """L* of white, black and the grey #777777 (CIE 1976: 50.03), worked out by hand."""
    assert [lightness(c) for c in ("#ffffff", "#000000", "#777777")] == pytest.approx([100, 0, 50.03], abs=0.01)
    weakest = contrast([LIBRARY["holly"], LIBRARY["wenge"], LIBRARY["bog-oak"]], "oiled")
    assert weakest is not None and {weakest.one, weakest.other} == {"wenge", "bog-oak"}
    assert weakest.words == "runs together" and contrast([LIBRARY["ash"]], "raw") is None


# Differences


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (lambda p: p.with_stage(p.stage("slices").model_copy(update={"count": 5})), ["30 mm shorter (length 174 mm → 144 mm)", "rows 6 → 5", "crosscut: slices 6 → 5"]),
        (lambda p: strips.set_wood(p, "strips", [0, 1], "elm").plan, ["wych elm comes in, 2 strips", "strips: 2 strips of another wood or width"]),
        (lambda p: rows.move(p, "rows", [0], 3).plan, ["arrange: slices in another order"]),
        (lambda p: stages.switch(p, "eased").plan, ["ease edges switched off"]),
        (lambda p: stages.insert(p, "trimmed", "groove").plan, ["groove put in"]),
        (lambda p: p, []),
    ],
)  # fmt: skip
def test_differences_in_words(edit: Callable[[Plan], Plan], says: list[str]) -> None:
    found = differences(simulate(PLAN), simulate(edit(PLAN)))
    assert [line for line in says if line not in found] == []
    assert bool(found) == bool(says)


def test_figures_of_a_plan_with_a_stage_off_count_no_glue_that_is_not_spread() -> None:
    values: dict[str, Any] = {"id": "rested", "kind": "rest", "from": "waxed", "skip": True}
    rested = read_plan(PLAN.as_dict() | {"stages": [*PLAN.as_dict()["stages"], values]})
    assert figures(simulate(rested)).glue_ups == figures(simulate(PLAN)).glue_ups == 2


def test_faces_are_unlike_where_other_woods_lie() -> None:
    """Six strips of 30, 3 trimmed off each edge: the outermost of a row is 27 of 174 wide. Light for dark is all of it."""
    plan = Alternating(strips=6, slices=6, strip_width=30, edge=3, light="sycamore", dark="wenge").plan("One")
    one = simulate(plan)
    first = simulate(strips.set_wood(plan, "strips", [0], "plum").plan)
    other = simulate(
        Alternating(strips=6, slices=6, strip_width=30, edge=3, light="wenge", dark="sycamore").plan("Other")
    )
    assert unlike(one, one).share == 0 and unlike(one, one).area.is_empty
    assert unlike(one, first).share == pytest.approx(27 / 174, abs=1e-4)
    assert unlike(first, one).share == pytest.approx(27 / 174, abs=1e-4)
    assert unlike(one, other).share == pytest.approx(1, abs=1e-4)


def test_what_surgery_makes_can_be_read_again() -> None:
    """A glue-up takes 20 further panels and no more; the longest names leave room for a number."""
    plan = Alternating(strips=2, slices=2).plan("Panels")
    for _ in range(20):
        plan = stages.second_panel(plan, "strips").plan
    assert read_plan(plan.as_json()) == plan
    with pytest.raises(PlanError, match="too many: at most 20"):
        stages.second_panel(plan, "strips")
    longest = "p" * 40
    named = Plan.model_validate_json(PLAN.as_json().replace('"panel-flat"', f'"{longest}"'))
    doubled = stages.duplicate(named, longest).plan
    assert read_plan(doubled.as_json()) == doubled and doubled.stage("p" * 36 + "-2").source == longest
