"""Steps of every stage kind: something to do, its caution, its numbers in the reader's units."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.machines import passage
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import AnyStage, Carving, Gluing
from laberinto.core.steps import steps
from laberinto.core.steps.writers import WRITERS
from laberinto.core.units import Lengths
from laberinto.demo.framed import shoal


@pytest.fixture(scope="module")
def sim() -> Simulation:
    return simulate(shoal())


def test_every_kind_has_a_writer() -> None:
    kinds = {kind.model_fields["kind"].default for kind in AnyStage.__origin__.__args__}  # type: ignore[attr-defined]
    assert set(WRITERS) - {"skipped"} == kinds


def test_every_stage_of_a_framed_board_is_a_step_with_a_key_of_its_own(sim: Simulation) -> None:
    todo = steps(sim)
    assert {name for step in todo for name in step.stages} == {stage.id for stage in sim.plan.stages}
    keys = [step.key for step in todo]
    assert len(set(keys)) == len(keys)


def test_a_machine_never_comes_without_a_caution(sim: Simulation) -> None:
    told = {name for step in steps(sim) if step.cautions for name in step.stages}
    for result in sim.results:
        if isinstance(result.stage, Carving | Gluing) or result.stage.machine:
            assert result.stage.id in told, result.stage.id


def test_rest_is_said_once_and_waited_for(sim: Simulation) -> None:
    rests = [step for step in steps(sim) if step.heading.startswith("Let it rest")]
    assert [(step.stage, step.wait_hours) for step in rests] == [("rest", 72)]


def test_numbers_of_the_steps_follow_the_wood_and_the_units(sim: Simulation) -> None:
    """The groove of 10 × 5 is a half circle; its ring is 264 × 294 with arcs of 18, so it holds
    π 25 / 2 × (2 (228 + 258) + 2 π 18) = 42.6 ml, less the facets."""
    (groove,) = [step for step in steps(sim) if step.stage == "groove"]
    assert "10 mm wide at the surface, 5 mm deep" in groove.lines[0]
    held = float(next(line for line in groove.lines if "ml" in line).split()[2])
    assert held == pytest.approx(42.6, abs=1.0)
    (inches,) = [step for step in steps(sim, Lengths("in")) if step.stage == "groove"]
    assert '13/32" shy wide' in inches.lines[0] and "mm" not in inches.lines[0]


def test_what_goes_through_which_machine(sim: Simulation) -> None:
    """The core is 240 wide and 490 long at the sled; the frame's slices are 130 × 45 when they come off it."""
    by_stage = {each.stage: each for result in sim.results if (each := passage(sim, result))}
    assert (by_stage["slices"].machine, by_stage["slices"].width, by_stage["slices"].length) == (
        "crosscut sled",
        240,
        490,
    )
    assert by_stage["board-flat"].machine == "router on a sled"
    assert by_stage["panel-flat"].thickness == 33
    assert by_stage["frame-slices"].shortest == 660
    assert "core" not in by_stage and "oiled" not in by_stage
