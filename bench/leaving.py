"""What leaves the screen: G-code, carving by it, a face of thousands of cells as DXF, the build book. The baseline is a
cold simulation of a plain board in the same run."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from laberinto.core.cnc.gcode import read
from laberinto.core.cnc.job import Setting
from laberinto.core.cnc.program import machine_for, program
from laberinto.core.cnc.surface import seen_from
from laberinto.core.cnc.tools import USUAL
from laberinto.core.geometry.faces import Side
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Across, Arrange, Crosscut, Flatten, Glue, Groove, Hollow, Method, Mill, StripSpec
from laberinto.files.dxf import face_dxf
from laberinto.store import Store
from laberinto.web import create_app


def carved() -> Simulation:
    """400 × 300 with a flattening by CNC, a groove and a hollow."""
    strips = (StripSpec(wood="beech", width=50), StripSpec(wood="plum", width=50)) * 3
    return simulate(Plan(name="Bench", stages=(
        Mill(id="s", thickness=40, length=400, strips=strips), Glue(id="g", source="s"),
        Flatten(id="f", source="g", each_face=1.5, method=Method.CNC), Groove(id="r", source="f", width=12, inset=20),
        Hollow(id="h", source="r", radius=300, depth=10),
    )))  # fmt: skip


def fine() -> Simulation:
    """5,120 cells of 10 × 12."""
    strips = (StripSpec(wood="beech", width=10), StripSpec(wood="plum", width=10)) * 40
    return simulate(Plan(name="Fine", stages=(
        Mill(id="s", thickness=12, length=900, strips=strips), Glue(id="g", source="s"),
        Crosscut(id="c", source="g", slice=12, count=64, kerf=1.6), Arrange(id="a", source="c"),
        Glue(id="b", source="a", across=Across.LENGTH),
    )))  # fmt: skip


def timed(action: Callable[[], object]) -> float:
    began = time.perf_counter()
    action()
    return time.perf_counter() - began


def main() -> None:
    plain = Alternating().plan("Base")
    base = min(timed(lambda: simulate(plain, remember=False)) for _ in range(3))
    print(f"{'what leaves the screen':48} {'s':>12} {'':9} {'of the baseline':>16}")

    def say(words: str, seconds: float, more: str = "") -> None:
        print(f"{words:48} {seconds:12.2f} {'':9} {seconds / base:15.1f}× {more}")

    say("a plain board, cold (baseline)", base)
    sim = carved()
    made = program(sim, ["f", "r", "h"], Side.TOP, USUAL, Setting())
    say("G-code: flatten, groove, hollow, 400 × 300", timed(
        lambda: program(sim, ["f", "r", "h"], Side.TOP, USUAL, Setting()).text
    ))  # fmt: skip
    before, _ = made.wood()
    commands = read(made.text)
    many = commands * max(round(100_000 / len(commands)), 1)
    machine = machine_for(made, before, USUAL)
    took = timed(lambda: machine.run(many))
    say(f"carving {len(many)} lines, 0.2 mm", took, f"{machine.seconds / took:.0f} × real time")
    say("the wood as a height map", timed(lambda: seen_from(sim.board.pieces[0], Side.TOP, zero=0.0)))
    large = fine()
    say(f"DXF of {len(large.board.pieces.cells)} cells", timed(lambda: face_dxf(large)))
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder))
        store: Store = app.extensions["store"]
        board = store.create(Alternating().plan("Book"))
        client, address = app.test_client(), f"/boards/{board}/paper/book.pdf?paper=a4"
        client.get(address)
        say("build book", timed(lambda: client.get(address)))


if __name__ == "__main__":
    main()
