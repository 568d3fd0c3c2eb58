"""The studio's drawings: cuts before they are made, edges folded out, what can be taken hold of, scenes of the replay."""

import math
import re
from xml.etree import ElementTree

import pytest

from laberinto.core.edits import rows
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Mill, Profile, Rip
from laberinto.core.units import Lengths
from laberinto.drawing import bench, replay, sawing, unfolded
from laberinto.drawing.skin import Flat

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def sim() -> Simulation:
    return simulate(Alternating(strips=6, slices=6).plan("Drawn"))


def edges_of(svg: str, name: str) -> list[ElementTree.Element]:
    return [e for e in ElementTree.fromstring(svg).iter() if e.get("class") == name]


def test_a_crosscut_shows_its_stop_its_kerfs_and_what_is_left(sim: Simulation) -> None:
    """6 slices need 7 cuts. Panel 355: 355 − 5 − 6 × 45 = 80 mm are left, rounded up by the pattern to hold on to."""
    svg = sawing.cuts(sim, sim["slices"], Flat(sim), Lengths())
    words = [e.text for e in ElementTree.fromstring(svg).iter(f"{SVG}text")]
    assert len(edges_of(svg, "kerf")) == 7 and [w for w in words if w and w.isdigit()] == list("123456")
    left = sim["panel-flat"].size[1] - 5 - 6 * 45
    assert "stop 42 mm" in words and f"offcut {Lengths().show(left)}" in words


def test_a_bevelled_rip_is_seen_from_the_end_and_says_its_tilt() -> None:
    stages = (
        Mill(id="m", thickness=40, length=300, strips=({"wood": "ash", "width": 120},)),  # type: ignore[arg-type]
        Rip(id="r", source="m", width=30, count=2, bevel=30),
        Profile(id="p", source="r", section="diamond"),  # type: ignore[arg-type]
    )
    sim = simulate(Plan(name="tilted", stages=stages))
    rip = sawing.cuts(sim, sim["r"], Flat(sim), Lengths())
    assert 'aria-label="Rip, seen from the near end"' in rip and "blade tilted 30°" in rip
    # along the cut's line in the picture, each kerf leans 30° from upright
    band = edges_of(rip, "kerf")[0].get("d", "")
    (x0, y0), (x1, y1) = ([float(v) for v in point.split()] for point in band[1:].split("L")[:2])
    assert abs(math.degrees(math.atan2(abs(x1 - x0), abs(y1 - y0)))) == pytest.approx(30, abs=0.2)
    assert "from upright" in sawing.section(sim, sim["p"], Flat(sim), Lengths())


def test_edges_folded_out_meet_the_face(sim: Simulation) -> None:
    """Where an edge is folded out beside the face, the same strips come in the same order."""
    piece = sim["trimmed"].pieces[0]
    top, front = face_of(piece, Side.TOP), face_of(piece, Side.FRONT)
    last = [
        int(top.strip[i])
        for i in range(len(top))
        if top.points[top.ptr[i] : top.ptr[i + 1], 1].max() > top.size[1] - 1e-6
    ]
    order = sorted(range(len(front)), key=lambda i: front.points[front.ptr[i], 0])
    assert sorted(last) == sorted(int(front.strip[i]) for i in order)
    svg = unfolded.edges(piece, Flat(sim), Lengths(), label="edges")
    assert len(edges_of(svg, "edge")) == 4
    width, length, thick = sim["trimmed"].size
    shown = ElementTree.fromstring(svg)
    _, _, wide, tall = (float(v) for v in shown.get("viewBox", "").split())
    assert wide > width + 2 * thick and tall > length + 2 * thick


def test_strips_can_be_taken_hold_of_and_rows_lie_shifted(sim: Simulation) -> None:
    strips_ = bench.stage(sim, sim["strips"], Flat(sim), Lengths())
    assert [e.get("data-piece") for e in edges_of(strips_, "piece")] == list("012345")
    assert {e.get("data-width") for e in edges_of(strips_, "edge-handle")} == {"30"}
    shifted = simulate(rows.shift(sim.plan, "rows", [2], -12).plan)
    laid = bench.stage(shifted, shifted["rows"], Flat(shifted), Lengths("mm"))
    assert [e.get("x") for e in edges_of(laid, "row-frame")] == ["12", "12", "0", "12", "12", "12"]
    assert "12 mm left" in laid


@pytest.mark.parametrize(("stage", "acts"), [
    ("strips", {"come": 6}), ("panel", {"slide": 6}), ("slices", {"go": 1, "slide": 6, "blade": 1}),
    ("rows", {"fold": 6, "rise": 6}), ("board-flat", {"go": 1, "come": 1}),
])  # fmt: skip
def test_a_scene_says_how_its_parts_move(sim: Simulation, stage: str, acts: dict[str, int]) -> None:
    svg = ElementTree.fromstring(replay.scene(sim, sim[stage], Flat(sim), "x"))
    found = [e.get("data-act") for e in svg.iter() if e.get("data-act")]
    assert {act: found.count(act) for act in set(found)} == acts
    left, top, width, height = (float(v) for v in svg.get("viewBox", "").split())
    drawn = [float(v) for e in svg.iter() for v in re.findall(r"translate\(([-\d.]+) ", e.get("transform", ""))]
    assert all(left <= x <= left + width for x in drawn) and height > 0 and top < 0
