"""The finished face as SVG in mm: a group for each wood, filled in its colour, or as hairlines for a laser."""

from __future__ import annotations

from laberinto.core.analysis.blocks import blocks_by_wood
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.drawing.svg import tag

HAIRLINE = 0.01
"""As wide as lasers take for a line to follow, mm."""


def face_svg(sim: Simulation, *, laser: bool = False) -> str:
    """Width, height and all coordinates are mm; for a ``laser`` nothing is filled."""
    face = face_of(sim.whole(), Side.TOP)
    wide, high = (float(v) for v in face.size)
    groups = []
    for wood, polygons in blocks_by_wood(sim, face).items():
        d = "".join(
            "M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in list(ring.coords)[:-1]) + "Z"
            for polygon in polygons
            for ring in (polygon.exterior, *polygon.interiors)
        )
        if laser:
            shape = tag("path", d=d, fill="none", stroke="#000", stroke_width=f"{HAIRLINE}")
        else:
            shape = tag("path", d=d, fill=sim.woods[wood].colour("oiled"), fill_rule="evenodd")
        groups.append(tag("g", tag("title", sim.woods[wood].name) + shape, id=wood))
    return tag(
        "svg", "".join(groups), xmlns="http://www.w3.org/2000/svg", width=f"{wide:.4f}mm", height=f"{high:.4f}mm",
        viewBox=f"0 0 {wide:.4f} {high:.4f}",
    )  # fmt: skip
