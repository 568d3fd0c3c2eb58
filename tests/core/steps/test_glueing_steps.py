"""Glue-ups and sections on the sheet: whatever moves wood there stands in a sentence."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.names import at_places
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import FAMILIES
from laberinto.core.patterns.weave import Way
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.core.stages import Glue, Profile
from laberinto.core.steps import steps
from laberinto.core.steps.glueing import marked
from laberinto.core.units import Lengths

MM = Lengths("mm")


def said(sim: Simulation, stage: str) -> str:
    return " ".join(line for step in steps(sim) if stage in step.stages for line in step.sentences)


@pytest.mark.parametrize("key", FAMILIES)
def test_every_glue_up_says_what_stays_dry_what_is_turned_and_what_is_shifted(key: str) -> None:
    sim = simulate(FAMILIES[key]().plan("Said"))
    for result in sim.results:
        if not isinstance(stage := result.stage, Glue):
            continue
        text = said(sim, stage.id)
        assert f"Lay all {len(result.outcome.turns)} " in text
        names = at_places(sim, stage)
        assert all(f"{names[at - 1].mark}|{names[at].mark}" in text for at in stage.dry)
        assert ("No glue" in text) == bool(stage.dry)
        assert all(turn.lower() in text.lower() for turn in result.outcome.turns if turn != "as it lies")
        shifts = {stage.shift_at(at) for at in range(len(result.outcome.turns))} - {0}
        assert all(MM.show(abs(shift)) in text for shift in shifts)


def test_a_weave_is_glued_in_bars_and_not_solid() -> None:
    """Eight bars of three strips: 24 strips, and seven of the 23 joints between them stay dry."""
    sim = simulate(FAMILIES["weave"]().plan("Weave"))
    assert "No glue between 3|4, 6|7, 9|10, 12|13, 15|16, 18|19, 21|22: put paper" in said(sim, "bars")
    assert "8 pieces of 3 come out of the one clamp-up" in said(sim, "bars")
    assert "Glue up 8 pieces" in [step.heading for step in steps(sim)]
    turned = simulate(FAMILIES["weave"].of(way=Way.BOOK).plan("Weave"))
    assert "Turn one after the other: as it lies, quarter roll; then again" in said(turned, "panel")


def test_what_is_laid_by_hand_is_said_place_by_place() -> None:
    """Of four rows the second goes 12 mm to the left and the fourth is turned; the strips lie in the order 3, 1, 2."""
    data = FAMILIES["alternating"](strips=4, slices=4).plan("Hand").as_dict()
    by_id = {stage["id"]: stage for stage in data["stages"]}
    by_id["board"] |= {"shifted": {"2": -12}, "turned": {"4": "end for end"}}
    by_id["panel"] |= {"order": [3, 1, 4, 2]}
    by_id["trimmed"] |= {"flush": True}
    sim = simulate(read_plan(data))
    assert "Shift 12 mm to the left: slice 2." in said(sim, "board")
    assert "End for end: slice 4." in said(sim, "board")
    assert "From the left: strips 3, 1, 4, 2." in said(sim, "panel")


def test_a_section_is_marked_and_its_angles_are_set() -> None:
    """The sides of a square on its corner stand at 45°. A bar of tumbling blocks slopes up by half its side over half
    a hexagon's width, side × sin 60°: atan(sin 60° / 0.5) = 60° from upright; its other sides are the strip's own."""
    weave = said(simulate(FAMILIES["weave"]().plan("x")), "diamonds")
    assert "4 cuts, the blade 45° from upright; the kerf of 3 mm lies outside" in weave and "Then lay each on" in weave
    sim = simulate(FAMILIES["tumbling"]().plan("x"))
    sections = [result.stage.id for result in sim.results if isinstance(result.stage, Profile)]
    assert len(sections) == 3
    assert "2 cuts, 60° from upright, so with the piece on its edge and the blade at 30°" in said(sim, sections[0])
    assert all("Mark its corners" in said(sim, stage) for stage in sections)


@pytest.mark.parametrize("key", FAMILIES)
def test_only_what_is_sliced_next_becomes_the_height_of_a_row(key: str) -> None:
    """A chaos panel is flattened once a pass, and only the last time counts for the rows."""
    sim = simulate(FAMILIES[key]().plan("x"))
    told = [step.stage for step in steps(sim) if "becomes the height of each row" in " ".join(step.lines)]
    takers = {source: stage.kind for stage in sim.plan.stages for source in stage.sources}
    assert all(takers[stage] in ("crosscut", "trim") for stage in told)
    assert key != "chaos" or len(told) == 1


def test_strips_that_are_turned_and_pieces_that_are_rolled_are_said() -> None:
    """Every other strip of a ring chevron goes end for end; the slanted segments of a mitred one are rolled plumb."""
    rings = simulate(FAMILIES["rings"](strips=4).plan("x"))
    assert "End for end: strips 2, 4." in said(rings, "panel")
    segments = said(simulate(FAMILIES["chevron"]().plan("x")), "segments")
    assert "Set the blade 15° from upright, its top towards" in segments
    assert "Then roll each piece until its sawn sides stand plumb." in segments
    assert "Each cut takes 3 mm of kerf." in segments


def test_dry_joints_are_named_by_what_stands_on_the_map() -> None:
    """Four strips lie in the order 3, 1, 4, 2, dry after the second place, where strip 1 lies; rows are counted from
    the far side, so the joint after the first is the one nearer to you."""
    data = FAMILIES["alternating"](strips=4, slices=4).plan("Dry").as_dict()
    by_id = {stage["id"]: stage for stage in data["stages"]}
    by_id["panel"] |= {"order": [3, 1, 4, 2], "dry": [2]}
    by_id["board"] |= {"dry": [1]}
    results, _ = attempt(read_plan(data))
    sim = Simulation.of(read_plan(data), results)
    assert "No glue between 1|4: put paper or tape there, so that 2 pieces of 2 come" in said(sim, "panel")
    assert "No glue between 1/1|1/2: " in said(sim, "board")


def test_a_standing_slice_shows_its_mark_where_the_sheet_says() -> None:
    """Standing up brings the upper side to the front and the near end down. Turned end for end it looks away; on its other
    end the arrow points up and the mark away; flipped about its height the arrow points up and the mark to the front."""
    assert [marked(lie) for lie in (Lie.AS_CUT, Lie.END_FOR_END, Lie.OTHER_END_UP, Lie.FLIP)] == [
        "mark towards you and arrow down", "mark away from you and arrow down",
        "mark away from you and arrow up", "mark towards you and arrow up",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("angle", "says"),
    [
        ({"bevel": 15}, "The fence stands on the right, the side the blade leans away from,"),
        (
            {"bevel": -15},
            "The left edge, freshly cut each time, runs along the fence, which the blade leans away from.",
        ),
        ({"skew": 5}, "On a carriage or in a taper jig, against a stop"),
        ({"width": 8}, "The fence stands on the right and a stop on the left gives the width: what is cut falls free"),
        ({}, "The left edge, freshly cut each time, runs along the fence."),
    ],
)
def test_nothing_is_trapped_between_blade_and_fence(angle: dict[str, float], says: str) -> None:
    """A blade whose top leans to the left (a positive bevel) leans away from a fence on the right; a thin strip falls on
    the side without a fence."""
    strip = {"wood": "oak", "width": 120}
    stages = [
        {"id": "s", "kind": "mill", "thickness": 30, "length": 400, "strips": [strip]},
        {"id": "r", "kind": "rip", "from": "s", "width": 30, "count": 2, **angle},
    ]
    plan = read_plan({"format": "laberinto-plan", "version": 1, "name": "Rip", "stages": stages})
    assert says in said(simulate(plan), "r")
