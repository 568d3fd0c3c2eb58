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
from ..units import Lengths, parse_length
from ..woods import LIBRARY, Wood
from .model import Defect, Lot, LotKind

MOST_LINES = 200
"""Lines taken at once."""

_SIZE = re.compile(r"[\d.,/\"″ ]+(?:mm|cm|m|in)?\s*[x×]\s*.+$", re.I)
_KINDS = {form: kind for kind in LotKind for form in (kind.value, f"{kind.value}s")}
_FAULT = re.compile(
    r"^(?P<what>[^\W\d][^\d]*?)\s+(?P<x0>[\d.,/ ]+\S*?)\s*(?:-|–|to)\s*(?P<x1>[\d.,/ ]+\S*?)\s*[x×]\s*"
    r"(?P<y0>[\d.,/ ]+\S*?)\s*(?:-|–|to)\s*(?P<y1>[\d.,/ ]+\S*?)\s*$",
    re.I,
)
_MOISTURE = re.compile(r"^(\d+(?:[.,]\d+)?)\s*%$")
_PRICE = re.compile(r"^(?:price\s+)?\D?\s*(\d+(?:[.,]\d{1,2})?)\s*\D?$", re.I)


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
    parts = [(m.start(), m.group()) for m in re.finditer(r"(?:(?!,\s|;).)+", line)]
    parts = [(start + len(part) - len(part.lstrip(" ,;")), part.strip(" ,;")) for start, part in parts]
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
    match = re.match(
        r"^(?:(?P<count>\d+)\s*(?:[x×]\s*)?(?=[^\W\d]))?\s*(?P<words>[^\d]*?)\s*(?P<size>\d.*|\.\d.*)?$", part
    )
    if match is None or not match["words"].strip():
        raise LineError("Begin with a wood and a size, like 6 beech planks 2400 x 180 x 52.", start, end)
    at = start + match.start("words")
    wood, kind = _named(match["words"].strip(), at)
    if not match["size"] or not _SIZE.match(match["size"]):
        raise LineError(f"How large is the {wood.name.lower()}? Put length × width × thickness behind it.", at, end)
    sizes = re.split(r"\s*[x×]\s*", match["size"])
    if len(sizes) != 3:
        raise LineError(
            "A size is three lengths: along the grain, across it, and the thickness.", start + match.start("size"), end
        )
    try:
        length, width, thick = (parse_length(size, lengths.system) for size in sizes)
    except InputError as error:
        raise LineError(error.say(lengths), start + match.start("size"), end) from None
    return {
        "count": int(match["count"] or 1), "wood": wood.key, "kind": kind, "length": length, "width": width,
        "thickness": thick,
    }  # fmt: skip


def _named(words: str, at: int) -> tuple[Wood, LotKind]:
    """A wood, by its name, its key or the start of its name, and a kind behind it."""
    names, kind = words.lower().split(), LotKind.PLANK
    if len(names) > 1 and names[-1] in _KINDS:
        kind = _KINDS[names.pop()]
    name = " ".join(names)
    exact = [wood for wood in LIBRARY.values() if name in (wood.name.lower(), wood.key, wood.key.replace("-", " "))]
    found = exact or [wood for wood in LIBRARY.values() if wood.name.lower().startswith(name)]
    found = found or [wood for wood in LIBRARY.values() if name in wood.name.lower().split()]
    if len(found) == 1:
        return found[0], kind
    if found:
        which = " or ".join(wood.name.lower() for wood in found[:4])
        raise LineError(f"“{name}” could be {which}. Write more of it.", at, at + len(words))
    raise LineError(f"There is no wood called “{name}” in the library.", at, at + len(words))


def _more(part: str, values: dict[str, Any], faults: list[Defect], lengths: Lengths) -> None:
    """Any other part of a line."""
    system = lengths.system
    if match := _MOISTURE.match(part):
        values["moisture"] = float(match[1].replace(",", "."))
    elif match := _FAULT.match(part):
        x0, x1, y0, y1 = (parse_length(match[k], system, zero=True) for k in ("x0", "x1", "y0", "y1"))
        if x1 <= x0 or y1 <= y0:
            raise InputError("A fault ends behind where it starts, along the piece and across it.")
        faults.append(Defect(what=match["what"].strip(), start=x0, end=x1, low=y0, high=y1))
    elif part.lower().startswith("curve "):
        values["radius"] = parse_length(part[6:], system)
    elif part.lower().startswith("note "):
        values["note"] = part[5:].strip()
    elif (match := _PRICE.match(part)) and "price" not in values:
        values["price"] = float(match[1].replace(",", "."))
    elif "place" not in values:
        values["place"] = part
    else:
        raise InputError(f"“{part}” says a second time where the lot lies. Put “note” before what is a note.")


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
