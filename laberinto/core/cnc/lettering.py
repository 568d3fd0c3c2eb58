"""A typeface of single lines, for a V bit: letters, figures and common signs on a grid on which capitals are 6 high and
small letters 4. Accents are set over their letters."""

from __future__ import annotations

import unicodedata

from ..errors import InputError

Stroke = list[tuple[float, float]]

_GLYPHS: dict[str, str] = {
    "A": "00 26 40|12 32", "B": "00 06 36 45 44 33 03|33 42 41 30 00", "C": "45 36 16 05 01 10 30 41",
    "D": "00 06 26 44 42 20 00", "E": "40 00 06 46|03 33", "F": "00 06 46|03 33", "G": "45 36 16 05 01 10 30 41 43 23",
    "H": "00 06|40 46|03 43", "I": "20 26", "J": "46 41 30 10 01", "K": "00 06|46 03 40", "L": "06 00 40",
    "M": "00 06 23 46 40", "N": "00 06 40 46", "O": "10 01 05 16 36 45 41 30 10", "P": "00 06 36 45 44 33 03",
    "Q": "10 01 05 16 36 45 41 30 10|22 40", "R": "00 06 36 45 44 33 03|23 40",
    "S": "01 10 30 41 42 33 13 04 05 16 36 45",
    "T": "06 46|26 20", "U": "06 01 10 30 41 46", "V": "06 20 46", "W": "06 10 23 30 46", "X": "00 46|06 40",
    "Y": "06 23 46|23 20", "Z": "06 46 00 40", "0": "10 01 05 16 36 45 41 30 10|01 45", "1": "14 26 20|10 30",
    "2": "05 16 36 45 44 00 40", "3": "05 16 36 45 44 33 23|33 42 41 30 10 01", "4": "30 36 02 42",
    "5": "46 06 03 33 42 41 30 10 01", "6": "45 36 16 05 01 10 30 41 42 33 13 02", "7": "06 46 10",
    "8": "13 04 05 16 36 45 44 33 13 02 01 10 30 41 42 33", "9": "01 10 30 41 45 36 16 05 04 13 33 44",
    "-": "13 33", ".": "20 21", ",": "21 10", "'": "26 24", "/": "00 46", "&": "40 05 16 25 02 01 10 20 42",
    "+": "23 25|14 34", ":": "20 21|23 24", "!": "20 21|23 26", "?": "05 16 36 45 44 23 22|20 21", "(": "16 05 01 10",
    ")": "06 15 11 00", '"': "06 04|16 14", "=": "02 32|04 34", "#": "10 16|30 36|02 42|04 44",
}  # fmt: skip
"""Strokes of a sign through points xy, with | between; the line they stand on is y = 0."""


_SMALL: dict[str, str] = {
    "a": "36 32|35 26 16 05 03 12 22 33", "b": "08 02|05 16 26 35 33 22 12 03", "c": "35 26 16 05 03 12 22 33",
    "d": "38 32|35 26 16 05 03 12 22 33", "e": "04 34 35 26 16 05 03 12 22 33", "f": "38 28 17 12|06 26",
    "g": "36 31 20 10 01|35 26 16 05 03 12 22 33", "h": "08 02|05 16 26 35 32", "ı": "06 02",
    "ȷ": "26 21 10 00", "k": "08 02|36 04 32", "l": "08 03 12", "m": "06 02|05 16 25 22|25 36 45 42",
    "n": "06 02|05 16 26 35 32", "o": "12 03 05 16 26 35 33 22 12", "p": "06 00|05 16 26 35 33 22 12 03",
    "q": "36 30|35 26 16 05 03 12 22 33", "r": "06 02|05 16 26", "s": "35 26 16 05 14 24 33 22 12 03",
    "t": "18 13 22 32|06 26", "u": "06 03 12 22 33|36 32", "v": "06 22 46", "w": "06 12 24 32 46", "x": "06 32|36 02",
    "y": "06 03 12 22 33|36 31 20 10 01", "z": "06 36 02 32", "ß": "02 07 18 28 37 26 16|26 35 33 22 12",
    "ø": "12 03 05 16 26 35 33 22 12|02 36", "æ": "35 46 55 54 34|35 26 16 05 03 12 22 33 42 53|35 33",
}  # fmt: skip
"""The same for small letters; the line they stand on is y = 2."""

_DOTTED = {"i": "ı\u0307", "j": "ȷ\u0307"}

_MARKS: dict[str, tuple[str, ...]] = {
    "\u0300": ("38 70",), "\u0301": ("30 78",), "\u0302": ("10 58 90",), "\u0303": ("12 38 62 88",),
    "\u0307": ("52 58",),
    "\u0308": ("20 26", "80 86"), "\u030a": ("50 24 58 84 50",), "\u030c": ("18 50 98",),
}  # fmt: skip
"""Accents in a room 1 high whose middle is x = 5, in tenths of two units and of one."""

_FOR = {"×": "x", "–": "-", "—": "-", "’": "'", "‘": "'", "“": '"', "”": '"', "·": "."}

BETWEEN, GRID = 1.6, 6.0
"""From one sign to the next, and the height of a capital, on the grid."""

SPACE = 2.4
"""Width of a space."""

ROOM = 1.0
"""From the top of a letter to its accent."""


def strokes(text: str, capital: float) -> tuple[list[Stroke], float]:
    """The strokes of a line of text whose capitals are ``capital`` mm high, from its lower left corner, and how wide it
    is. Raises InputError for the first sign that the typeface has not."""
    scale, x, out = capital / GRID, 0.0, list[Stroke]()
    for sign in text.strip():
        drawn = _drawn(_FOR.get(sign, sign))
        if drawn is None:
            raise InputError(
                f"The typeface that is engraved has no “{sign}”. It has letters with and without accents, figures, and "
                "the signs - . , : ! ? ' \" / & + = # ( ). Leave it out, or engrave by the SVG of the mark.", "text",
            )  # fmt: skip
        points = [at for stroke in drawn for at in stroke]
        left, right = min((px for px, _ in points), default=0.0), max((px for px, _ in points), default=SPACE)
        out += [[((x + px - left) * scale, py * scale) for px, py in stroke] for stroke in drawn]
        x += right - left + BETWEEN
    return out, max(x - BETWEEN, 0.0) * scale


def _drawn(sign: str) -> list[Stroke] | None:
    """The strokes of a sign over the line it stands on; None where there are none."""
    if sign == " ":
        return []
    plain = _plain(sign)
    if plain is not None:
        return plain
    apart = _DOTTED.get(sign) or unicodedata.normalize("NFD", sign)
    base, accents = apart[0], apart[1:]
    under = _plain(_DOTTED.get(base, base)[0])
    if not accents or under is None or any(accent not in _MARKS for accent in accents):
        return None
    xs, top = [x for stroke in under for x, _ in stroke], max(y for stroke in under for _, y in stroke)
    middle = (min(xs) + max(xs)) / 2
    over = [
        [(middle + (int(at[0]) - 5) / 5, top + ROOM + int(at[1]) / 10) for at in stroke.split()]
        for accent in accents for stroke in _MARKS[accent]
    ]  # fmt: skip
    return [*under, *over]


def _plain(sign: str) -> list[Stroke] | None:
    found, down = (_SMALL[sign], 2) if sign in _SMALL else (_GLYPHS.get(sign), 0)
    if found is None:
        return None
    return [[(float(at[0]), float(int(at[1]) - down)) for at in stroke.split()] for stroke in found.split("|")]
