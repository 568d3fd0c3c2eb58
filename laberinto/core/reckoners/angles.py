"""Squareness, arcs, staves, skews and mitres, and when a turntable tips."""

from __future__ import annotations

import math
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, number, whole
from ..geometry.arcs import rise
from .model import Reckoner, Result


class FiveCuts(Reckoner):
    """Four sides are cut in turn and a strip off the fifth; what the fence is off shows four times over in that strip.

    The fence stands between you and the panel, waste falls to the right of the blade, and after each cut the panel is
    turned a quarter clockwise, so that the edge just cut lies against the fence. Where the fence's left end is e too
    near to you, each new corner is 90° + e; so the fifth cut leaves 4e against the first, widest at the fence."""

    key: ClassVar[str] = "five-cuts"
    title: ClassVar[str] = "Five-cut square test"
    use: ClassVar[str] = (
        "How far a fence is off square, and how far to move it. The fence stands between you and the panel, the waste "
        "falls to the right of the blade, and after each cut the panel is turned a quarter clockwise, the edge just "
        "cut against the fence. Where it falls to the left and you turn the other way, read right for left."
    )
    formula: ClassVar[str] = (
        "error = (front − back) ÷ 4 over the strip’s length; move the fence by error × pivot ÷ length"
    )

    front: float = millimetres(12.30, label="Strip, front end", help="Nearest to you.", least=0.1, most=200)
    back: float = millimetres(12.00, label="Strip, back end", help="", least=0.1, most=200)
    length: float = millimetres(450.0, label="Strip length", help="Of the fifth cut.", least=50, most=3000)
    pivot: float = millimetres(600.0, label="Pivot to screw", help="Where the fence is moved.", least=20, most=3000)

    def results(self) -> tuple[Result, ...]:
        error = (self.front - self.back) / 4
        move = error * self.pivot / self.length
        way = "none" if abs(error) < 1e-9 else "its left end away from you" if error > 0 else "its left end towards you"
        return (
            Result("Move the fence", abs(move), "fine"),
            Result("Which way", way, "text"),
            Result("Off over the strip", abs(error), "fine"),
            Result("Angle off", math.degrees(math.atan(abs(error) / self.length)), "number", "°"),
        )


class Arc(Reckoner):
    """The circle through three points: a chord and the rise over its middle."""

    key: ClassVar[str] = "arc"
    title: ClassVar[str] = "Arc from chord and rise"
    use: ClassVar[str] = "The radius of a template, a hollow or a curved knife."
    formula: ClassVar[str] = "r = c² ÷ 8h + h ÷ 2"

    chord: float = millimetres(240.0, label="Chord", help="Across the arc.", least=1, most=5000)
    rise: float = millimetres(20.0, label="Rise", help="Over the chord's middle.", least=0.1, most=2500)

    def results(self) -> tuple[Result, ...]:
        if self.rise > self.chord / 2:
            raise InputError(
                "A rise of {rise} is more than half the chord: that is more than half a circle. Take {most} or less.",
                "rise", rise=self.rise, most=self.chord / 2,
            )  # fmt: skip
        r = self.chord**2 / (8 * self.rise) + self.rise / 2
        return Result("Radius", r, "length"), Result(
            "Length of the arc", 2 * r * math.asin(self.chord / 2 / r), "length"
        )


class Stave(Reckoner):
    """A curved stave flattened on both faces: shorter pieces stay thicker."""

    key: ClassVar[str] = "stave"
    title: ClassVar[str] = "Curved stave to flat"
    use: ClassVar[str] = "What flattening a barrel stave leaves of its thickness."
    formula: ClassVar[str] = "lost = R − √(R² − ℓ² ÷ 4)"

    radius: float = millimetres(900.0, label="Outside radius", help="Of the stave's curve.", least=50, most=10_000)
    length: float = millimetres(240.0, label="Cut to length", help="", least=10, most=2000)
    thickness: float = millimetres(26.0, label="Stave thickness", help="", least=5, most=100)

    def results(self) -> tuple[Result, ...]:
        if self.length > 2 * self.radius:
            raise InputError(
                "A piece of {length} is longer than the whole curve is across.", "length", length=self.length
            )
        lost = rise(self.radius, self.length)
        left = self.thickness - lost
        if left <= 0:
            most = 2 * math.sqrt(max(self.radius**2 - (self.radius - self.thickness) ** 2, 0.0))
            raise InputError(
                "Nothing is left of {thick}: flattening costs {lost}. Cut pieces shorter than {most}.", "length",
                thick=self.thickness, lost=lost, most=most,
            )  # fmt: skip
        return Result("Flat thickness", left, "fine"), Result("Lost to flattening", lost, "fine")


class Skew(Reckoner):
    """A cut at an angle across a panel: the pattern stretches, and a wedge is lost at each end."""

    key: ClassVar[str] = "skew"
    title: ClassVar[str] = "Skewed cut"
    use: ClassVar[str] = "How far a pattern stretches, and what the wedges cost."
    formula: ClassVar[str] = "stretch = 1 ÷ cos θ; wedge = width × tan θ"

    angle: float = number(6.0, label="Angle", help="From square.", least=0, most=60, unit="°")
    width: float = millimetres(300.0, label="Panel width", help="", least=10, most=2000)

    def results(self) -> tuple[Result, ...]:
        theta = math.radians(self.angle)
        return (
            Result("Stretch", 1 / math.cos(theta), "number", "×"),
            Result("Width along the cut", self.width / math.cos(theta), "length"),
            Result("Wedge at each end", self.width * math.tan(theta), "length"),
        )


class Mitre(Reckoner):
    """A ring of n equal sides, and what a bevel that is a hair off adds up to."""

    key: ClassVar[str] = "mitre"
    title: ClassVar[str] = "Mitre for a ring"
    use: ClassVar[str] = "The angle to cut, and the gap that a small error makes."
    formula: ClassVar[str] = "mitre = 180° ÷ n; gap = cut × tan(error), for each of 2n cuts"

    sides: int = whole(6, label="Sides", help="Of the ring.", least=3, most=64)
    cut: float = millimetres(50.0, label="Length of a cut", help="Along the mitre.", least=1, most=500)
    error: float = number(0.1, label="Bevel off by", help="", least=0, most=5, unit="°")

    def results(self) -> tuple[Result, ...]:
        gap = self.cut * math.tan(math.radians(self.error))
        return (
            Result("Mitre", 180 / self.sides, "number", "°"),
            Result("Gap at a cut", gap, "fine"),
            Result("All round", 2 * self.sides * gap, "fine"),
        )


class Turntable(Reckoner):
    """A board on a turntable tips about the bearing's rim when pressed outside it."""

    key: ClassVar[str] = "turntable"
    title: ClassVar[str] = "Turntable tipping"
    use: ClassVar[str] = "How hard a hand may press at the rim."
    formula: ClassVar[str] = "force = weight × r ÷ (R − r)"

    weight: float = number(4.0, label="Weight", help="Of the board.", least=0.1, most=60, unit="kg")
    radius: float = millimetres(180.0, label="Board radius", help="Where a hand presses.", least=40, most=1000)
    bearing: float = millimetres(75.0, label="Bearing radius", help="Where it stands.", least=10, most=1000)

    def results(self) -> tuple[Result, ...]:
        if self.bearing >= self.radius:
            raise InputError("The bearing reaches the rim of {r}: it cannot tip.", "bearing", r=self.radius)
        force = self.weight * self.bearing / (self.radius - self.bearing)
        return (Result("Tips when pressed with", force, "number", "kg"),)
