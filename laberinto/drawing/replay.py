"""The plan acted out: for each stage one scene, seen from above, whose parts say how they move.

A part is a group with ``data-act``: ``slide`` (from ``data-dx``, ``data-dy`` mm to its place), ``fold`` (a lying slice
folds away) and ``rise`` (its end grain stands up, ``data-flip`` where it turns over on the way), ``come`` (appears) or
``go`` (vanishes). A ``blade`` runs through ``data-stops`` along ``data-axis``. ``data-turn`` is a part's place in the
order; with ``data-after`` it waits for the blade.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.solid import Cells, apart
from laberinto.core.stages import Arrange, Crosscut, Glue, Mill, Resaw, Rip, Stage

from .faces import wood
from .skin import Skin
from .svg import document, tag

GAP = 9.0
MOST_PARTS = 60
"""Pieces beyond this move together with the last."""


@dataclass(frozen=True, slots=True)
class Scene:
    """What a stage's picture is made of, and the box round it in mm."""

    inner: str
    left: float
    top: float
    width: float
    height: float


def _picture(cells: Cells, skin: Skin) -> tuple[str, float, float]:
    """The wood from above, with where its box starts in the picture (right, down)."""
    low, high = cells.bounds()
    return wood(face_of(cells, Side.TOP), skin, seam=0.3), float(low[0]), float(-high[1])


def _part(cells: Cells, skin: Skin, act: str, turn: int, dx: float = 0.0, dy: float = 0.0, **more: str | float) -> str:
    inner, x, y = _picture(cells, skin)
    placed = tag("g", inner, transform=f"translate({x:.2f} {y:.2f})")
    return tag("g", placed, class_="part", data_act=act, data_turn=str(turn), data_dx=dx, data_dy=dy, **more)


def _mill(sim: Simulation, result: StageResult, skin: Skin) -> Scene:
    cells = apart(result.pieces.cells, 0, GAP)
    parts = [_part(cells.of_piece(i), skin, "come", i) for i in range(len(result.pieces))]
    return _scene("".join(parts), cells)


def _glue(sim: Simulation, result: StageResult, skin: Skin) -> Scene:
    cells, laid = result.pieces.cells, result.outcome.laid
    assert laid is not None and isinstance(result.stage, Glue)
    axis = result.stage.across.axis
    if len(result.pieces) > 1:
        cells = apart(cells, 0, GAP)
    count = int(laid.max()) + 1
    parts = []
    for at in range(min(count, MOST_PARTS)):
        mine = laid == at if at < MOST_PARTS - 1 else laid >= at
        away = (at - (count - 1) / 2) * GAP
        dx, dy = (away, 0.0) if axis == 0 else (0.0, away) if axis == 1 else (0.0, -away)
        parts.append(_part(cells.take(mine), skin, "slide", at, dx, dy))
    return _scene("".join(parts), cells)


def _saw(sim: Simulation, result: StageResult, skin: Skin) -> Scene:
    """The blade runs through the first piece, whose parts then lie open."""
    stage = result.stage
    assert isinstance(stage, Rip | Crosscut)
    source = sim.taken(stage.sources[0])[0]
    axis = 1 if isinstance(stage, Crosscut) else 0
    _, runs = stage.layout(source)
    whole, x, y = _picture(source, skin)
    parts = [
        tag("g", tag("g", whole, transform=f"translate({x:.2f} {y:.2f})"), class_="part", data_act="go", data_turn="0")
    ]
    low, high = source.bounds()
    count = len(runs) - 1
    for at in range(min(count, MOST_PARTS)):
        piece = result.pieces[at]
        place = np.array([low[0], low[1], 0.0])
        place[axis] = low[axis] + (float(runs[at][1]) - float(low[axis]))
        away = (at - (count - 1) / 2) * GAP * 0.6
        dx, dy = (away, 0.0) if axis == 0 else (0.0, -away)
        moved = piece.moved(place + (np.array([dx, -dy, 0.0])))
        parts.append(_part(moved, skin, "slide", at, -dx, -dy, data_after="saw"))
    reach = float(high[1 - axis] - low[1 - axis])
    long, wide = reach + 2 * GAP, 2.0
    at_rest = (-GAP, 0.0, long, wide) if axis == 1 else (0.0, -reach - GAP, wide, long)
    x, y, width, height = at_rest
    steps = " ".join(f"{-float((a + b) / 2) if axis == 1 else float((a + b) / 2):.1f}" for a, b in runs)
    blade = tag(
        "rect",
        x=x,
        y=y,
        width=width,
        height=height,
        class_="blade",
        data_act="blade",
        data_axis="y" if axis == 1 else "x",
        data_stops=steps,
    )
    spread = GAP * 0.6 * count
    return _scene("".join(parts) + blade, source, (spread, 0.0) if axis == 0 else (0.0, spread))


def _arrange(sim: Simulation, result: StageResult, skin: Skin) -> Scene:
    stage = result.stage
    assert isinstance(stage, Arrange)
    pools = [sim.taken(name) for name in stage.sources]
    lying = [pool[i] for pool in pools for i in range(len(pool))]
    cells = apart(result.pieces.cells, 1, GAP)
    parts = []
    for row, (number, lie) in enumerate(stage.rows([len(pool) for pool in pools])):
        standing = cells.of_piece(row)
        low, high = standing.bounds()
        flat = lying[number - 1].at_origin()
        size = flat.size()
        flat = flat.moved([float(low[0]), float((low[1] + high[1]) / 2 - size[1] / 2), 0.0])
        flips = "yes" if lie in (Lie.FLIP, Lie.END_FOR_END) else ""
        parts.append(_part(flat, skin, "fold", row))
        parts.append(_part(standing, skin, "rise", row, data_flip=flips))
    return _scene("".join(parts), cells)


def _change(sim: Simulation, result: StageResult, skin: Skin) -> Scene:
    """From the wood as it came to the wood as it leaves."""
    stage = sim.plan.stage(result.stage.id)
    before = sim.taken(stage.sources[0]).cells if stage.sources else result.pieces.cells
    after = result.pieces.cells
    if after.pieces > 1:
        before, after = apart(before, 0, GAP), apart(after, 0, GAP)
    else:
        low, high = before.bounds()
        size = after.size()
        after = after.at_origin().moved([*((low + high)[:2] / 2 - size[:2] / 2), 0.0])
    return _scene(_part(before, skin, "go", 0) + _part(after, skin, "come", 0), before)


def _scene(inner: str, cells: Cells, spread: tuple[float, float] = (0.0, 0.0)) -> Scene:
    """The parts with the picture's box round the wood: its left, top, width and height in mm."""
    low, high = cells.bounds()
    x, y = spread
    return Scene(
        inner, float(low[0]) - x / 2, float(-high[1]) - y / 2, float(high[0] - low[0]) + x, float(high[1] - low[1]) + y
    )


SCENES: dict[type[Stage], Callable[[Simulation, StageResult, Skin], Scene]] = {
    Mill: _mill, Glue: _glue, Crosscut: _saw, Rip: _saw, Resaw: _change, Arrange: _arrange,
}  # fmt: skip
"""How each kind of stage is acted out; any other fades from before to after."""


def scene(sim: Simulation, result: StageResult, skin: Skin, label: str) -> str:
    """One stage as a scene to act out."""
    made = SCENES.get(type(result.stage), _change)(sim, result, skin)
    margin = 0.05 * max(made.width, made.height) + GAP
    return document(
        tag("defs", skin.defs()) + made.inner, made.width + 2 * margin, made.height + 2 * margin, label=label,
        left=made.left - margin, top=made.top - margin, class_="scene",
    )  # fmt: skip
