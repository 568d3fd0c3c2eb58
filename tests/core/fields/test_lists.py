"""Lists in a form: typed as a line, shown so that they read back, and never hidden."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.edits import lamination
from laberinto.core.edits.parameters import set_parameters
from laberinto.core.edits.stages import insert, second_panel
from laberinto.core.errors import InputError
from laberinto.core.fields import parse, shown, specs
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import attempt, simulate
from laberinto.core.rules import check
from laberinto.core.stages import Glue, Groove, Profile, Rip, Shape, Stage, Turned
from laberinto.core.units import Lengths

MM, INCH = Lengths(), Lengths("in", 64)
BASE = Alternating(strips=6, slices=6).plan("Lists")


def put_in(after: str, kind: str, plan: Plan = BASE) -> tuple[Plan, Stage]:
    made = insert(plan, after, kind).plan
    return made, made.stages[made.index(after) + 1]


def set_(plan: Plan, stage: Stage, **typed: str) -> Stage:
    form = {spec.name: shown(spec, getattr(stage, spec.name), MM) for spec in specs(type(stage))}
    return set_parameters(plan, stage.id, {**form, **typed}, MM).plan.stage(stage.id)


def test_every_parameter_that_moves_wood_has_a_field_or_a_screen_of_its_own() -> None:
    fields = {kind: {spec.name for spec in specs(kind)} for kind in (Rip, Profile, Shape, Groove, Turned)}
    assert fields[Rip] >= {"widths"} and fields[Profile] >= {"points", "rest_on"} and fields[Shape] >= {"points"}
    assert fields[Groove] >= {"runs"} and fields[Turned] >= {"turns"}


def test_a_rip_takes_widths_of_its_own_and_gives_them_up_again() -> None:
    plan, rip = put_in("panel-flat", "rip")
    own = set_(plan, rip, widths="27, 24.5, 22,5")
    assert isinstance(own, Rip) and own.widths == (27.0, 24.5, 22.5) and own.width is None
    plan = plan.with_stage(own)
    again = set_(plan, own, width="30")
    assert isinstance(again, Rip) and again.width == 30 and again.widths == ()


def test_corners_make_the_choice_they_belong_to_and_another_choice_drops_them() -> None:
    plan, profile = put_in("strips", "profile")
    with pytest.raises(InputError, match="Type the own corners first") as caught:
        set_(plan, profile, section="own")
    assert caught.value.field == "points"
    own = set_(plan, profile, points="0 × 0, 30 × 0, 15 × 26")
    assert isinstance(own, Profile) and own.section == "own" and own.points == ((0, 0), (30, 0), (15, 26))
    back = set_(plan.with_stage(own), own, section="diamond")
    assert isinstance(back, Profile) and back.points == () and back.section == "diamond"


def test_runs_of_a_groove_are_typed_and_cut() -> None:
    plan, groove = put_in("trimmed", "groove")
    own = set_(plan, groove, runs="-5 x 40, 60 × 40; 20 × 20, 20 × 80, 50 × 90")
    assert isinstance(own, Groove) and own.path == "runs"
    assert own.runs == (((-5, 40), (60, 40)), ((20, 20), (20, 80), (50, 90)))
    assert attempt(plan.with_stage(own))[1] is None


def test_turns_are_typed_in_words() -> None:
    plan, turn = put_in("strips", "turn")
    own = set_(plan, turn, turns="as it lies;  quarter   roll")
    assert isinstance(own, Turned) and own.turns == ("as it lies", "quarter roll")
    with pytest.raises(InputError, match="There is no turn “somersault”") as caught:
        set_(plan, turn, turns="somersault")
    assert caught.value.field == "turns"


@pytest.mark.parametrize(
    ("kind", "name", "text", "says"),
    [
        (Rip, "widths", "27, wide", "“wide” is not a length"),
        (Profile, "points", "0 × 0, 5", "“5” is no point"),
        (Groove, "runs", "1 × 2 × 3", "no point"),
        (Rip, "widths", "1, " * 3000, "at most 4000"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_pointed_at(kind: type[Stage], name: str, text: str, says: str) -> None:
    spec = next(spec for spec in specs(kind) if spec.name == name)
    with pytest.raises(InputError, match=says) as caught:
        parse(spec, text, MM)
    assert caught.value.field == name


lengths = st.integers(-12000, 12000).map(lambda n: n / 64 * 25.4)
points = st.lists(st.tuples(lengths, lengths), min_size=2, max_size=5).map(tuple)


@given(st.lists(points, max_size=4).map(tuple), st.sampled_from([MM, INCH]))
def test_what_is_shown_reads_back(runs: tuple[Any, ...], how: Lengths) -> None:
    spec = next(spec for spec in specs(Groove) if spec.name == "runs")
    back = parse(spec, shown(spec, runs, how), how)
    assert len(back) == len(runs)
    for one, other in zip(runs, back, strict=True):
        for p, q in zip(one, other, strict=True):
            assert p == pytest.approx(q, abs=0.0051)


def test_bars_stay_bars_when_another_lamination_is_laid_under_them() -> None:
    """Weave glues its strips three and three, dry between the bars: of twelve strips that makes four bars, of thirty ten."""
    plan = FAMILIES["weave"]().plan("Bars")
    for count in (4, 10):
        made = lamination.lay(plan, "strips", f"(elm 20, sycamore 11, elm 20) x{count}", MM).plan
        bars = made.stage("bars")
        assert isinstance(bars, Glue) and bars.dry == tuple(range(3, 3 * count, 3))
        assert len(simulate(made)["bars"].pieces) == count


def test_a_board_longer_than_a_table_is_asked_about() -> None:
    long = BASE.with_stage(BASE.stage("strips").model_copy(update={"length": 3000.0}))
    long = long.with_stage(long.stage("slices").model_copy(update={"count": 60}))
    assert [f.stage for f in check(simulate(long)) if f.rule == "very_large"] == [long.stages[-1].id]
    assert not [f for f in check(simulate(BASE)) if f.rule == "very_large"]


def test_a_second_panel_of_a_plan_that_splices_its_offcut_joins_where_slices_are_laid() -> None:
    chaos = FAMILIES["chaos"]()
    spliced = chaos.changed(**{chaos.specs_for({})[0].name: chaos.value(chaos.specs_for({})[0].name)})
    plan = spliced.plan("Spliced")
    data = plan.as_dict()
    rip = next(s for s in data["stages"] if s["kind"] == "rip")
    glue = next(s for s in data["stages"] if s["kind"] == "glue" and rip["id"] in (s["from"], *s["with"]))
    if f"{rip['id']}:offcut" not in glue["with"]:
        glue["with"] = [*glue["with"], f"{rip['id']}:offcut"]
        rip["widths"] = rip["widths"][:-1]
    from laberinto.core.plan.model import read_plan

    plan = read_plan({**data, "pattern": None})
    made = second_panel(plan, "strips").plan
    rows = made.stage("rows")
    assert len(rows.sources) == 2
    copied = next(
        s for s in made.stages if s.id != glue["id"] and s.kind == "glue" and any(":offcut" in x for x in s.sources)
    )
    assert all(name.split(":")[0] not in {s.id for s in plan.stages} for name in copied.sources)
