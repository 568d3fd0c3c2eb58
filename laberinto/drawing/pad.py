"""A list drawn on the piece it is for: the wood, and over it lines, corners and runs that can be taken hold of."""

from __future__ import annotations

import json

from laberinto.core.edits.drawn import Draws, Pad
from laberinto.core.geometry.faces import face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Cells

from .faces import wood
from .skin import Flat, Ringed, Skin
from .svg import document, num, tag

MOST_RINGED = 400
"""A piece of more blocks is drawn in plain colours: it lies under what is drawn, and is sent with each edit."""

MARGIN = 0.08
"""Room round the piece, as a share of its longer side, for points that lie outside it."""


def pad(drawn: Pad, piece: Cells, sim: Simulation, prefix: str, finish: str) -> str:
    """The drawing. Handles say which run and point they are; ``data-pad`` has what a script needs to know."""
    few = len(piece) <= MOST_RINGED
    skin: Skin = Ringed(sim, prefix, finish) if few else Flat(sim, finish)
    inner = tag("g", wood(face_of(piece, drawn.side), skin, seam=0.3 if few else 0.0), class_="pad-wood")
    width, height = drawn.size
    reach = [abs(v) for run in drawn.runs for x, y in run for v in (max(-x, x - width), max(-y, y - height)) if v > 0]
    room = max(MARGIN * max(width, height), *(v + 4 for v in reach), 6.0)
    size = max(width, height) / max(60, 2.5 * len(drawn.runs))  # neighbours do not cover each other
    inner += "".join(_run(drawn, at, size) for at in range(len(drawn.runs)))
    told = {
        "field": drawn.field, "draws": drawn.draws.value, "height": height, "width": width, "snaps": drawn.snaps,
        "runs": len(drawn.runs),
    }  # fmt: skip
    return document(
        tag("defs", skin.defs()) + inner, width + 2 * room, height + 2 * room, label="Drag to set", left=-room,
        top=-room, class_="pad", data_pad=json.dumps(told),
    )  # fmt: skip


def _run(drawn: Pad, at: int, size: float) -> str:
    """One run with its handles; of a line there is one handle, in its middle."""
    height = drawn.size[1]
    points = [(x, height - y) for x, y in drawn.runs[at]]
    name = "polygon" if drawn.draws is Draws.OUTLINE else "polyline"
    line = tag(
        name, points=" ".join(f"{num(x)},{num(y)}" for x, y in points), class_="pad-line", data_run=at,
        vector_effect="non-scaling-stroke",
    )  # fmt: skip
    single = drawn.draws in (Draws.UPRIGHT, Draws.LEVEL)
    (ax, ay), (bx, by) = points[0], points[-1]
    places = [((ax + bx) / 2, (ay + by) / 2)] if single else points
    handles = [
        tag(
            "circle", cx=x, cy=y, r=size, class_="pad-handle", tabindex=0, id=f"pad-{drawn.field}-{at}-{k}",
            data_run=at, data_index=k, role="button", aria_label=f"Line {at + 1}" if single else f"Point {k + 1}",
        )
        for k, (x, y) in enumerate(places)
    ]  # fmt: skip
    return line + "".join(handles)
