"""Round: a flipped board cut to a circle."""

from __future__ import annotations

from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, wood
from ..plan.simulate import Simulation
from ..stages import Shape, Stage, StripSpec
from .model import Family, Handles, Truth, alternating


class Round(Family):
    """As many squares as cover a circle of ``diameter``, every other row flipped, then cut round."""

    key: ClassVar[str] = "round"
    title: ClassVar[str] = "Round"
    summary: ClassVar[str] = "Squares glued to a block a little larger than the circle that is cut from it."
    handles: ClassVar[Handles] = Handles(pitch=("diameter",), rise=("diameter",))

    light: str = wood("beech", label="Light wood")
    dark: str = wood("robinia", label="Dark wood")
    diameter: float = millimetres(300.0, label="Diameter", help="Of the finished board.", least=80, most=800)
    cell: float = millimetres(32.0, label="Square", help="Side of each square.", least=10, most=120)

    @property
    def count(self) -> int:
        """Squares each way: an even number that covers the circle and what trimming takes."""
        need = int(-(-(self.diameter + 2 * self.edge) // self.cell))
        return max(need + need % 2, 2)

    def check(self) -> None:
        super().check()
        if self.diameter < 2 * self.cell:
            raise InputError(
                "Squares of {cell} are too large for a circle of {diameter}. Take {most} or less.", "cell",
                cell=self.cell, diameter=self.diameter, most=self.diameter / 2,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        strips = alternating(
            self.count, StripSpec(wood=self.light, width=self.cell), StripSpec(wood=self.dark, width=self.cell)
        )
        circle = Shape(id="round", outline="circle", diameter=self.diameter)
        return [
            *self.laminate(strips, self.cell, self.count), *self.laid("flip-every-other"), *self.finished(circle)
        ]  # fmt: skip

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        width, length, _ = sim["round"].size
        return (Truth("as wide as long", width - length),)
