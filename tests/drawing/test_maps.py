"""Maps of all steps: each piece under its name, and nothing printed over anything."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest

from laberinto.core.analysis.figures import cut_list
from laberinto.core.analysis.names import at_places
from laberinto.core.edits import strips
from laberinto.core.instructions import Frame, GlueUp
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import Across, Glue
from laberinto.core.stages.mill import StripTurn
from laberinto.core.steps import Map, Step, steps
from laberinto.core.units import Lengths
from laberinto.demo.boards import BOARDS
from laberinto.drawing.maps import MAPS
from laberinto.drawing.skin import Flat

SVG = "{http://www.w3.org/2000/svg}"
MM = Lengths()
WIDE, HIGH = 0.6, 0.7
"""A figure of the sheet's monospaced letters, as shares of their size."""


@dataclass(frozen=True)
class Label:
    """Words on a map and the box they fill."""

    words: str
    low: tuple[float, float]
    high: tuple[float, float]
    strong: bool

    def touches(self, other: Label) -> bool:
        return all(self.low[k] < other.high[k] and other.low[k] < self.high[k] for k in (0, 1))


def labels(drawn: str) -> list[Label]:
    return list(_labels(ElementTree.fromstring(f"<svg>{drawn}</svg>"), np.eye(3)))


def _labels(element: Any, at: Any) -> Iterator[Label]:
    for part in (element.get("transform") or "").replace(")", ") ").split(") "):
        name, _, numbers = part.strip().partition("(")
        n = [float(number) for number in numbers.replace(",", " ").split()] if numbers else []
        if name == "translate":
            at = at @ np.array([[1, 0, n[0]], [0, 1, n[1]], [0, 0, 1]])
        elif name == "rotate":
            c, s = math.cos(math.radians(n[0])), math.sin(math.radians(n[0]))
            at = at @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
        elif name not in ("", "matrix"):
            raise AssertionError(f"who reads {name}?")
    if element.tag == f"{SVG}text" and element.text:
        size, x, y = (float(element.get(name, 0)) for name in ("font-size", "x", "y"))
        wide = WIDE * size * len(element.text)
        start = x - wide * {"start": 0.0, "middle": 0.5, "end": 1.0}[element.get("text-anchor", "start")]
        corners = np.array([(u, v, 1) for u in (start, start + wide) for v in (y - HIGH * size, y)]) @ at.T
        yield Label(
            element.text,
            tuple(corners[:, :2].min(axis=0)),
            tuple(corners[:, :2].max(axis=0)),
            element.get("font-weight") == "600",
        )
    for inner in element:
        yield from _labels(inner, at)


def mapped(plan: Plan, lengths: Lengths = MM) -> Iterator[tuple[Step, str]]:
    sim = simulate(plan)
    for step in steps(sim, lengths):
        if step.map in MAPS:
            yield step, MAPS[step.map](sim, step, lengths, Flat(sim))


@cache
def drawn(name: str) -> list[tuple[Step, str]]:
    return list(mapped(PLANS[name]))


PLANS = {key: FAMILIES[key]().plan("Maps") for key in FAMILIES} | {board.plan.name: board.plan for board in BOARDS}


@pytest.mark.parametrize(("name", "system"), [(name, "mm") for name in PLANS] + [(name, "in") for name in FAMILIES])
def test_no_two_labels_of_any_map_touch(name: str, system: Any) -> None:
    for step, drawing in drawn(name) if system == "mm" else mapped(PLANS[name], Lengths(system)):
        for one in drawing.split("</svg>")[:-1]:
            found = labels(one + "</svg>")
            clash = [(a.words, b.words) for k, a in enumerate(found) for b in found[:k] if a.touches(b)]
            assert not clash, (step.key, step.map, clash[:3])


@pytest.mark.parametrize("key", FAMILIES)
def test_the_map_of_a_glue_up_shows_every_piece_in_order_and_each_dry_joint(key: str) -> None:
    sim = simulate(PLANS[key])
    for step, drawing in drawn(key):
        stage = sim.plan.stage(step.stage)
        if not isinstance(stage, Glue) or step.map is Map.CLAMPS:
            continue
        names = [name.mark for name in at_places(sim, stage)]
        strong = [label for label in labels(drawing) if label.strong and label.words in set(names)]
        # from the left, from the far side, or from below
        by = {"width": lambda label: label.low[0], "length": lambda label: label.low[1]}
        laid = sorted(strong, key=by.get(stage.across.value, lambda label: -label.low[1]))
        assert [label.words for label in laid] == names
        assert drawing.count('class="dry"') == len(set(stage.dry))


@pytest.mark.parametrize("key", FAMILIES)
def test_the_map_of_the_clamps_shows_every_joint_and_each_clamp_once(key: str) -> None:
    for step, drawing in drawn(key):
        if step.map not in (Map.CLAMPS, Map.FRAME):
            continue
        told = next(one for one in step.does if isinstance(one, GlueUp | Frame))
        found, clamping = labels(drawing), told.clamping
        assert drawing.count('class="clamp"') == len(clamping.clamps) and drawing.count('class="caul"') == len(
            clamping.cauls
        )
        assert sorted(label.words for label in found if label.strong and label.words.isdigit())[0] == "1"
        if isinstance(told, Frame) or told.across is Across.THICKNESS:
            continue  # no joint but the two at its sides; or all of them in the plane of the drawing
        dry = drawing.count('class="seam-dry"')
        assert dry == len(told.dry) and dry + drawing.count('class="seam-glue"') == len(told.pieces) - 1
        marks = {piece.name.mark for piece in told.pieces}
        assert marks <= {label.words for label in found if label.strong}


def test_every_step_at_which_wood_is_laid_or_cut_has_its_map() -> None:
    kinds = {step.key: step.map for step, _ in mapped(FAMILIES["weave"]().plan("Weave"))}
    assert kinds["bars.dry"] is Map.PANEL and kinds["board.dry"] is Map.ROWS and kinds["board.glue"] is Map.CLAMPS
    assert kinds["slices.cut"] is Map.CUTS and kinds["diamonds.saw"] is Map.SECTION and kinds["rows.rows"] is Map.TURNED


def test_the_map_of_a_glue_up_says_how_a_strip_is_turned() -> None:
    plan = strips.turn(FAMILIES["alternating"](strips=4).plan("Turned"), "strips", [1], StripTurn.BOTH).plan
    drawn = next(drawn for step, drawn in mapped(plan) if step.key == "panel.dry")
    words = [label.words for label in labels(drawn)]
    assert {"face", "over", "end", "for"} <= set(words) or "30, face over, end for end" in " ".join(words)


def test_cut_list_steps_and_maps_know_a_strip_by_one_name() -> None:
    """Two panels, one of whose lines was typed anew: each map shows its panel's strips from the left, and the cut list
    and the steps ask for just those."""
    strip = {"wood": "beech", "width": 30}
    plan = read_plan(
        {
            "format": "laberinto-plan", "version": 1, "name": "Two",
            "stages": [
                {"id": "a", "kind": "mill", "thickness": 30, "length": 300,
                 "strips": [strip | {"mark": 7}, strip | {"wood": "plum", "width": 40, "mark": 2}, strip | {"mark": 9}]},
                {"id": "ga", "kind": "glue", "from": "a"},
                {"id": "b", "kind": "mill", "thickness": 30, "length": 300, "strips": [strip, strip | {"wood": "oak"}]},
                {"id": "gb", "kind": "glue", "from": "b"},
                {"id": "g", "kind": "glue", "from": "ga", "also": ["gb"]},
            ],
        }
    )  # fmt: skip
    both = simulate(plan)
    todo = {step.key: step for step in steps(both)}
    for panel, marks in (("a", ["A1", "A2", "A3"]), ("b", ["B1", "B2"])):
        words = [label.words for label in labels(MAPS[Map.PANEL](both, todo[f"g{panel}.glue"], MM, Flat(both)))]
        assert [word for word in words if word[0] in "AB"] == marks
        assert sorted(m for line in cut_list(both, [panel]) for m in line.marks) == marks
    assert {line.name: line.marks for line in cut_list(both, ["a"])} == {"Beech": ("A1", "A3"), "Plum": ("A2",)}
    assert any("A1–A3" in line for line in todo["a.rip"].lines)
