"""A typeface of single lines, for a V bit: capitals, figures and a few signs, each on a grid of 4 × 6."""

from __future__ import annotations

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
    "-": "13 33", ".": "20 21", ",": "20 10", "'": "26 24", "/": "00 46", "&": "40 05 16 25 02 01 10 20 42",
    "+": "23 25|14 34", " ": "",
}  # fmt: skip
"""Strokes of a sign through points xy, with | between."""

_FOR = {"×": "X", "–": "-", "’": "'"}

ADVANCE, GRID = 5.6, 6.0


def strokes(text: str, capital: float) -> tuple[list[Stroke], float]:
    """The strokes of a line of text whose capitals are ``capital`` mm high, from its lower left corner, and how wide it
    is; signs that are not there are left out."""
    scale, x, out = capital / GRID, 0.0, list[Stroke]()
    for sign in text.upper():
        drawn = _GLYPHS.get(_FOR.get(sign, sign))
        if drawn is None:
            continue
        out += [
            [((x + int(at[0])) * scale, int(at[1]) * scale) for at in stroke.split()]
            for stroke in drawn.split("|") if stroke
        ]  # fmt: skip
        x += ADVANCE
    return out, max(x - ADVANCE + 4, 0.0) * scale
