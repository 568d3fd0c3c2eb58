"""Lots as typed lines: ``6 beech planks 2400 x 180 x 52, 11 %, 48.50, rack 2, knot 300-360 x 40-80``.

The first part is a count (1 if left out), a wood, a kind (plank if left out) and length × width × thickness. Parts
after a comma and a space come in any order: a moisture in percent, a price of one piece, ``curve`` and a radius, a
fault with where it lies along and across the piece, ``note`` and words; anything else says where the lot lies.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from ..errors import InputError
from ..units import VULGAR, Lengths, cut_short, parse_length, parse_whole
from ..woods import LIBRARY, Wood
from .model import Defect, Lot, LotKind

MOST_LINES = 200
"""Lines taken at once."""

MOST_LINE = 400
"""Characters of one line."""

MOST_SPAN = 60
"""Characters of where a fault starts and ends."""

MOST_COUNT = 400
"""Pieces in a lot."""

_KINDS = {form: kind for kind in LotKind for form in (kind.value, f"{kind.value}s")}
_COUNT = re.compile(r"(\d+)\s*(?:[x×]\s*)?(?=[^\W\d])", re.ASCII)
_NUMBER_FROM = re.compile(rf"[0-9{VULGAR}]|[.,][0-9]")
_TIMES = re.compile(r"[x×]", re.I)
_MOISTURE = re.compile(r"(\d+(?:[.,]\d+)?)\s*%", re.ASCII)
_MONEY = r"[€$£¥]|kr|eur|usd|gbp|chf|nok|sek|dkk"
_PRICE = re.compile(rf"(?:price\s+)?(?:{_MONEY})?\s*(\d+(?:[.,]\d{{1,2}})?)\s*(?:{_MONEY})?", re.I | re.ASCII)
_FAULTS = frozenset({
    "knot", "knots", "split", "splits", "shake", "shakes", "check", "checks", "crack", "cracks", "hole", "holes",
    "nail", "nails", "wane", "bark", "rot", "pith", "heart", "sapwood", "stain", "worm", "fault", "faults", "char",
})  # fmt: skip
"""Words that begin a fault and no place in a shop."""


class LineError(InputError):
    """A part of a line cannot be taken; it stands from ``start`` to ``end`` in the line of this ``number``, from 1."""

    def __init__(self, message: str, start: int, end: int, number: int = 1) -> None:
        super().__init__(message, "lines")
        self.start, self.end, self.number = start, end, number


@dataclass(frozen=True, slots=True)
class Read:
    """What came of one line: a lot, or what is wrong with it."""

    number: int
    text: str
    lot: Lot | None
    error: LineError | None


def read_lines(text: str, lengths: Lengths) -> list[Read]:
    """Every line that is not empty. Raises InputError where there are too many."""
    found: list[Read] = []
    lines = [(number, line.strip()) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(lines) > MOST_LINES:
        raise InputError(f"That is {len(lines)} lines; take at most {MOST_LINES} at once.", "lines")
    for number, line in lines:
        try:
            found.append(Read(number, line, read_line(line, lengths), None))
        except LineError as error:
            error.number = number
            found.append(Read(number, line, None, error))
    return found


def read_line(line: str, lengths: Lengths) -> Lot:
    """One lot; raises LineError that points at what cannot be taken."""
    if len(line) > MOST_LINE:
        raise LineError(f"This line has {len(line)} characters; a lot takes {MOST_LINE}.", MOST_LINE, len(line))
    parts = []
    at = 0
    for part in re.split(r"(,\s|;)", line):
        if part not in (";",) and part.strip(" ,\t"):
            parts.append((at + len(part) - len(part.lstrip(" ,\t")), part.strip(" ,\t")))
        at += len(part)
    if not parts or not parts[0][1]:
        raise LineError("The line is empty. Type a wood and a size, like beech 2400 x 180 x 52.", 0, len(line))
    values = _what(*parts[0], lengths)
    faults: list[Defect] = []
    for start, part in parts[1:]:
        if not part:
            continue
        try:
            _more(part, values, faults, lengths)
        except InputError as error:
            raise LineError(error.say(lengths), start, start + len(part)) from None
    try:
        return Lot.of(**values, defects=tuple(faults))
    except InputError as error:
        raise LineError(error.say(lengths), 0, len(line)) from None


def _what(start: int, part: str, lengths: Lengths) -> dict[str, Any]:
    """Count, wood, kind and size."""
    end = start + len(part)
    times = _COUNT.match(part)
    first = times.end() if times else 0
    found = _NUMBER_FROM.search(part, first)
    size = found.start() if found else len(part)
    words = part[first:size].strip()
    if not words:
        raise LineError("Begin with a wood and a size, like 6 beech planks 2400 x 180 x 52.", start, end)
    at = start + part.index(words, first)
    wood, kind = _named(words, at)
    sizes = [text.strip() for text in _TIMES.split(part[size:])]
    if len(sizes) < 2:
        raise LineError(f"How large is the {wood.name.lower()}? Put length × width × thickness behind it.", at, end)
    if len(sizes) != 3:
        raise LineError("A size is three lengths: along the grain, across it, and the thickness.", start + size, end)
    try:
        length, width, thick = (parse_length(text, lengths.system) for text in sizes)
    except InputError as error:
        raise LineError(error.say(lengths), start + size, end) from None
    try:
        count = parse_whole(times[1], 1, MOST_COUNT) if times else 1
    except InputError:
        raise LineError(f"How many pieces? Type 1 to {MOST_COUNT}.", start, start + first) from None
    return {"count": count, "wood": wood.key, "kind": kind, "length": length, "width": width, "thickness": thick}


def _named(words: str, at: int) -> tuple[Wood, LotKind]:
    """A wood, by its name, its key or the start of its name, and a kind behind it."""
    names, kind = words.lower().split(), LotKind.PLANK
    if len(names) > 1 and names[-1] in _KINDS:
        kind = _KINDS[names.pop()]
    name = " ".join(names)
    found = LIBRARY.named(name)
    if len(found) == 1:
        return found[0], kind
    if found:
        which = " or ".join(wood.name.lower() for wood in found[:6])
        raise LineError(f"“{cut_short(name)}” could be {which}. Write more of it.", at, at + len(words))
    raise LineError(f"There is no wood called “{cut_short(name)}” in the library.", at, at + len(words))


def _more(part: str, values: dict[str, Any], faults: list[Defect], lengths: Lengths) -> None:
    """Any other part of a line."""
    system = lengths.system
    if match := _MOISTURE.fullmatch(part):
        values["moisture"] = float(match[1].replace(",", "."))
    elif (fault := _fault(part, lengths)) is not None:
        faults.append(fault)
    elif part.lower().startswith("curve "):
        values["radius"] = parse_length(part[6:], system)
    elif part.lower().startswith("note "):
        values["note"] = part[5:].strip()
    elif (match := _PRICE.fullmatch(part)) and "price" not in values:
        values["price"] = float(match[1].replace(",", "."))
    elif part.split()[0].lower() in _FAULTS:
        raise InputError(f"Where does the {part.split()[0].lower()} lie? Along and across: knot 300 to 360 x 40 to 80.")
    elif "place" not in values:
        values["place"] = part
    else:
        raise InputError(f"“{part}” says a second time where the lot lies. Put “note” before what is a note.")


def _fault(part: str, lengths: Lengths) -> Defect | None:
    """A fault with where it lies, ``knot 300 to 360 x 40 to 80``; None where the part is something else."""
    found = _NUMBER_FROM.search(part)
    spans = [_span(text, lengths) for text in _TIMES.split(part[found.start() :])] if found else []
    what = part[: found.start()].strip() if found else ""
    if len(spans) != 2 or None in spans or not what:
        return None
    (x0, x1), (y0, y1) = (span for span in spans if span)
    if x1 <= x0 or y1 <= y0:
        raise InputError("A fault ends behind where it starts, along the piece and across it.")
    return Defect(what=what, start=x0, end=x1, low=y0, high=y1)


def _span(text: str, lengths: Lengths) -> tuple[float, float] | None:
    """Two lengths with “to” or a dash between, or None. A dash may also stand within a mixed fraction: the first
    at which both sides are lengths parts them."""
    if len(text) > MOST_SPAN:
        return None
    marks = list(re.finditer(r"\bto\b|[-–−]", text))
    for mark in sorted(marks, key=lambda m: m.group() != "to"):
        try:
            return (
                parse_length(text[: mark.start()], lengths.system, zero=True),
                parse_length(text[mark.end() :], lengths.system, zero=True),
            )
        except InputError:
            continue
    return None


def written(lot: Lot, lengths: Lengths) -> str:
    """A lot as a line that reads back to the same lot."""
    size = " x ".join(lengths.field(mm) for mm in (lot.length, lot.width, lot.thickness))
    parts = [f"{lot.count} {LIBRARY[lot.wood].name.lower()} {lot.kind.value} {size}"]
    parts += [f"{lot.moisture:g} %"] if lot.moisture is not None else []
    parts += [f"price {lot.price:.2f}"] if lot.price is not None else []
    parts += [f"curve {lengths.field(lot.radius)}"] if lot.radius is not None else []
    for d in lot.defects:
        x0, x1, y0, y1 = (lengths.field(mm) for mm in (d.start, d.end, d.low, d.high))
        parts.append(f"{d.what} {x0} to {x1} x {y0} to {y1}")
    parts += [lot.place] if lot.place else []
    parts += [f"note {lot.note}"] if lot.note else []
    return ", ".join(parts)
