"""Tumbling blocks: rhombus bars of three tones make hexagons, whose rows nest into each other."""

from __future__ import annotations

import math
from typing import ClassVar

from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Glue, Stage
from .closing import gap
from .model import Family, Handles, Truth, section, stock


class Tumbling(Family):
    """Three bars with 60° rhombus sections, sides of ``side``: left, right and top of a cube. A row of such hexagons
    has zigzag edges; every other row is shifted by half a block, and they nest."""

    key: ClassVar[str] = "tumbling"
    title: ClassVar[str] = "Tumbling blocks"
    summary: ClassVar[str] = "Rhombus bars of three tones: cubes in a heap, with no straight joint anywhere."
    handles: ClassVar[Handles] = Handles("blocks", "rows", ("side",), ("side",))

    light: str = wood("sycamore", label="Top, the lightest")
    mid: str = wood("pear", label="Left side")
    dark: str = wood("bog-oak", label="Right side, darkest")
    side: float = millimetres(28.0, label="Side", help="Of each rhombus.", least=10, most=80)
    blocks: int = whole(6, label="Blocks across", help="Half of one is lost to the shift.", least=2, most=20)
    rows: int = whole(8, label="Rows", help="The first and last are cut straight.", least=3, most=40)

    @property
    def pitch(self) -> float:
        """Width of a hexagon standing on its point: side × √3."""
        return self.side * math.sqrt(3)

    def stages(self) -> list[Stage]:
        s, w, n = self.side, self.pitch, self.blocks
        long = self.panel_for(self.rows)

        each = list(range(2, 2 * n, 2))
        return [
            stock("left-stock", self.dark, w / 2, 1.5 * s, n, long, 1),
            section("lefts", "left-stock", self.kerf, (0, s / 2), (w / 2, 0), (w / 2, s), (0, 1.5 * s)),
            stock("right-stock", self.mid, w / 2, 1.5 * s, n, long, 101),
            section("rights", "right-stock", self.kerf, (0, 0), (w / 2, s / 2), (w / 2, 1.5 * s), (0, s)),
            Glue(id="corners", source="lefts", also=["rights"], sequence=["lefts", "rights"], dry=each),
            stock("top-stock", self.light, w, s, n, long, 201),
            section("tops", "top-stock", self.kerf, (w / 2, 0), (w, s / 2), (w / 2, s), (0, s / 2)),
            Glue(
                id="blocks", source="corners", also=["tops"], across="thickness", sequence=["corners", "tops"], dry=each
            ),
            # turned over, so that the tops come up on the face
            Glue(id="panel", source="blocks", turns=["face over"]),
            self.sliced("panel", self.rows),
            *self.laid("as-cut", shifts=[0, w / 2]),
            *self.finished(flush=True, edge=1),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)
