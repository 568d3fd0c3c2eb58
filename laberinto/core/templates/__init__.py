"""Templates true to size: what is traced, routed along or held to the wood, read off the simulated plan."""

from __future__ import annotations

from ..plan.simulate import Simulation
from ..shop import Shop
from ..stages import Cove, Crosscut, Feet, Flatten, Glue, Groove, Hollow, Inlay, Notch, Profile, Rip, Shape, Stage, Well
from ..units import Lengths
from . import gauges, routed, rows
from .model import Label, Line, Maker, Making, Stroke, Template
from .tiling import Tile, factor, tiles

__all__ = [
    "MAKERS", "Label", "Line", "Maker", "Making", "Stroke", "Template", "Tile", "factor", "templates", "tiles",
]  # fmt: skip

MAKERS: dict[type[Stage], Maker] = {
    Shape: routed.outline,
    Groove: routed.groove,
    Well: routed.well,
    Notch: routed.notch,
    Inlay: routed.inlay,
    Hollow: gauges.hollow,
    Cove: gauges.cove,
    Profile: gauges.section,
    Rip: gauges.cut,
    Crosscut: gauges.cut,
    Glue: rows.glued,
    Flatten: gauges.sled,
    Feet: gauges.feet,
}
"""What makes the templates of a kind of stage. A kind that is not here needs none."""


def templates(sim: Simulation, shop: Shop, lengths: Lengths) -> list[Template]:
    """All templates of a build in its order; of equal pieces, that of the first. Where two stages want the same gauge
    it is there once."""
    out: dict[tuple[str, bytes], Template] = {}
    for result in sim.results:
        stage = result.stage
        maker = MAKERS.get(type(stage))
        if maker is None:
            continue
        low, high = sim.taken(stage.sources[0])[0].bounds()
        for one in maker(Making(sim, stage, low, high, shop, lengths)):
            out.setdefault((one.title, b"".join(s.points.round(4).tobytes() for s in one.strokes)), one)
    return list(out.values())
