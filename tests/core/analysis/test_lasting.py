"""Marks: what takes them, and which side keeps one."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.lasting import lasting
from laberinto.core.geometry.faces import Side
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import Across, Crosscut, Flatten, Glue, JointEdge, Mill, Profile, Stage, StripSpec
from laberinto.core.steps import steps

STRIPS = Mill(id="s", thickness=40, length=400, strips=(StripSpec(wood="beech", width=40),) * 4)


def plan(*stages: Stage) -> Plan:
    last, chained = "s", []
    for stage in stages:
        chained.append(stage.model_copy(update={"source": last}))
        last = stage.id
    return Plan(name="Marked", stages=(STRIPS, *chained))


def test_slices_that_are_planed_lose_the_mark_on_top_and_keep_one_on_an_edge() -> None:
    """The upper side of a slice is the panel's; flattening the slices takes it off, and leaves their sawn ends alone."""
    made = plan(Glue(id="g"), Crosscut(id="c", slice=60, count=4, squaring=5), Flatten(id="f", each_face=1),
                Glue(id="b", across=Across.LENGTH))  # fmt: skip
    sim = simulate(made)
    strips, slices = lasting(sim)
    assert (strips.lost, strips.through) == ("", ())  # they are glued next, and the panel has a name of its own
    assert (slices.side, slices.through, slices.lost) == (Side.TOP, ("f",), "f")
    assert slices.instead is Side.FRONT
    said = [line for step in steps(sim) for line in step.lines if "lost at" in line]
    assert len(said) == 1 and "near end as well" in said[0]


def test_nothing_is_said_where_marks_last() -> None:
    sim = simulate(
        plan(Glue(id="g"), Crosscut(id="c", slice=60, count=4, squaring=5), Glue(id="b", across=Across.LENGTH))
    )
    assert [one.lost for one in lasting(sim)] == ["", ""]
    assert not [line for step in steps(sim) for line in step.lines if "lost at" in line]


def test_a_section_leaves_room_on_the_end_and_a_jointed_edge_takes_its_own() -> None:
    """A diamond keeps the middle of its end; what is jointed on both edges loses a mark there, not on the end."""
    sim = simulate(plan(Profile(id="p", section="diamond", rest_on=1), Glue(id="g")))
    assert lasting(sim)[0].lost == ""
    sim = simulate(plan(JointEdge(id="j"), Glue(id="g")))
    assert lasting(sim)[0].through == ("j",) and lasting(sim)[0].lost == ""


@pytest.mark.parametrize("family", sorted(FAMILIES))
def test_every_family_has_a_side_that_keeps_its_marks(family: str) -> None:
    for one in lasting(simulate(FAMILIES[family]().plan("Marks"))):
        assert not one.lost or (one.lost in one.through and one.instead is not one.side and one.instead is not None)
