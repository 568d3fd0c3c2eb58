"""How much wood, time, wax, juice and glue."""

from __future__ import annotations

import math
import re
from typing import ClassVar

from ..analysis.glueups import GLUE
from ..errors import InputError
from ..fields.spec import millimetres, number, text, whole
from ..stages import Spread
from .model import Reckoner, Result


class Volume(Reckoner):
    """Boards of one size as litres, cubic metres and board feet (1 bf = 144 in³)."""

    key: ClassVar[str] = "volume"
    title: ClassVar[str] = "Volume and board feet"
    use: ClassVar[str] = "What to ask the timber yard for."
    formula: ClassVar[str] = "volume = thickness × width × length × count; 1 board foot = 144 in³ = 2.360 l"

    thickness: float = millimetres(32.0, label="Thickness", help="", least=1, most=400)
    width: float = millimetres(150.0, label="Width", help="", least=1, most=2000)
    length: float = millimetres(1200.0, label="Length", help="", least=1, most=5000)
    count: int = whole(4, label="Boards", help="", least=1, most=400)

    def results(self) -> tuple[Result, ...]:
        cubic = self.thickness * self.width * self.length * self.count
        return (
            Result("Litres", cubic / 1e6, "number", "l"),
            Result("Cubic metres", cubic / 1e9, "number", "m³"),
            Result("Board feet", cubic / (144 * 25.4**3), "number", "bf"),
        )


class BatchTime(Reckoner):
    """Repeated work ends when pieces × passes × seconds are over."""

    key: ClassVar[str] = "batch"
    title: ClassVar[str] = "When a batch is done"
    use: ClassVar[str] = "People want that number."
    formula: ClassVar[str] = "end = start + pieces × passes × seconds"

    pieces: int = whole(24, label="Pieces", help="", least=1, most=400)
    passes: int = whole(6, label="Passes each", help="", least=1, most=200)
    seconds: float = number(
        25, label="A pass takes", help="With setting down and taking up.", least=1, most=3600, unit="s"
    )
    start: str = text("13:00", label="Start", help="Like 13:00.")

    def results(self) -> tuple[Result, ...]:
        clock = re.fullmatch(r"\s*(\d{1,2})[:.](\d{2})\s*", self.start)
        if not clock or int(clock[1]) > 23 or int(clock[2]) > 59:
            raise InputError(f"“{self.start}” is not a time of day. Write it like 13:00.", "start")
        total = math.ceil(self.pieces * self.passes * self.seconds / 60)
        end = int(clock[1]) * 60 + int(clock[2]) + total
        days = "" if end < 1440 else " the next day" if end < 2880 else f", {end // 1440} days on"
        return (
            Result("Done at", f"{end % 1440 // 60:02d}:{end % 60:02d}{days}", "text"),
            Result("It takes", f"{total // 60} h {total % 60:02d} min", "text"),
        )


class WaxMix(Reckoner):
    """Wax paste by weight: 4 parts of oil to one of wax is soft, 1 to 1 a hard bar."""

    key: ClassVar[str] = "wax"
    title: ClassVar[str] = "Wax paste"
    use: ClassVar[str] = "How much wax to melt into the oil, in a water bath and away from flame."
    formula: ClassVar[str] = "wax = oil ÷ parts"

    oil: float = number(200, label="Oil", help="", least=5, most=10_000, unit="g")
    parts: float = number(4, label="Parts of oil to one of wax", help="4 is soft, 1 a hard bar.", least=1, most=10)

    def results(self) -> tuple[Result, ...]:
        wax = self.oil / self.parts
        firm = "soft paste" if self.parts >= 3.5 else "firm paste" if self.parts >= 2 else "hard bar"
        return (
            Result("Wax", wax, "number", "g"),
            Result("Makes", self.oil + wax, "number", "g"),
            Result("As a", firm, "text"),
        )


class GrooveCapacity(Reckoner):
    """A round-nosed bit cuts the segment of a circle; the groove's middle runs round the board at the inset."""

    key: ClassVar[str] = "groove"
    title: ClassVar[str] = "Groove capacity"
    use: ClassVar[str] = "How much juice a groove holds before it runs over."
    formula: ClassVar[str] = "capacity = section × path; section = r² acos((r − d) ÷ r) − (r − d) √(2rd − d²)"

    width: float = millimetres(300.0, label="Board width", help="", least=60, most=2000)
    length: float = millimetres(400.0, label="Board length", help="", least=60, most=2000)
    inset: float = millimetres(20.0, label="Inset", help="Edge to the groove's middle.", least=3, most=500)
    bit: float = millimetres(12.0, label="Bit width", help="Round nose.", least=2, most=60)
    depth: float = millimetres(6.0, label="Depth", help="", least=0.5, most=60)

    def results(self) -> tuple[Result, ...]:
        if 2 * self.inset >= min(self.width, self.length):
            raise InputError(
                "An inset of {inset} leaves no ring on this board. Take under {most}.", "inset", inset=self.inset,
                most=min(self.width, self.length) / 2,
            )  # fmt: skip
        r = self.bit / 2
        d = min(self.depth, r)
        section = r * r * math.acos((r - d) / r) - (r - d) * math.sqrt(max(2 * r * d - d * d, 0.0))
        section += self.bit * (self.depth - d)  # straight walls above the round
        path = 2 * (self.width + self.length - 4 * self.inset)
        return (
            Result("Holds", section * path / 1000, "number", "ml"),
            Result("Section", section, "number", "mm²"),
            Result("Path", path, "length"),
        )


class GlueByArea(Reckoner):
    """Glue goes by the area it is spread on."""

    key: ClassVar[str] = "glue"
    title: ClassVar[str] = "Glue by area"
    use: ClassVar[str] = "How much to pour before the first joint."
    formula: ClassVar[str] = "glue = joints × length × height × g/m²"

    joints: int = whole(9, label="Joints", help="", least=1, most=400)
    length: float = millimetres(600.0, label="Joint length", help="", least=1, most=3000)
    height: float = millimetres(33.0, label="Joint height", help="", least=1, most=400)
    spread: float = number(
        GLUE[Spread.BOTH], label="Spread", least=50, most=500, unit="g/m²",
        help=f"Of joint, both faces spread; {GLUE[Spread.ONE] / GLUE[Spread.BOTH]:.0%} of it where one is.",
    )  # fmt: skip

    def results(self) -> tuple[Result, ...]:
        area = self.joints * self.length * self.height
        return Result("Area of the joints", area, "area"), Result("Glue", area / 1e6 * self.spread, "number", "g")
