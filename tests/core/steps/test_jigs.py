"""What to have ready: told once in a build, where it is wanted first, and only where it is."""

from __future__ import annotations

import pytest

from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import Step, steps
from laberinto.core.steps.jigs import OILY, READY
from laberinto.core.woods import LIBRARY


def ready(todo: list[Step]) -> dict[str, str]:
    """What each step asks to have ready, by its key."""
    return {step.key: line for step in todo for line in step.lines if line.startswith("Have ready: ")}


@pytest.mark.parametrize("key", FAMILIES)
def test_nothing_is_told_twice_and_every_kind_of_stage_that_wants_it_has_it(key: str) -> None:
    sim = simulate(FAMILIES[key]().plan("Board"))
    said = " ".join(ready(steps(sim)).values())
    for one in READY:
        wants = any(isinstance(r.stage, one.stages) and one.when(r.stage) and not r.stage.skip for r in sim.results)
        assert said.count(one.words) == wants


def test_only_oily_woods_are_wiped_first() -> None:
    assert all(wood in LIBRARY for wood in OILY)
    plain, oily = (
        ready(steps(simulate(Alternating(light="sycamore", dark=dark).plan("Board")))) for dark in ("elm", "teak")
    )
    assert "spirit" not in " ".join(plain.values()) and "teak wiped just before the glue" in oily["panel.dry"]
    assert "sled" in plain["slices.square"] and "blade" not in plain.get("slices.cut", "")


def test_a_round_board_is_routed_on_a_trammel_and_an_outline_by_a_template() -> None:
    said = " ".join(ready(steps(simulate(FAMILIES["round"]().plan("Float")))).values())
    assert "a trammel" in said and "a template of the outline" not in said
