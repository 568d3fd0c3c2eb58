"""The sheet alone: every measure that moves wood stands in a sentence or on a map, so finely that whoever reads it off
there ends within three tenths of a millimetre of the board that was planned."""

from __future__ import annotations

import re
from dataclasses import fields, is_dataclass, replace
from html import unescape
from typing import Any

import pytest

from laberinto.core.analysis.names import Name, names
from laberinto.core.geometry.rotations import Lie
from laberinto.core.instructions import GlueUp, Instruction, Saw, SawSection, Turn, Work, measures
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.steps import Step, steps
from laberinto.core.steps.glueing import marked
from laberinto.core.steps.laying import PLAIN
from laberinto.core.units import Lengths, parse_length
from laberinto.demo.boards import BOARDS
from laberinto.drawing.maps import MAPS
from laberinto.drawing.skin import Flat
from tests.core.drawn import built_from, seeds
from tests.core.instructions.follower import Follower, same_wood

NEAR = 0.3
"""mm, or degrees: what is farther from all that is written is not written."""

NUMBER = r"\d+(?:\.\d+)?"
METRIC = re.compile(rf"({NUMBER}(?:(?: × | and |, |; ){NUMBER})*) mm")
INCHES = re.compile(r"((?:\d+ )?\d+/\d+|\d+(?:\.\d+)?)\"")


class Sheet:
    """What is written of one stage: sentences, and the words on its maps."""

    def __init__(self, sim: Simulation, told: list[Step], lengths: Lengths) -> None:
        self.sentences = " ".join(word for step in told for word in (step.heading, step.setting, *step.sentences))
        drawn = "".join(MAPS[step.map](sim, step, lengths, Flat(sim)) for step in told if step.map in MAPS)
        self.labels = [unescape(words) for words in re.findall(r"<text[^>]*>([^<]*)</text>", drawn)]
        text = " ".join([self.sentences, *self.labels])
        if lengths.system == "mm":
            found = [n for run in METRIC.findall(text) for n in re.findall(NUMBER, run)]
            found += [n for label in self.labels for n in re.findall(NUMBER, label)]
            self.mm = [float(number) for number in found]
        else:
            self.mm = [parse_length(f'{number}"', zero=True) for number in INCHES.findall(text)]
        self.degrees = [float(number) for number in re.findall(rf"({NUMBER})°", text)]

    def read(self, unit: str, value: float, what: str) -> float:
        """A measure as it is written."""
        found = min(self.mm if unit == "mm" else self.degrees, key=lambda one: abs(one - abs(value)), default=1e9)
        assert abs(found - abs(value)) <= NEAR, f"{value} {unit} of {what} is not written: {self.sentences}"
        return found if value > 0 else -found

    def reread(self, told: Any, what: str) -> Any:
        """An instruction with each measure as it is written."""
        if isinstance(told, tuple):
            return tuple(self.reread(one, what) for one in told)
        if not is_dataclass(told) or isinstance(told, Name):
            return told
        if isinstance(told, Work):
            return replace(told, settings={name: self._setting(told, value) for name, value in told.settings.items()})
        return replace(told, **{  # type: ignore[type-var]
            one.name: self._measure(one.metadata["unit"], getattr(told, one.name), what)
            if "unit" in one.metadata else self.reread(getattr(told, one.name), what)
            for one in fields(told)
        })  # fmt: skip

    def _measure(self, unit: str, value: Any, what: str) -> Any:
        if isinstance(value, tuple):
            return tuple(self._measure(unit, one, what) for one in value)
        return self.read(unit, value, what) if value else value

    def _setting(self, told: Work, value: Any) -> Any:
        if isinstance(value, list | tuple):
            return [self._setting(told, one) for one in value]
        if isinstance(value, bool) or not isinstance(value, float) or not value:
            return value
        known = {number for _, number in measures(told)}
        return self.read("mm" if value in known else "°", value, told.kind)

    def says(self, told: Instruction) -> None:
        """What is no measure: turns, dry joints, what is left over, which ends and sides."""
        text = self.sentences.lower()
        if isinstance(told, GlueUp | Turn):
            lies = {lie.turn.name: f"{lie.words}, {marked(lie)}" for lie in Lie}
            for turn in {piece.turn for piece in told.pieces} - {PLAIN}:
                assert turn in text or lies.get(turn, "-") in text or marked(Lie.AS_CUT) in text, turn
        if isinstance(told, GlueUp):
            names = [piece.name.mark for piece in told.pieces]
            assert all(f"{names[at - 1]}|{names[at]}".lower() in text for at in told.dry)
            assert all(name.mark.lower() in text for name in told.spare[:1])
            assert not told.dry or f"{len(told.makes)} pieces" in text
        if isinstance(told, Saw):
            assert ("left edge", "near end", "underside")[told.axis] in text
            assert not told.skew or any(
                words in text for words in ("far end to the", "right end nearer", "right end farther")
            )
            assert not told.bevel or "its top towards" in text
        if isinstance(told, SawSection):
            assert not told.rest_on or f"on the side from corner {told.rest_on}" in text


def sheets(sim: Simulation, lengths: Lengths) -> dict[str, Sheet]:
    """By stage; what is done for several stands at the first."""
    todo = steps(sim, lengths)
    return {stage: Sheet(sim, [s for s in todo if s.stage == stage], lengths) for stage in {s.stage for s in todo}}


def reread(sim: Simulation, lengths: Lengths) -> list[Instruction]:
    """All instructions, each measure as it is written."""
    written = sheets(sim, lengths)
    told = [one for step in steps(sim, lengths) for one in step.does]
    for one in told:
        written[one.stage].says(one)
    return [written[one.stage].reread(one, one.stage) for one in told]


def plans() -> dict[str, Plan]:
    made = {key: FAMILIES[key]().plan(key) for key in FAMILIES}
    return made | {board.plan.name: [board.plan, *(turn.plan for turn in board.turns)][-1] for board in BOARDS}


PLANS = plans()
BOTH = (Lengths("mm"), Lengths("in"))


@pytest.mark.parametrize("name", PLANS)
def test_whoever_reads_the_sheet_ends_near_the_board(name: str) -> None:
    sim = simulate(PLANS[name])
    known = names(sim)[sim.board.stage.id]
    for lengths in BOTH:
        bench = Follower().follow(reread(sim, lengths)).bench
        for number, piece in enumerate(known):
            same_wood(bench[str(piece)], sim.board.pieces[number], NEAR)


USUAL, BATCH = 20, 10


@pytest.mark.seeded
@pytest.mark.parametrize("first", seeds(USUAL, 100)[::BATCH])
def test_every_measure_of_a_random_plan_is_written(first: int) -> None:
    built = [sim for seed in range(first, first + BATCH) if (sim := built_from(seed))]
    assert all(reread(sim, lengths) for sim in built for lengths in BOTH) and (built or first >= USUAL)
