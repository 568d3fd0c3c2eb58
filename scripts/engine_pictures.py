"""Draw the pictures of docs/engine.md with the engine itself; ``python -m scripts.engine_pictures`` writes them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from bench.chaos import chaos
from laberinto.core.geometry.cutters import round_profile, run_along
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.solid import Cells, Plane, apart, carve, split
from laberinto.drawing.board import thumbnail
from laberinto.drawing.faces import shift, wood
from laberinto.drawing.skin import Flat, Ringed, Skin
from laberinto.drawing.svg import document, tag, text

OUT = Path(__file__).resolve().parent.parent / "docs" / "pictures"
INK = "#333a44"

Part = tuple[str, Callable[[Skin], str], float]
"""A word, the drawing above it, and the drawing's width in mm."""


def _sim(*stages: dict[str, Any]) -> Simulation:
    return simulate(read_plan({"format": "laberinto-plan", "version": 1, "name": "Picture", "stages": list(stages)}))


def _bar(*woods: str, rings: bool = False) -> Simulation:
    """Strips of 30 × 30 × 150 side by side; with ``rings`` the heart lies below to the left of each."""
    own = {"rings": {"heart": [-18, -25], "spacing": 2.4, "seed": 3}} if rings else {}
    strips = [{"wood": w, "width": 30, **own} for w in woods]
    return _sim(
        {"id": "s", "kind": "mill", "thickness": 30, "length": 150, "strips": strips},
        {"id": "p", "kind": "glue", "from": "s"},
    )


def _row(parts: list[Part], sim: Simulation, height: float, label: str, letters: float = 7.0) -> str:
    """Drawings beside each other with a word below each."""
    skin = Ringed(sim, "e")
    inner, x = "", 0.0
    for word, draw, width in parts:
        inner += tag("g", draw(skin), transform=f"translate({x:g} 0)")
        inner += text(x + width / 2, height + 1.4 * letters, word, letters, fill=INK)
        x += width + 14
    return document(
        tag("defs", skin.defs()) + inner, x - 14 + 8, height + 8 + 2 * letters, label=label, left=-4, top=-4
    )


def cell() -> str:
    """The end and the side of one strip, and the side after a slanted cut: two cells of one frame."""
    sim = _bar("ash", rings=True)
    strip = sim["p"].pieces[0]
    below, above = split(strip, Plane.of((0.0, 1.0, 0.5), 82.0))

    def seen(piece: Cells, side: Side, x: float = 0.0) -> Callable[[Skin], str]:
        return lambda skin: wood(face_of(piece, side), skin, shift(x, 0))

    def cut(skin: Skin) -> str:
        return seen(below, Side.RIGHT)(skin) + seen(above, Side.RIGHT, float(above.bounds()[0][1]) + 8)(skin)

    parts: list[Part] = [
        ("its end", seen(strip, Side.FRONT), 36),
        ("its side", seen(strip, Side.RIGHT), 150),
        ("cut: two cells", cut, 158),
    ]
    return _row(parts, sim, 30, "a cell and a cut")


def turns() -> str:
    """The end of one strip as it lies in each of four turns."""
    sim = _bar("ash", rings=True)
    strip = sim["p"].pieces[0]
    named = [
        ("as it lies", Lie.AS_CUT),
        ("end for end", Lie.END_FOR_END),
        ("other end up", Lie.OTHER_END_UP),
        ("flip", Lie.FLIP),
    ]
    parts: list[tuple[str, Callable[[Skin], str], float]] = []
    for word, lie in named:
        face = face_of(strip.turned(lie.turn.matrix).at_origin(), Side.TOP)
        parts.append((word, lambda skin, face=face: wood(face, skin, shift(10, 0)), 50.0))  # type: ignore[misc]
    return _row(parts, sim, 30, "one slice in its four lies")


def face() -> str:
    """Two strips, a skewed slice laid square again: the map stretches the pattern by 1 / cos of the skew."""
    sim = _sim(
        {"id": "s", "kind": "mill", "thickness": 30, "length": 150,
         "strips": [{"wood": w, "width": 30} for w in ("ash", "elm", "ash")]},
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 30, "count": 2, "squaring": 4, "skew": 30},
    )  # fmt: skip
    before = face_of(sim["p"].pieces[0], Side.FRONT)
    after = face_of(sim["c"].pieces[0], Side.FRONT)
    parts: list[Part] = [
        ("cut square: 90", lambda skin: wood(before, skin), 90),
        ("cut at 30°: 103.9", lambda skin: wood(after, skin), 120),
    ]
    return _row(parts, sim, 30, "the same panel cut square and at a slant")


def carving() -> str:
    """A groove seen from its end, and the convex cells that it is kept as, pulled apart."""
    sim = _bar("ash", "elm")
    tools = run_along(np.array([[27.0, -10.0], [27.0, 160.0]]), round_profile(11, 13), 30.0, 1.0)
    left, _ = carve(sim["p"].pieces[0], tools)
    low, high = left.cell_bounds()
    middle = (low + high) / 2
    loose = left.moved(0.35 * (middle - np.array([27.0, 0, 8.0])) * np.array([1.0, 0.0, 1.0])).at_origin()

    def front(cells: Cells, down: float) -> Callable[[Skin], str]:
        return lambda skin: wood(face_of(cells, Side.FRONT), skin, shift(0, down))

    tall = float(loose.size()[2])
    parts: list[Part] = [("a groove", front(left, tall - 30), 60), ("its convex cells", front(loose, 0), 84)]
    return _row(parts, sim, tall, "a groove and its cells")


def pass_() -> str:
    """A panel ripped at a slant, its strips apart, and glued up again in another order."""
    sim = _sim(
        {"id": "s", "kind": "mill", "thickness": 24, "length": 200,
         "strips": [{"wood": w, "width": 24} for w in ("ash", "plum", "elm", "ash", "bog-oak", "pear")]},
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "r", "kind": "rip", "from": "p", "width": 22, "skew": 9},
        {"id": "g", "kind": "glue", "from": "r", "shuffle": 3, "turns": ["as it lies", "face over"]},
        {"id": "t", "kind": "trim", "from": "g", "edge": 0, "flush": True},
    )  # fmt: skip
    panel, rips, glued, flush = (face_of(c, Side.TOP) for c in (
        sim["p"].pieces[0], apart(sim["r"].pieces.cells, 0, 8), sim["g"].pieces[0], sim["t"].pieces[0],
    ))  # fmt: skip

    def top(shown: Face) -> Callable[[Skin], str]:
        return lambda skin: wood(shown, skin, shift(0, (232 - float(shown.size[1])) / 2))

    named = [("panel", panel), ("ripped at 9°", rips), ("glued anew", glued), ("cut flush", flush)]
    return _row(
        [(word, top(shown), float(shown.size[0])) for word, shown in named], sim, 236, "one pass of a chaos board"
    )


def workload(strips: int = 20) -> str:
    """The benchmark's board."""
    sim = simulate(chaos(strips))
    return thumbnail(face_of(sim.board.pieces[0], Side.TOP), Flat(sim), label=f"chaos board of {strips} strips")


PICTURES: dict[str, Callable[[], str]] = {
    "cell": cell, "turns": turns, "face": face, "carving": carving, "pass": pass_, "workload": workload,
}  # fmt: skip


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    for name, draw in PICTURES.items():
        (OUT / f"{name}.svg").write_text(draw() + "\n")
        print(f"docs/pictures/{name}.svg")


if __name__ == "__main__":
    main()
