"""Readings of single pieces, angles, counts and panels, and the twin that simulated instruments read. By hand."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.asbuilt import measure, quantities
from laberinto.core.asbuilt.twin import off, truth, twin
from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import attempt, simulate
from laberinto.core.rules import check
from laberinto.core.units import Lengths

MM = Lengths()
PLAN = Alternating(strips=6, strip_width=30, row=30, slices=6, thickness=38, panel_length=360).plan("Six")


def test_one_strip_left_narrow() -> None:
    """Six of 30, the third came out at 28.6: the panel is 178.6 wide, the board 3 less at either edge: 172.6."""
    edit = measure(PLAN, "strips", "width", 28.6, MM, piece=2)
    assert edit.words == "as measured: width of the strips of piece 3, strips: 30 mm → 28.6 mm"
    sim = simulate(edit.plan)
    assert [strip.width for strip in sim.strips] == [30, 30, 28.6, 30, 30, 30]
    assert sim["panel"].size[0] == pytest.approx(178.6) and sim.board.size[0] == pytest.approx(172.6)
    # once they differ, all together have no one width
    with pytest.raises(InputError, match="say which one"):
        measure(edit.plan, "strips", "width", 29.0, MM)
    back = measure(edit.plan, "strips", "width", 30.0, MM, piece=2).plan
    assert [strip.width for strip in simulate(back).strips] == [30] * 6


def test_one_slice_thinner_than_the_rest() -> None:
    """Five of 42 and one of 40.5: the piece at place two stands lower, and the ledger still adds up to the panel."""
    edit = measure(PLAN, "slices", "slice", 40.5, MM, piece=1)
    sim = simulate(edit.plan)
    assert sim["slices"].pieces.cells.piece_sizes()[:, 1].tolist() == pytest.approx([42, 40.5, 42, 42, 42, 42])
    assert measure(edit.plan, "slices", "slice", 42, MM, piece=1).plan.stage("slices").slices == (42,) * 6  # type: ignore[attr-defined]
    with pytest.raises(InputError, match="from 1 to 6"):
        measure(PLAN, "slices", "slice", 40, MM, piece=6)


def test_a_panel_that_came_out_narrow_takes_from_every_strip_its_share() -> None:
    """180 planned and 178.2 measured: 1 % off each of the six, 29.7."""
    edit = measure(PLAN, "panel", "panel-width", 178.2, MM)
    sim = simulate(edit.plan)
    assert {strip.width for strip in sim.strips} == {29.7} and sim["panel"].size[0] == pytest.approx(178.2)


def test_rows_lower_than_planned_are_a_panel_planed_thinner() -> None:
    edit = measure(PLAN, "board", "pitch", 29.5, MM)
    assert simulate(edit.plan).board.size[1] == pytest.approx(6 * 29.5 - 6)


def test_a_blade_off_square_and_slices_that_went_wrong() -> None:
    """Half a degree over a panel 180 wide runs 1.571 out: 180 × tan 0.5°."""
    askew = measure(PLAN, "slices", "skew", 0.5, MM)
    assert "0° → 0.5°" in askew.words and askew.plan.stage("slices").skew == 0.5  # type: ignore[attr-defined]
    five = measure(PLAN, "slices", "count", 5, MM)
    assert len(simulate(five.plan)["slices"].pieces) == 5 and "6 → 5" in five.words
    with pytest.raises(InputError, match="whole numbers"):
        measure(PLAN, "slices", "count", 4.5, MM)


def test_what_moves_no_wood_is_only_written_down() -> None:
    assert measure(PLAN, "strips", "moisture", 12.0, MM).words == ""
    assert {"weight", "thickness"} == {one.key for one in quantities(PLAN, "sanded")}


@given(st.integers(0, 10_000))
def test_a_twin_is_the_same_whenever_it_is_asked_and_its_readings_lead_to_it(seed: int) -> None:
    """Measured in the order of work, and what was planned kept, the plan becomes what the twin was all along."""
    real, plan, planned = twin(PLAN, seed), PLAN, {}
    assert real == twin(PLAN, seed) and [s.id for s in real.stages] == [s.id for s in PLAN.stages]
    for stage, key in (("strips", "thickness"), ("panel-flat", "to"), ("slices", "slice")):
        one = next(q for q in quantities(plan, stage) if q.key == key)
        before = one.planned(plan, plan.stage(stage))
        assert before is not None
        found = truth(plan, stage, key, seed, None, planned)
        assert found == pytest.approx(before + off(one, stage, seed))
        planned[stage, key, None] = before
        plan = measure(plan, stage, key, round(found, 4), MM).plan
        assert truth(plan, stage, key, seed, None, planned) == pytest.approx(found)  # the wood did not change
    for stage, key in (("strips", "thickness"), ("panel-flat", "to"), ("slices", "slice")):
        here, there = getattr(plan.stage(stage), key), getattr(real.stage(stage), key)
        assert here == pytest.approx(there, abs=0.021)  # what is off by less than 0.02 came out as planned


def test_a_scale_reads_the_board_that_came_out() -> None:
    """A reading near the weight of the twin as simulated: within five errors of a scale on a board of some 0.9 kg."""
    from laberinto.core.analysis.figures import figures

    heavy = figures(simulate(twin(PLAN, 3))).weight
    read = truth(PLAN, "sanded", "weight", 3)
    assert read is not None and read == pytest.approx(heavy, abs=0.15)
    assert 4 <= (truth(PLAN, "strips", "moisture", 3) or 0) < 16
    assert truth(PLAN, "strips", "nothing", 3) is None


def test_a_panel_that_was_squared_shorter_leaves_less_to_hold() -> None:
    """360 long: 5, six slices of 42 and six kerfs of 3 leave 85. Of 340 they leave 65; 270 are 5 too short for six."""
    edit = measure(PLAN, "panel", "panel-length", 340, MM)
    cut = edit.plan.stage("slices")
    sim = simulate(edit.plan)
    assert cut.remainder(sim["panel-flat"].pieces[0]) == pytest.approx(65)  # type: ignore[attr-defined]
    _, fault = attempt(measure(PLAN, "panel", "panel-length", 270, MM).plan)
    assert fault is not None and fault.stage == "slices"


def test_squares_planed_on_two_faces_only_are_squares_no_more() -> None:
    """Strips of a crossing weave are rolled a quarter; 1 mm thinner one way, they no longer meet."""
    plan = FAMILIES["crossing"]().plan("Square")
    thick = plan.stage("a-strips").thickness  # type: ignore[attr-defined]
    built = measure(plan, "a-strips", "thickness", thick - 1, MM).plan
    said = {finding.rule: finding.why for finding in check(simulate(built))}
    assert "no_square" not in {finding.rule for finding in check(simulate(plan))}
    assert "no squares" in said["no_square"]
