"""Lengths as people type and read them.

Typed: ``44.5``, ``44,5 mm``, ``4.45cm``, ``0.3 m``, ``1 3/4"``, ``1-3/4 in``, ``3/8"``, ``1.75"``, ``1½``.
Read: millimetres to a tenth, or inches as fractions to a chosen 1/16, 1/32 or 1/64, with *strong*
(the true size is a little over) or *shy* (a little under) when rounding hides something that matters.

One inch is 25.4 mm exactly (international inch, 1959).
"""

from __future__ import annotations

import math
import re
import unicodedata
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from .errors import InputError, tenths

MM_PER_INCH = 25.4
LONGEST = 5000.0
"""Longest length anybody may type, in mm: more is taken for a slip."""

MOST_TYPED = 40
"""Characters that a typed length or number may have; no real one comes near."""

POUND = 0.45359237
"""Kilograms, exactly: the international pound of 1959."""

GRAVITY = 9.80665
"""Standard gravity, m/s²: what a pound presses with."""

_WEIGHT = re.compile(r"(?P<number>[^a-z]*?)\s*(?P<unit>kg|lbs?|)\.?", re.I)

CUBIC_MM_PER_BOARD_FOOT = 12 * 12 * 1 * MM_PER_INCH**3
"""One board foot is 144 cubic inches."""

LITRES_PER_BOARD_FOOT = CUBIC_MM_PER_BOARD_FOOT / 1e6
LITRES_PER_QUART = 231 / 4 * MM_PER_INCH**3 / 1e6
"""A quart is a quarter of a gallon of 231 cubic inches."""
DM2_PER_SQUARE_FOOT = (12 * MM_PER_INCH) ** 2 / 1e4
CUBIC_METRES_PER_CUBIC_FOOT = (12 * MM_PER_INCH) ** 3 / 1e9

CUSTOMARY: dict[str, tuple[str, float]] = {
    "kg": ("lb", 1 / POUND),
    "kg/m³": ("lb/ft³", CUBIC_METRES_PER_CUBIC_FOOT / POUND),
    "g": ("oz", 16 / (1000 * POUND)),
    "g/m²": ("oz/ft²", 16 / (1000 * POUND) * DM2_PER_SQUARE_FOOT / 100),
    "ml": ("fl oz", 32 / (1000 * LITRES_PER_QUART)),
    "mm²": ("in²", 1 / MM_PER_INCH**2),
    "mm³": ("in³", 1 / MM_PER_INCH**3),
    "dm²": ("ft²", 1 / DM2_PER_SQUARE_FOOT),
    "a kg": ("a lb", POUND),
    "a litre": ("a board foot", LITRES_PER_BOARD_FOOT),
    "a litre of it": ("a quart", LITRES_PER_QUART),
    "a dm²": ("a ft²", DM2_PER_SQUARE_FOOT),
    "N/mm²": ("psi", MM_PER_INCH**2 / (POUND * GRAVITY)),
    "kN": ("lbf", 1000 / (POUND * GRAVITY)),
    "m/min": ("ft/min", 1 / 0.3048),
    "min a dm²": ("min a ft²", DM2_PER_SQUARE_FOOT),
    "N": ("lbf", 1 / (POUND * GRAVITY)),
    "°C": ("°F", 1.8),
}
"""Units that are no lengths, as makers in inches know them: the words, and what a metric figure is multiplied by."""

ZERO = {"°C": 32.0}
"""What 0 in a unit is as makers in inches know it, where that is not 0."""

HIDDEN = 0.06
"""What rounding may hide in all the places where one setting is used, mm."""

STRONG_OR_SHY = 0.1
"""Rounding error in mm from which a fraction is called strong or shy."""

System = Literal["mm", "in"]

_NUMBER = r"\d+(?:[.,]\d+)?|[.,]\d+"
_LENGTH = re.compile(
    rf"""^\s*(?P<sign>[-−+]?)\s*
    (?:(?P<whole>\d+)[\s-]+(?P<num>\d+)\s*/\s*(?P<den>\d+)
      |(?P<fnum>\d+)\s*/\s*(?P<fden>\d+)
      |(?P<decimal>{_NUMBER}))
    \s*(?P<unit>mm|cm|m|in|inch|inches|"|″|”)?\s*$""",
    re.VERBOSE | re.IGNORECASE | re.ASCII,
)
_SIGNS = str.maketrans({"⁄": "/", "∕": "/", "−": "-", "–": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " "})
"""What stands for a plain sign or a space."""
VULGAR = "".join(
    sign for sign in map(chr, (*range(0xBC, 0xBF), *range(0x2150, 0x215F), 0x2189)) if unicodedata.numeric(sign) % 1
)
"""Fractions that are one sign, as ½ and ⅜."""
_PER_UNIT = {"mm": 1.0, "cm": 10.0, "m": 1000.0}
_HOW = 'Type it like 44.5, 4.45 cm, 1 3/4" or 1-3/4 in.'


def plural(count: int, noun: str) -> str:
    """So many of something: 1 slice, 3 slices."""
    return f"{count} {noun}" if count == 1 else f"{count} {noun}s"


def parse_length(
    text: str, default: System = "mm", *, least: float = 0.0, most: float = LONGEST, zero: bool = False, field: str = ""
) -> float:
    """Read a typed length and return millimetres.

    A number without a unit is in ``default``; a bare fraction such as ``3/4`` is always inches.
    ``least`` and ``most`` (mm) bound what is allowed; 0 is refused unless ``zero``.

    Raises InputError for anything that is not a length, is empty, zero, negative or out of bounds.
    """
    shown = text.strip()
    if not shown:
        raise InputError(f"A length is missing here. {_HOW}", field)
    match = _LENGTH.match(plain_fractions(shown)) if len(shown) <= MOST_TYPED else None
    if match is None:
        raise InputError(f"“{cut_short(shown)}” is not a length. {_HOW}", field)
    g = match.groupdict()
    if (g["den"] and int(g["den"]) == 0) or (g["fden"] and int(g["fden"]) == 0):
        raise InputError(f"“{shown}” divides by zero. {_HOW}", field)
    unit = (g["unit"] or "").lower()
    if g["decimal"]:
        value = float(g["decimal"].replace(",", "."))
        inches = unit not in _PER_UNIT if unit else default == "in"
    else:
        fraction = Fraction(int(g["num"]), int(g["den"])) if g["num"] else Fraction(int(g["fnum"]), int(g["fden"]))
        value = float(fraction + int(g["whole"] or 0))
        inches = unit not in _PER_UNIT
    mm = value * (MM_PER_INCH if inches else _PER_UNIT.get(unit, 1.0))
    if g["sign"] in ("-", "−") and mm > 0:
        raise InputError(f"“{shown}” is negative; a length here starts at {Lengths(default).show(least)}.", field)
    if mm > LONGEST:
        raise InputError(f"“{shown}” is {tenths(mm)} mm, over {tenths(LONGEST)} mm (5 m). Is the unit right?", field)
    if mm == 0 and not zero:
        raise InputError("Zero is too small here; type a length above 0.", field)
    if not least - 1e-9 <= mm <= most + 1e-9:
        how = Lengths(default)
        raise InputError(f"“{shown}” is outside {how.show(least)} to {how.show(most)}.", field)
    return mm


_PLAIN_NUMBER = re.compile(
    rf"(?P<sign>[-+]?)\s*(?:(?:(?P<whole>\d+)[\s-]+)?(?P<num>\d+)\s*/\s*(?P<den>\d+)|(?P<decimal>{_NUMBER}))", re.ASCII
)


def parse_number(text: str, field: str = "") -> float:
    """A typed number that is no length: ``5.5``, ``5,5``, ``-2``, ``1 1/2``, ``1½``.

    Raises InputError for anything else.
    """
    shown = text.strip()
    match = _PLAIN_NUMBER.fullmatch(plain_fractions(shown).strip()) if len(shown) <= MOST_TYPED else None
    if match is None or (match["den"] and not int(match["den"])):
        raise InputError(f"“{cut_short(shown)}” is not a number. Type it like 5, 5.5 or 5 1/2.", field)
    if match["decimal"]:
        value = float(match["decimal"].replace(",", "."))
    else:
        value = float(Fraction(int(match["num"]), int(match["den"])) + int(match["whole"] or 0))
    return -value if match["sign"] == "-" else value


def parse_weight(text: str, default: System = "mm", field: str = "") -> float:
    """A typed weight in kilograms: ``8 kg``, ``18 lb`` (see ``POUND``), or ``8`` in the unit that goes with
    ``default``.

    Raises InputError for anything else."""
    match = _WEIGHT.fullmatch(text.strip()[:MOST_TYPED])
    if match is None:
        raise InputError(f"“{cut_short(text.strip())}” is not a weight. Type it like 8 kg or 18 lb.", field)
    number = parse_number(match["number"], field)
    unit = match["unit"].lower() or CUSTOMARY["kg"][0 if default == "in" else 1]
    return number * POUND if unit in ("lb", "lbs") else number


def parse_whole(text: str, least: int = 0, most: int = 2**53, field: str = "") -> int:
    """A typed whole number from ``least`` to ``most``; raises InputError for anything else."""
    shown = text.strip()
    if not (len(shown) <= MOST_TYPED and re.fullmatch(r"[-+]?\d+", shown, re.ASCII) and least <= int(shown) <= most):
        raise InputError(f"“{cut_short(shown)}” is not a whole number from {least} to {most}.", field)
    return int(shown)


def plain_fractions(text: str) -> str:
    """Text with fractions that are one sign, as ½ or ⅜, written out: ``1½`` becomes ``1 1/2``. Signs that stand for a
    slash, a minus or a space become that."""
    out = []
    for sign in text.translate(_SIGNS):
        if sign in VULGAR:
            part = Fraction(unicodedata.numeric(sign)).limit_denominator(100)
            out.append(f" {part.numerator}/{part.denominator} ")
        else:
            out.append(sign)
    return "".join(out)


def cut_short(text: str) -> str:
    """What was typed as a message quotes it: its beginning, where it is long."""
    return text if len(text) <= MOST_TYPED else text[: MOST_TYPED - 1] + "…"


def degrees(angle: float) -> str:
    """An angle to a hundredth of a degree, halves away from zero: 5.625 reads 5.63°."""
    return f"{round(angle + math.copysign(1e-9, angle), 2) + 0.0:g}°"


EIGHTHS = " ⅛¼⅜½⅝¾⅞"


@dataclass(frozen=True, slots=True)
class Lengths:
    """How this maker reads lengths: the system, and for inches the finest fraction (16, 32 or 64)."""

    system: System = "mm"
    denominator: int = 32

    def show(self, mm: float, *, unit: bool = True) -> str:
        """A length for reading, e.g. ``44.5 mm`` or ``1 3/4"`` or ``1 3/4" strong``."""
        if self.system == "mm":
            return tenths(mm) + (" mm" if unit else "")
        return self._inches(mm)

    def _inches(self, mm: float) -> str:
        steps = mm / MM_PER_INCH * self.denominator
        rounded = math.floor(abs(steps) + 0.5) * (1 if steps >= 0 else -1)
        error = (steps - rounded) / self.denominator * MM_PER_INCH
        fraction = Fraction(abs(rounded), self.denominator)
        whole, rest = divmod(fraction.numerator, fraction.denominator)
        parts = [str(whole)] if whole or not rest else []
        if rest:
            parts.append(f"{rest}/{fraction.denominator}")
        word = " strong" if error >= STRONG_OR_SHY else " shy" if error <= -STRONG_OR_SHY else ""
        return ("-" if rounded < 0 else "") + " ".join(parts) + '"' + word

    def exact(self, mm: float, times: int = 1) -> str:
        """A setting that is used so many ``times`` over: as many decimals as keep the sum of what rounding hides under
        ``HIDDEN``; in inches the fraction, with decimals behind it where it hides more."""
        scale, least, unit = (1.0, 1, " mm") if self.system == "mm" else (MM_PER_INCH, 3, '"')
        value = mm / scale
        places = next(
            (p for p in range(least, 5) if abs(round(value, p) - value) * scale * times <= HIDDEN), 5
        )  # fmt: skip
        decimals = f"{round(value, places) + 0.0:.{places}f}".rstrip("0").rstrip(".") + unit
        if self.system == "mm":
            return self.show(mm) if places == 1 else decimals
        steps = value * self.denominator
        hides = abs(steps - round(steps)) / self.denominator * scale * times
        return self._inches(mm) if hides <= HIDDEN else f"{self._inches(mm)} ({decimals})"

    def set_to(self, mm: float, times: int = 1) -> str:
        """The same on its own and large: in inches the fraction alone."""
        return self.exact(mm, times).partition(" (")[0]

    def exact_size(self, *mm: float, times: int = 1) -> str:
        """Several such settings as a size."""
        words = [self.exact(value, times) for value in mm]
        return " × ".join(word.removesuffix(" mm") for word in words) + (" mm" if self.system == "mm" else "")

    def about(self, mm: float) -> str:
        """A length where there is little room: in whole eighths of an inch, e.g. ``17⅞``."""
        if self.system == "mm":
            return tenths(mm)
        whole, rest = divmod(round(mm / MM_PER_INCH * 8), 8)
        return f"{whole or ''}{EIGHTHS[rest]}".strip() or "0"

    def roughly(self, mm: float, *, unit: bool = True) -> str:
        """A place that need not be exact, as that of a clamp: in whole millimetres, or eighths of an inch."""
        return self.show(float(round(mm)) if self.system == "mm" else self.usual(mm), unit=unit)

    @property
    def step(self) -> float:
        """The finest step that is dragged to, mm: half a millimetre, or the chosen fraction of an inch."""
        return 0.5 if self.system == "mm" else MM_PER_INCH / self.denominator

    @property
    def nudge(self) -> float:
        """What one press of an arrow key adds to a length in a field or takes off it, mm: a millimetre, or a
        sixteenth of an inch."""
        return 1.0 if self.system == "mm" else MM_PER_INCH / 16

    def nearest(self, mm: float) -> float:
        """A dragged length taken to the nearest step."""
        return round(round(mm / self.step) * self.step, 6)

    def usual(self, mm: float, coarse: bool = False) -> float:
        """What a maker who reads lengths so would choose near ``mm``: itself, or the nearest eighth of an inch; below
        an inch the nearest sixteenth, below a sixteenth the nearest 1/64 that is not nothing. ``coarse`` for the size
        of a machine: halves from 6", whole inches from 12", half feet from 24"."""
        if self.system == "mm":
            return mm
        inches = mm / MM_PER_INCH
        parts: float = 64 if inches < 1 / 16 else 16 if inches < 1 else 8
        if coarse and inches >= 6:
            parts = 2 if inches < 12 else 1 if inches < 23 else 1 / 6
        step = MM_PER_INCH / parts
        return round(max(round(mm / step), 1 if mm > 0 else 0) * step, 6)

    def unit(self, unit: str) -> str:
        """A unit that is no length in this maker's words: ``kg`` is ``lb`` where inches are used."""
        return CUSTOMARY[unit][0] if self.system == "in" and unit in CUSTOMARY else unit

    def scale(self, unit: str) -> float:
        """What a figure in that unit is multiplied by to be in this maker's."""
        return CUSTOMARY[unit][1] if self.system == "in" and unit in CUSTOMARY else 1.0

    def figure(self, value: float, unit: str) -> float:
        """A figure in that unit as one in this maker's."""
        return value * self.scale(unit) + (ZERO.get(unit, 0.0) if self.system == "in" else 0.0)

    def back(self, figure: float, unit: str) -> float:
        """A figure in this maker's unit as one in that unit."""
        return (figure - (ZERO.get(unit, 0.0) if self.system == "in" else 0.0)) / self.scale(unit)

    def warmth(self, celsius: float) -> str:
        """A temperature in °C: ``20 °C``, ``68 °F``."""
        return f"{self.figure(celsius, '°C'):.3g} {self.unit('°C')}"

    def amount(self, value: float, unit: str) -> str:
        """A figure in that unit, in this maker's and as fine as it deserves: ``185 g``, ``6.5 oz``."""
        value = self.figure(value, unit)
        return f"{value:.{0 if abs(value) >= 10 or not value else 1 if abs(value) >= 0.05 else 2}f} {self.unit(unit)}"

    def show_size(self, *mm: float) -> str:
        """Several lengths as a size, e.g. ``414 × 354 × 38 mm``."""
        if self.system == "mm":
            return " × ".join(tenths(v) for v in mm) + " mm"
        return " × ".join(self._inches(v) for v in mm)

    def field(self, mm: float) -> str:
        """A length as it stands in an input field: exact to 0.01 mm in either system."""
        if self.system == "mm":
            return f"{mm:.2f}".rstrip("0").rstrip(".")
        steps = mm / MM_PER_INCH * 64
        if abs(steps - round(steps)) < 1e-6:
            return Lengths("in", 64)._inches(mm)
        return f'{mm / MM_PER_INCH:.4f}"'


def litres(cubic_mm: float) -> float:
    """Volume in litres from mm³."""
    return cubic_mm / 1e6


def board_feet(cubic_mm: float) -> float:
    """Volume in board feet (144 in³) from mm³."""
    return cubic_mm / CUBIC_MM_PER_BOARD_FOOT
