"""Sub-panels: a panel too wide for the planer in parts that are not, and the board is the same."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.edits.parameters import settle
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.plan.subpanels import seams, split
from laberinto.core.rules import check
from laberinto.core.stages import Flatten, Mill
from laberinto.core.units import Lengths


def plain(widths: list[float], woods: list[str]) -> Plan:
    start = Alternating().plan("Wide")
    mill = start.stage("strips")
    strips = [{"wood": wood, "width": width} for wood, width in zip(woods, widths, strict=True)]
    return start.with_stage(mill.model_validate({**mill.model_dump(by_alias=True), "strips": strips}))


def woods_over(sim: Simulation) -> list[str]:
    """The woods of the finished face, cell by cell from one corner to the other."""
    face = face_of(sim.board.pieces[0], Side.TOP)
    first = [tuple(face.points[a:b].mean(axis=0).round(3)) for a, b in zip(face.ptr[:-1], face.ptr[1:], strict=True)]
    order = sorted(range(len(face)), key=lambda i: first[i])
    return [sim.strips[int(face.strip[i])].wood for i in order]


@settings(max_examples=15)
@given(
    st.lists(st.tuples(st.floats(15, 60), st.sampled_from(["beech", "plum", "elm"])), min_size=6, max_size=14),
    st.floats(110, 320),
)
def test_every_part_goes_through_the_machine_and_the_face_stays(strips: list[tuple[float, str]], most: float) -> None:
    widths, woods = [round(w, 2) for w, _ in strips], [wood for _, wood in strips]
    plan = plain(widths, woods)
    if sum(widths) <= most:
        most = sum(widths) * 0.6
    made = split(plan, "panel-flat", most)
    if made is plan:  # some strip alone is too wide, or five parts would be asked for
        assert seams(plan, "panel-flat", most) == ()
        return
    before, after = simulate(plan), simulate(made)
    flats = [r for r in after.results if isinstance(r.stage, Flatten) and r.stage.id.startswith("panel-flat")]
    assert len(flats) > 1 and all(r.size[0] <= most + 1e-6 for r in flats)
    assert len({round(r.size[2], 9) for r in flats}) == 1  # all to one thickness
    assert after.board.size == pytest.approx(before.board.size)
    assert woods_over(after) == woods_over(before)
    marks = [s.mark for stage in made.stages if isinstance(stage, Mill) for s in stage.laid_out()]
    assert len(set(marks)) == len(marks)


def test_the_seam_goes_where_two_woods_differ_most() -> None:
    """Beech against beech would show; the only change to plum is behind the second strip of six."""
    plan = plain([50.0] * 6, ["beech", "beech", "plum", "plum", "plum", "plum"])
    assert seams(plan, "panel-flat", 200) == (2,)
    assert seams(plan, "panel-flat", 160) == (3,)  # 150 and 150 is all that fits
    assert seams(plan, "panel-flat", 110) == (2, 4)


def test_a_check_proposes_it_and_one_press_makes_it() -> None:
    plan = Alternating(strips=14).plan("Wide")
    finding = next(c for c in check(simulate(plan)) if c.rule == "too_wide" and c.stage == "panel-flat")
    assert [r.words for r in finding.remedies] == ["Make it two sub-panels, parted behind strip 7"]
    made = settle(plan, finding.remedies[0], Lengths()).plan
    assert not [c for c in check(simulate(made)) if c.rule == "too_wide" and c.stage.startswith("panel-flat")]
    # where the drum takes it whole, that is offered beside
    both = next(
        c for c in check(simulate(Alternating(strips=12).plan("W"))) if c.stage == "panel-flat" and c.rule == "too_wide"
    )
    assert [r.field for r in both.remedies] == ["sub-panels", "method"]


def test_only_a_plain_panel_of_strips_is_parted() -> None:
    weave = FAMILIES["weave"]().plan("Weave")
    for stage in weave.stages:
        if isinstance(stage, Flatten) and not seams(weave, stage.id, 100):
            assert split(weave, stage.id, 100) is weave
    assert seams(Alternating().plan("A"), "board-flat", 100) == ()


def test_the_button_says_how_many_parts_it_makes() -> None:
    """480 ÷ 310 is under two, but two strips of 160 together are 320: each of the three is a part of its own."""
    plan = plain([160.0, 160.0, 160.0], ["beech", "plum", "elm"])
    finding = next(c for c in check(simulate(plan)) if c.key == "too_wide.panel-flat")
    assert (
        finding.remedy is not None and finding.remedy.words == "Make it three sub-panels, parted behind strip 1 and 2"
    )
    assert len([s for s in settle(plan, finding.remedy, Lengths()).plan.stages if isinstance(s, Mill)]) == 3
