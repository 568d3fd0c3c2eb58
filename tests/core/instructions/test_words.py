"""The sheet alone: every measure that moves wood stands in a sentence or on a map, so finely that whoever reads it off
there ends within three tenths of a millimetre of the board that was planned."""

from __future__ import annotations

import re
from dataclasses import fields, is_dataclass, replace
from typing import Any

import pytest

from laberinto.core.analysis.names import Name, names
from laberinto.core.instructions import Instruction, Work, measures
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.steps import Step, steps
from laberinto.core.units import Lengths, parse_length
from laberinto.demo.boards import BOARDS
from laberinto.drawing.maps import MAPS
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
        drawn = "".join(MAPS[step.map](sim, step, lengths) for step in told if step.map in MAPS)
        self.labels = re.findall(r"<text[^>]*>([^<]*)</text>", drawn)
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


def sheets(sim: Simulation, lengths: Lengths) -> dict[str, Sheet]:
    todo = steps(sim, lengths)
    return {r.stage.id: Sheet(sim, [s for s in todo if s.stage == r.stage.id], lengths) for r in sim.results}


def told_by(sim: Simulation, lengths: Lengths) -> list[Instruction]:
    return [one for step in steps(sim, lengths) for one in step.does]


def ends_near(sim: Simulation, lengths: Lengths) -> None:
    written = sheets(sim, lengths)
    read = [written[one.stage].reread(one, one.stage) for one in told_by(sim, lengths)]
    bench, known = Follower().follow(read).bench, names(sim)[sim.board.stage.id]
    for number, name in enumerate(known):
        same_wood(bench[str(name)], sim.board.pieces[number], NEAR)


PLANS = [(key, lambda key=key: FAMILIES[key]().plan(key)) for key in FAMILIES]
PLANS += [
    (board.plan.name, lambda board=board: [board.plan, *(turn.plan for turn in board.turns)][-1]) for board in BOARDS
]


@pytest.mark.parametrize("system", ["mm", "in"])
@pytest.mark.parametrize("plan", [plan for _, plan in PLANS], ids=[name for name, _ in PLANS])
def test_whoever_reads_the_sheet_ends_near_the_board(plan: Any, system: Any) -> None:
    ends_near(simulate(plan()), Lengths(system))
