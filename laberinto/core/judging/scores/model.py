"""What a score is: a figure on a face, and the places it comes from."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ...geometry.faces import Face, Side, face_of
from ...plan.simulate import Simulation, StageResult
from ...solid import Floats
from ...stages import Carving, Ease
from ...woods.tones import lightness
from .seams import Seams, seams_of

Box = tuple[float, float, float, float]
"""Left, top, width and height in the face's picture, mm."""


@dataclass(frozen=True, slots=True)
class Shown:
    """Where a score comes from: stretches of joints (k, 2, 2), polygons by index, and boxes."""

    lines: Floats = field(default_factory=lambda: np.zeros((0, 2, 2)))
    polygons: tuple[int, ...] = ()
    boxes: tuple[Box, ...] = ()


@dataclass(frozen=True, slots=True)
class Score:
    """One figure. ``value`` is a plain number, ``text`` how it is read, ``shown`` where it comes from."""

    key: str
    label: str
    meaning: str
    value: float
    text: str
    shown: Shown = field(default_factory=Shown)


class Scored:
    """The face that is scored, before edges are eased or anything is carved into it, with what scores need of it."""

    def __init__(self, sim: Simulation, finish: str = "oiled") -> None:
        self.sim, self.finish = sim, finish
        self.result = scored_stage(sim)
        self.face: Face = face_of(self.result.pieces[0], Side.TOP)

    @cached_property
    def woods(self) -> list[str]:
        """Wood of each polygon, (m,)."""
        return [self.sim.strips[int(number)].wood for number in self.face.strip]

    @cached_property
    def light(self) -> Floats:
        """Lightness of each polygon, L* / 100, (m,)."""
        return light_of(self.sim, self.face, self.finish)

    @cached_property
    def seams(self) -> Seams:
        return seams_of(self.face)

    @cached_property
    def areas(self) -> Floats:
        """Area of each polygon, mm², (m,)."""
        return self.face.areas()

    def groups(self, link: np.ndarray) -> np.ndarray:
        """A number for each polygon, the same for those that seams with ``link`` (k,) connect."""
        group = np.arange(len(self.face))
        pairs = self.seams.pair[link]
        while len(pairs):  # the lower number spreads until nothing changes
            before = group.copy()
            low = np.minimum(group[pairs[:, 0]], group[pairs[:, 1]])
            np.minimum.at(group, pairs[:, 0], low)
            np.minimum.at(group, pairs[:, 1], low)
            group = group[group]
            if np.array_equal(group, before):
                break
        return group


def light_of(sim: Simulation, face: Face, finish: str = "oiled") -> Floats:
    """Lightness of each polygon of a face, L* / 100, (m,)."""
    tones = {key: lightness(sim.woods[key].colour(finish)) / 100 for key in {strip.wood for strip in sim.strips}}
    return np.array([tones[sim.strips[int(number)].wood] for number in face.strip])


def scored_stage(sim: Simulation) -> StageResult:
    """The last stage before shaping."""
    shaped = (k for k, result in enumerate(sim.results) if isinstance(result.stage, Carving | Ease))
    first = next(shaped, len(sim.results))
    return sim.results[max(first - 1, 0)]
