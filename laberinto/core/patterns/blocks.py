"""3D blocks, mitred: a front, a side and a top of three tones that meet at 45°, between plain squares."""

from __future__ import annotations

from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Glue, Stage
from .closing import gap
from .model import Family, Handles, Truth, section, stock


class MitredBlocks(Family):
    """Each block is ``front`` square, with a side and a top ``depth`` thick mitred round its corner; it is turned over
    in the panel, so that the top comes up on the face. Plain squares of
    the same size lie between, and every other row is shifted by one."""

    key: ClassVar[str] = "blocks"
    title: ClassVar[str] = "Mitred blocks"
    summary: ClassVar[str] = (
        "Three tones mitred at 45° round a block, between plain squares: it stands out of the face."
    )
    handles: ClassVar[Handles] = Handles("blocks", "rows", ("front", "depth"), ("front", "depth"))

    light: str = wood("sycamore", label="Top, lightest")
    mid: str = wood("pear", label="Front and squares")
    dark: str = wood("bog-oak", label="Side, darkest")
    front: float = millimetres(34.0, label="Front", help="Side of the block's front.", least=10, most=120)
    depth: float = millimetres(14.0, label="Depth", help="How far the side and the top reach.", least=5, most=80)
    blocks: int = whole(4, label="Blocks across", help="With as many plain squares.", least=1, most=20)
    rows: int = whole(7, label="Rows", help="Each is one block high.", least=1, most=40)

    @property
    def whole_block(self) -> float:
        """Side of the square that a block and its mitred sides make."""
        return self.front + self.depth

    def check(self) -> None:
        super().check()
        if self.depth > self.front:
            raise InputError(
                "Sides {depth} deep hide a front of {front}. Take {front} or less.", "depth",
                depth=self.depth, front=self.front,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        f, d, s, n = self.front, self.depth, self.whole_block, self.blocks
        long = self.panel_for(self.rows)

        each = list(range(2, 2 * n, 2))
        return [
            stock("fronts", self.mid, f, f, n, long, 1),
            stock("side-stock", self.dark, d, s, n, long, 101),
            section("sides", "side-stock", self.kerf, (0, 0), (d, 0), (d, s), (0, f)),
            Glue(id="with-sides", source="fronts", also=["sides"], sequence=["fronts", "sides"], dry=each),
            stock("top-stock", self.light, s, d, n, long, 201),
            section("tops", "top-stock", self.kerf, (0, 0), (f, 0), (s, d), (0, d)),
            Glue(
                id="blocks",
                source="with-sides",
                also=["tops"],
                across="thickness",
                sequence=["with-sides", "tops"],
                dry=each,
            ),
            stock("squares", self.mid, s, s, n, long, 301),
            Glue(id="panel", source="blocks", also=["squares"], sequence=["blocks", "squares"], turns=["face over"]),
            self.sliced("panel", self.rows),
            *self.laid("as-cut", shifts=[0, s]),
            *self.finished(flush=True, edge=1),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)
