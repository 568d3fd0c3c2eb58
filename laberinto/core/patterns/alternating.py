"""Alternating (checker): equal strips of two woods; every other slice is flipped."""

from __future__ import annotations

from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Stage, StripSpec
from ..stages.crosscut import length_needed
from ..units import plural
from .closing import own_wood
from .model import Family, Handles, Truth, alternating


class Alternating(Family):
    """Parameters of a two-wood alternating board; lengths in mm.

    ``row`` is the panel's thickness after flattening, which becomes the height of each row;
    ``panel_length`` None takes the shortest that leaves enough to hold. ``width`` and ``length`` are
    the finished size, None for as large as it comes.
    """

    key: ClassVar[str] = "alternating"
    title: ClassVar[str] = "Alternating"
    summary: ClassVar[str] = "Two woods in equal strips, every other slice flipped: a checker."
    handles: ClassVar[Handles] = Handles("strips", "slices", ("strip_width",), ("row",), across_step=2)

    light: str = wood("beech", label="Light wood")
    dark: str = wood("plum", label="Dark wood")
    strips: int = whole(10, label="Strips", help="An even number.", least=2, most=60)
    strip_width: float = millimetres(30.0, label="Strip width", help="Of every strip.", least=6, most=200)
    row: float = millimetres(30.0, label="Row height", help="The panel's thickness once flat.", least=8, most=120)
    slices: int = whole(13, label="Slices", help="Each becomes one row.", least=1, most=100)
    panel_length: float | None = millimetres(None, label="Panel length", help="shortest", least=80, most=3000)
    width: float | None = millimetres(None, label="Finished width", help="as it comes", least=30, most=3000)
    length: float | None = millimetres(None, label="Finished length", help="as it comes", least=30, most=3000)

    @property
    def shortest_panel(self) -> float:
        """Shortest panel that yields the slices and leaves enough to hold, rounded up to 5 mm."""
        return super().panel_for(self.slices)

    @property
    def largest(self) -> tuple[float, float]:
        """Width and length of the face before trimming to a finished size, mm."""
        return self.strips * self.strip_width, self.slices * self.row

    def check(self) -> None:
        super().check()
        self.even()
        for wanted, there, field, more in (
            (self.width, self.largest[0], "width", self.strip_width),
            (self.length, self.largest[1], "length", self.row),
        ):
            if wanted is not None and wanted > there:
                what = "strips" if field == "width" else "slices"
                count = self.strips if field == "width" else self.slices
                need = int(-(-wanted // more))
                need += need % 2 if field == "width" else 0
                raise InputError(
                    f"{count} {what} make {{there}}, {{short}} short of {{wanted}}. Take {need} {what}, or ask for "
                    "{there} or less.",
                    field, there=there, short=wanted - there, wanted=wanted,
                )  # fmt: skip
        needed = length_needed(self.squaring, self.slices, self.slice, self.kerf)
        if self.panel_length is not None and self.panel_length < needed:
            fit = int((self.panel_length - self.squaring) // (self.slice + self.kerf))
            raise InputError(
                f"{self.slices} slices of {{slice}} need a panel of {{needed}}, {{short}} more than this. Make it "
                f"{{longer}}, or cut {plural(max(fit, 0), 'slice')}.",
                "panel_length", slice=self.slice, needed=needed, short=needed - self.panel_length,
                longer=self.shortest_panel,
            )  # fmt: skip

    def panel_for(self, slices: int) -> float:
        """As asked for, else the shortest, mm."""
        return self.panel_length or super().panel_for(slices)

    def stages(self) -> list[Stage]:
        strips = alternating(
            self.strips,
            StripSpec(wood=self.light, width=self.strip_width),
            StripSpec(wood=self.dark, width=self.strip_width),
        )
        return [
            *self.laminate(strips, self.row, self.slices),
            *self.laid("flip-every-other"),
            *self.finished(width=self.width, length=self.length),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (own_wood(sim, "panel", "board"),)
