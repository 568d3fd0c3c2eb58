"""Like steps are done in one go for all panels, and only where all their wood is there."""

from __future__ import annotations

from laberinto.core.instructions import CutBack, MillStrips, Saw
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.steps import Step, steps


def two_panels(**second: object) -> list[Step]:
    return steps(two_panels_simulated(**second))


def two_panels_simulated(**second: object) -> Simulation:
    """Two laminations of three strips each, planed and sliced; the second may differ."""
    stages = []
    for panel in "ab":
        more = second if panel == "b" else {}
        stages += [
            {"id": panel, "kind": "mill", "thickness": 30, "length": 400,
             "strips": [{"wood": "oak", "width": 30, "count": 3}]},
            {"id": f"{panel}-glued", "kind": "glue", "from": panel},
            {"id": f"{panel}-flat", "kind": "flatten", "from": f"{panel}-glued", "to": more.get("to", 28)},
            {"id": f"{panel}-cut", "kind": "crosscut", "from": f"{panel}-flat", "slice": more.get("slice", 40), "count": 5},
        ]  # fmt: skip
    stages.append({"id": "rows", "kind": "arrange", "from": "a-cut", "with": ["b-cut"]})
    stages.append({"id": "board", "kind": "glue", "from": "rows", "across": "length"})
    return simulate(read_plan({"format": "laberinto-plan", "version": 1, "name": "Two", "stages": stages}))


def test_two_panels_are_milled_planed_and_sliced_at_one_setting_each() -> None:
    done = [(type(one), one.stages) for step in two_panels() for one in step.does]
    assert (MillStrips, ("a", "b")) in done
    assert (CutBack, ("a-flat", "b-flat")) in done and (Saw, ("a-cut", "b-cut")) in done
    said = " ".join(line for step in two_panels() for line in step.sentences)
    assert "All 2 at one setting, one after the other: panels A, B." in said
    assert "5 cuts of each of panels A, B" in said and "Fence at 30 mm: 6 × European oak (A1–A3, B1–B3)." in said


def test_what_is_set_otherwise_is_done_for_itself() -> None:
    """Panels of two heights are planed and sliced apart, though their wood is milled together."""
    done = [one.stages for step in two_panels(to=26, slice=42) for one in step.does]
    assert ("a", "b") in done and ("a-flat",) in done and ("b-cut",) in done


def test_what_goes_on_while_glue_stands_needs_none_of_it() -> None:
    waiting = next(step for step in two_panels() if step.key == "a-glued.glue")
    assert "go on with what needs none of it: glue up (strips B1–B3)" in " ".join(waiting.lines)
    alone = steps(simulate(FAMILIES["alternating"]().plan("Alone")))
    assert not [step for step in alone if "While it stands" in " ".join(step.lines)]


def test_what_is_put_in_later_is_not_taken_for_done() -> None:
    """The first panel is milled; a second whose strips are not begun is milled in a step of its own."""
    sim = two_panels_simulated()
    together = steps(sim)[0]
    assert together.keys == ("a.rough", "b.rough")
    apart = [step.stages for step in steps(sim, ticked=["a.rough"]) if step.key.endswith(".rough")]
    assert apart == [("a",), ("b",)]
    assert steps(sim, ticked=together.keys)[0].stages == ("a", "b")
