"""Square in square: bars with a core and rings of other woods round it, in turn with their opposites."""

from __future__ import annotations

from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Glue, Stage
from .closing import gap
from .model import Family, Handles, Truth, stock

MOST_RINGS = 4


class Nested(Family):
    """A square core, and round it ``rings`` of ``ring`` mm: two strips at its sides, then two over them. Bars whose
    woods
    begin with the light one alternate with bars that begin with the dark, and every other row is turned end for end, so
    that they stand in turn both ways."""

    key: ClassVar[str] = "nested"
    title: ClassVar[str] = "Square in square"
    summary: ClassVar[str] = "A core with rings round it, in turn with its opposite: squares lie in squares."
    handles: ClassVar[Handles] = Handles("bars", "rows", ("core", "ring"), ("core", "ring"), across_step=2)

    light: str = wood("sycamore", label="Light wood")
    dark: str = wood("european-walnut", label="Dark wood")
    core: float = millimetres(16.0, label="Core", help="Side of the square in the middle.", least=6, most=100)
    ring: float = millimetres(10.0, label="Ring", help="Its width.", least=3, most=40)
    rings: int = whole(2, label="Rings", help="Round the core, woods in turn.", least=1, most=MOST_RINGS)
    bars: int = whole(6, label="Squares across", help="An even number.", least=2, most=20)
    rows: int = whole(7, label="Rows", help="Each is one square high.", least=1, most=40)

    @property
    def square(self) -> float:
        """Side of a bar, mm."""
        return self.core + 2 * self.rings * self.ring

    def check(self) -> None:
        super().check()
        if self.bars % 2:
            raise InputError(
                f"{self.bars} squares across begin and end with the same, so a row turned end for end sets like beside "
                f"like. Take {self.bars - 1 if self.bars > 2 else 2} or {self.bars + 1}.", "bars",
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        one, from_one = self._bars("a", self.light, self.dark, 1)
        other, from_other = self._bars("b", self.dark, self.light, 1001)
        return [
            *one,
            *other,
            Glue(id="panel", source=from_one, also=[from_other], sequence=[from_one, from_other]),
            self.sliced("panel", self.rows),
            *self.laid("end-for-end-every-other"),
            *self.finished(edge=1),
        ]

    def _bars(self, name: str, core: str, other: str, mark: int) -> tuple[list[Stage], str]:
        """Half of all bars: a core of one wood, rings of the other and of it in turn; and the last stage's id."""
        count, long, t = self.bars // 2, self.panel_for(self.rows), self.ring
        stages: list[Stage] = [stock(f"{name}-core", core, self.core, self.core, count, long, mark)]
        at, side, woods = stages[0].id, self.core, (other, core)
        for k in range(self.rings):
            here, first = f"{name}-ring-{k + 1}", mark + 100 * (2 * k + 1)
            wood = woods[k % 2]
            for what, width, thick, across in (
                ("sides", t, side, "width"), ("caps", side + 2 * t, t, "thickness"),
            ):  # fmt: skip
                strips = f"{here}-{what}"
                stages += [
                    stock(strips, wood, width, thick, 2 * count, long, first),
                    Glue(
                        id=f"{here}-{'sided' if what == 'sides' else 'capped'}", source=at, also=[strips],
                        sequence=[strips, at, strips], across=across, dry=list(range(3, 3 * count, 3)),
                    ),
                ]  # fmt: skip
                at, first = stages[-1].id, first + 100
            side += 2 * t
        return stages, at

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)
