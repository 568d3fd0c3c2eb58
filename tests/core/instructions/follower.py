"""Somebody who gets nothing but the instructions, and acts them out on fresh wood. What is not said there is not known
here: no plan, no stage, no rule."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from laberinto.core.analysis.names import Name, names
from laberinto.core.geometry.cutters import CLEAR, box
from laberinto.core.geometry.nesting import distance
from laberinto.core.geometry.rotations import turn_named
from laberinto.core.instructions import (
    CutBack,
    Frame,
    GlueUp,
    Instruction,
    LetIn,
    MillStrips,
    Saw,
    SawSection,
    Turn,
    Work,
    instructions,
)
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Cells, Floats, Ints, boxes, carve, join, slabs
from laberinto.core.stages import Bench, Pieces, Stage
from laberinto.core.woods import LIBRARY
from tests.core.modeller import moments_of


class Follower:
    """What lies on the bench, by name, and the strips milled so far."""

    def __init__(self) -> None:
        self.bench: dict[str, Cells] = {}
        self.strips = 0

    def follow(self, told: Sequence[Instruction]) -> Follower:
        for one in told:
            ACTS[type(one)](self, one)  # type: ignore[operator]
        return self

    def take(self, name: Name) -> Cells:
        return self.bench.pop(str(name))

    def put(self, name: Name, wood: Cells) -> None:
        assert str(name) not in self.bench, f"two pieces are called {name}"
        self.bench[str(name)] = wood.as_piece(0).at_origin()

    def put_all(self, names: Sequence[Name], parts: Sequence[Cells]) -> None:
        assert len(names) == len(parts), f"{len(parts)} pieces have {len(names)} names"
        for name, part in zip(names, parts, strict=True):
            self.put(name, part)

    def mill(self, told: MillStrips) -> None:
        for strip in told.strips:
            assert strip.wood in LIBRARY
            wood = boxes(np.array([(strip.width, strip.length, strip.thickness)]), np.array([self.strips]))
            if told.stock.as_is:
                wood = told.stock.cells(strip.width, strip.length, told.thickness)
                wood = replace(wood, strip=np.full(len(wood), self.strips))
            self.put(strip.name, wood.turned(turn_named(strip.turn).matrix))
            self.strips += 1

    def saw(self, told: Saw) -> None:
        skew, bevel = math.radians(told.skew), math.radians(told.bevel)
        level = [math.cos(skew), math.sin(skew)] if told.axis == 0 else [math.sin(skew), math.cos(skew)]
        normal = np.array([level[0] * math.cos(bevel), level[1] * math.cos(bevel), math.sin(bevel)])
        if told.axis == 2:
            normal = np.array([0.0, 0.0, 1.0])
        offcuts = []
        for piece in told.pieces:
            wood = self.take(piece.name)
            low, high = wood.bounds()
            ends = np.array(
                [[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
            )
            # a full cut can begin where the last corner of the lower end has been passed
            at = float((ends @ normal)[ends[:, told.axis] == low[told.axis]].max()) + told.first
            cuts = [at]
            for width in piece.widths:
                cuts += [cuts[-1] + width, cuts[-1] + width + told.kerf]
            cuts[:1] = [at - told.kerf, at]
            parts = slabs(wood, normal, np.array(cuts), 2 * np.arange(len(piece.widths) + 2))
            made = [parts.of(2 * number) for number in range(len(piece.widths) + 2)]
            offcuts += [made[end] for end in (0, -1) if len(made[end])]
            self.put_all(piece.makes, [self.squared(told, part) for part in made[1:-1]])
        self.put_all(told.offcuts, offcuts)

    @staticmethod
    def squared(told: Saw, wood: Cells) -> Cells:
        """Sawn faces laid square again: first about the vertical, then about the level."""
        s = math.radians((-told.skew if told.axis == 0 else told.skew) if told.level else 0.0)
        b = math.radians(-told.bevel if told.plumb else 0.0)
        wood = wood.turned(np.array([[math.cos(s), -math.sin(s), 0], [math.sin(s), math.cos(s), 0], [0, 0, 1]]))
        c, s = math.cos(b), math.sin(b)
        roll = [[c, 0, -s], [0, 1, 0], [s, 0, c]] if told.axis == 0 else [[1, 0, 0], [0, c, -s], [0, s, c]]
        return wood.turned(np.array(roll))

    def section(self, told: SawSection) -> None:
        falls: list[tuple[str, int, Cells]] = []
        for piece in told.pieces:
            wood, corners = self.take(piece.name), np.array(piece.corners)
            for side, (a, b) in enumerate(zip(corners, np.roll(corners, -1, axis=0), strict=True)):
                along = (b - a) / np.linalg.norm(b - a)
                out = np.array([along[1], 0.0, -along[0]])
                line = float(out[[0, 2]] @ a)
                parts = slabs(wood, out, np.array([line, line + told.kerf]), np.array([0, 2]))
                wood, fall = parts.of(0), parts.of(2)
                if len(fall):
                    falls.append((str(piece.name), side, fall))
            if told.rest_on:
                a, b = corners[told.rest_on - 1], corners[told.rest_on % len(corners)]
                angle = math.atan2(b[1] - a[1], b[0] - a[0])
                c, s = math.cos(angle), math.sin(angle)
                wood = wood.turned(np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]]))
            self.put(piece.name, wood)
        self.put_all(told.offcuts, [fall for _, _, fall in falls])

    def cut_back(self, told: CutBack) -> None:
        for piece in told.pieces:
            wood = self.take(piece.name)
            low, high = (float(bound[told.axis]) for bound in wood.bounds())
            # what it shall measure is what is set; should there be more or less wood than told, both sides share it
            begin = low + piece.lower + (high - low - piece.lower - piece.upper - piece.to) / 2
            left = slabs(wood, np.eye(3)[told.axis], np.array([begin, begin + piece.to]), np.array([1]))
            self.put(piece.name, left.cells)

    def turn(self, told: Turn) -> None:
        for piece in told.pieces:
            self.put(piece.name, self.take(piece.name).turned(turn_named(piece.turn).matrix))

    def glue(self, told: GlueUp) -> None:
        axis, way = told.across.axis, -1.0 if told.across.axis == 1 else 1.0
        along = 1 if axis == 0 else 0
        laid: list[Cells] = []
        for piece in told.pieces:
            wood = self.take(piece.name).turned(turn_named(piece.turn).matrix).at_origin()
            by = np.zeros(3)
            by[along] = piece.shift
            wood = wood.moved(by)
            by = np.zeros(3)
            by[axis] = way * _farthest(laid, wood, axis, way)
            laid.append(wood.moved(by))
        joints = [0, *told.dry, len(laid)]
        groups = [join(laid[a:b]) for a, b in pairwise(joints)]
        self.put_all(told.makes, groups)

    def frame(self, told: Frame) -> None:
        board = self.take(told.core)
        low, high = board.bounds()
        parts = [board]
        for side in told.sides:
            run, at = 1 - side.axis, float(low[1 - side.axis]) + side.begins
            for name in side.pieces:
                wood = self.take(name)
                if (wood.size()[1] > wood.size()[0]) != (run == 1):
                    wood = wood.turned(turn_named("quarter turn").matrix).at_origin()
                to = np.array([0.0, 0.0, float(low[2])])
                to[run] = at
                to[side.axis] = high[side.axis] if side.outwards > 0 else low[side.axis] - wood.size()[side.axis]
                at += float(wood.size()[run])
                flush = slabs(wood.moved(to), np.eye(3)[run], np.array([low[run], high[run]]), np.array([1]))
                parts.append(flush.cells)
        whole = _one(parts)
        for side, spline in zip(told.sides, told.splines, strict=False):
            axis, run = side.axis, 1 - side.axis
            wood = self.take(spline)
            wood = (wood.turned(turn_named("quarter turn").matrix) if run == 0 else wood).at_origin()
            size, corner = wood.size(), np.zeros(3)
            corner[run] = low[run]
            corner[axis] = (high if side.outwards > 0 else low)[axis] - size[axis] / 2
            corner[2] = (low[2] + high[2] - size[2]) / 2
            end = corner + size
            end[run] = high[run]
            whole, _ = carve(whole, [box(corner, end)])
            flush = slabs(wood.moved(corner), np.eye(3)[run], np.array([float(high[run])]), np.array([0]))
            whole = _one([whole, flush.cells])
        self.put(told.core, whole)

    def let_in(self, told: LetIn) -> None:
        board, run, across = self.take(told.board), told.axis, 1 - told.axis
        for channel in told.channels:
            strip = self.take(channel.strip)
            strip = (strip.turned(turn_named("quarter turn").matrix) if run == 0 else strip).at_origin()
            low, high = board.bounds()
            to = low.copy()
            to[across], to[2] = low[across] + channel.at - strip.size()[across] / 2, high[2] - told.depth
            near, far = low - CLEAR, high + CLEAR
            near[across], far[across], near[2] = to[across], to[across] + strip.size()[across], to[2]
            board, _ = carve(board, [box(near, far)])
            strip = strip.moved(to)
            for axis in (2, run):
                strip = slabs(strip, np.eye(3)[axis], np.array([float(high[axis])]), np.array([0])).cells
            board = _one([board, strip])
        self.put(told.board, board)

    def work(self, told: Work) -> None:
        """A router's or a drill's work, as the words for it say."""
        for name in told.pieces:
            stage = _stage(told)
            done = stage.run(Pieces(self.take(name).as_piece(0)), Bench(LIBRARY))
            self.put(name, done.pieces[0])


def _one(parts: Sequence[Cells]) -> Cells:
    return join([part.as_piece(0) for part in parts])


def _stage(told: Work) -> Stage:
    """A tool with these settings; a plan of one stage is the way to get one by its kind."""
    strip = {"wood": "oak", "width": 50}
    settings = {name: value for name, value in told.settings.items() if value is not None}
    plan = read_plan({
        "format": "laberinto-plan", "version": 1, "name": "Tool", "stages": [
            {"id": "wood", "kind": "mill", "strips": [strip]},
            {"id": "tool", "kind": told.kind, "from": "wood", **settings},
        ],
    })  # fmt: skip
    return plan.stage("tool")


def _farthest(laid: list[Cells], wood: Cells, axis: int, way: float) -> float:
    """How far along its way a piece has to lie to clear all that lies there. Boxes that have met say how far at most, so
    whatever could not be the farthest is not looked at."""
    low, high = (float(bound[axis]) for bound in wood.bounds())
    begin = high if way < 0 else low
    most = [(abs(float(there.bounds()[way > 0][axis]) - begin), at) for at, there in enumerate(laid)]
    far = 0.0
    for bound, at in sorted(most, reverse=True):
        if bound <= far:
            break
        apart = bound if _sides_meet(laid[at], wood, axis, way) else _until_it_meets(laid[at], wood, axis, way)
        far = far if apart is None else max(far, apart)
    return far


def _sides_meet(there: Cells, wood: Cells, axis: int, way: float) -> bool:
    """Whether what faces each other fills the sides of both boxes, and these lie against each other."""
    across = [k for k in range(3) if k != axis]
    (low, high), (near, far) = there.bounds(), wood.bounds()
    beside = np.minimum(high, far) - np.maximum(low, near)
    return bool((beside[across] > NEAR).all()) and _full(there, axis, way) and _full(wood, axis, -way)


def _full(wood: Cells, axis: int, way: float) -> bool:
    """Whether the side that looks this way along an axis is level, and as large as that of the box."""
    a, b = (k for k in range(3) if k != axis)
    normals, _ = wood.world_planes()
    corners, size, (start, end, left, right) = wood.world(), wood.size(), wood.edges
    reach = corners[:, axis].max() if way > 0 else corners[:, axis].min()
    out = np.abs(corners[start, axis] - reach) + np.abs(corners[end, axis] - reach) < NEAR / 1000
    level = way * normals[:, axis] > 1 - 1e-12
    turn = corners[start, a] * corners[end, b] - corners[start, b] * corners[end, a]
    area = abs(float((turn * out * (level[left].astype(float) - level[right])).sum())) / 2
    return abs(area - float(size[a] * size[b])) < NEAR


def _until_it_meets(there: Cells, wood: Cells, axis: int, way: float) -> float | None:
    """How far along its way a piece touches another; None where they pass each other by."""
    return distance(wood, there, axis) if way < 0 else distance(there, wood, axis)


NEAR = 1e-6
"""mm"""


def ends_alike(sim: Simulation, near: float = NEAR) -> None:
    """Following the instructions ends with what the simulation ends with."""
    bench, known = Follower().follow(instructions(sim)).bench, names(sim)[sim.board.stage.id]
    for number, name in enumerate(known):
        same_wood(bench[str(name)], sim.board.pieces[number], near)


def same_wood(one: Cells, other: Cells, near: float = NEAR) -> None:
    """Each strip fills the same room in both, and lies there the same way: its volume, its middle, how it spreads from
    there, and its turn."""
    one, other = one.at_origin(), other.at_origin()
    assert one.size() == pytest.approx(other.size(), abs=near)
    (mine, lie), (theirs, there) = _lies(one), _lies(other)
    assert mine.tolist() == theirs.tolist()
    for strip, a, b in zip(mine.tolist(), lie, there, strict=True):
        assert a == pytest.approx(b, abs=near), f"strip {strip}"


def _lies(cells: Cells) -> tuple[Ints, Floats]:
    """The strips of the cells, (n,), and of each its volume as the edge of a cube, middle and spread in mm, and how its
    cells are turned, in whatever order, (n, 16)."""
    strips, owner = np.unique(cells.strip, return_inverse=True)
    found = moments_of(cells, owner)
    volume, middle = found[:, :1], found[:, 1:4] / found[:, :1]
    rows, columns = np.triu_indices(3)
    spread = np.sqrt(np.abs(found[:, 4:][:, rows == columns] / volume))
    turned = (cells.volumes()[:, None, None] * cells.rot).reshape(-1, 9).T
    turns = np.stack([np.bincount(owner, one) for one in turned], axis=1) / volume
    return strips, np.concatenate([np.cbrt(volume), middle, spread, turns], axis=1)


ACTS: dict[type[Instruction], Callable[[Follower, Instruction], None]] = {
    MillStrips: Follower.mill, Saw: Follower.saw, SawSection: Follower.section, CutBack: Follower.cut_back,
    Turn: Follower.turn, GlueUp: Follower.glue, Frame: Follower.frame, LetIn: Follower.let_in, Work: Follower.work,
}  # type: ignore[dict-item]  # fmt: skip
