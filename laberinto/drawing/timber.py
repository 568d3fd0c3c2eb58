"""Pieces of the timber store from above, to scale, and how they are cut."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache

from laberinto.core.analysis.names import letter
from laberinto.core.timber import Lot, Need
from laberinto.core.timber.cutting import PlankCut, Rest, Section
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Sawn, Strip, rings_for

from . import dims
from .svg import document, num, tag, text
from .texture import Patch

Address = Callable[[Strip, Patch, str], str]

PPM = 0.5
"""Pixels a mm of a piece's picture."""


PLAIN = (
    ".piece-frame, .cut-strip, .rest, .fault { fill: none; stroke: #1a2026; stroke-width: 3 } "
    ".rest { stroke-dasharray: 14 9 } .gone { fill: #c9ced3 } .cut-paper { fill: #fff } "
    ".cut-letter { fill: #1a2026; font-weight: 700 } .rest-words { fill: #1a2026 }"
)
"""How a piece without its wood looks, on paper: the drawing itself says it, since a printed page's sheet does not."""


def grain(lot: Lot, number: int, address: Address, finish: str) -> str:
    """The wood of a piece seen from above, along the grain from left to right."""
    href = _grain(lot.wood, number, lot.length, lot.width, lot.thickness, address, finish)
    return tag(
        "image", href=href, x=0.0, y=0.0, width=lot.width, height=lot.length, preserveAspectRatio="none",
        transform="matrix(0 1 1 0 0 0)",
    )  # fmt: skip


@lru_cache(maxsize=1024)
def _grain(wood: str, number: int, length: float, width: float, thickness: float, address: Address, finish: str) -> str:
    strip = Strip(
        0, number, wood, width, thickness, length, rings_for(LIBRARY[wood], number, width, thickness, Sawn.FLAT)
    )
    return address(strip, Patch("flat", thickness, 0.0, 0.0, width, length, PPM), finish)


def _faults(lot: Lot, lengths: Lengths) -> str:
    return "".join(
        tag(
            "rect", tag("title", f"{d.what}, {lengths.show(d.start)} to {lengths.show(d.end)}"), x=d.start, y=d.low,
            width=d.end - d.start, height=d.high - d.low, class_="fault",
        )
        for d in lot.defects
    )  # fmt: skip


def piece(lot: Lot, number: int, lengths: Lengths, address: Address, finish: str, longest: float) -> str:
    """One piece of a lot in a box as long as the longest, so that lots compare."""
    frame = tag("rect", x=0.0, y=0.0, width=lot.length, height=lot.width, class_="piece-frame")
    return document(
        grain(lot, number, address, finish) + _faults(lot, lengths) + frame, longest, lot.width,
        label=f"{LIBRARY[lot.wood].name} {lot.kind.label}", class_="lot-picture", preserveAspectRatio="xMinYMid meet",
    )  # fmt: skip


def cutting(
    plank: PlankCut, needs: Sequence[Need], lengths: Lengths, address: Address | None, finish: str, longest: float
) -> str:
    """A piece with its cuts: strips by letter, rests that are kept, and how long each section is from the trimmed
    end. Sections are numbered in the order they are cut. Without an ``address`` for its wood it is drawn plain."""
    lot = plank.stock.lot
    size = max(longest / 62, 10.0)
    inner = grain(lot, plank.stock.number * 10 + plank.stock.nth, address, finish) if address else tag("style", PLAIN)
    inner += tag("path", d=_gone(plank), class_="gone", fill_rule="evenodd") + _faults(lot, lengths)
    inner += "".join(_rest(rest, lengths, size) for rest in plank.rests)
    for number, section in enumerate(plank.sections, 1):
        inner += _section(section, number, needs, lengths, size, lot.width)
    inner += tag("rect", x=0.0, y=0.0, width=lot.length, height=lot.width, class_="piece-frame")
    return document(
        inner, longest + size, lot.width + size * 2.4, left=-size / 2, top=-size * 0.2, class_="drawing cut-drawing",
        label=f"Lot {plank.stock.name} with its cuts", preserveAspectRatio="xMinYMin meet",
    )  # fmt: skip


def _gone(plank: PlankCut) -> str:
    """What becomes neither strip nor rest: the piece with holes."""
    lot = plank.stock.lot
    boxes = [(0.0, 0.0, lot.length, lot.width)]
    boxes += [(p.x, p.y, p.length, p.width) for section in plank.sections for p in section.pieces]
    boxes += [(r.x, r.y, r.length, r.width) for r in plank.rests]
    return "".join(f"M{num(x)} {num(y)}h{num(w)}v{num(h)}h{num(-w)}Z" for x, y, w, h in boxes)


def _rest(rest: Rest, lengths: Lengths, size: float) -> str:
    words = lengths.show_size(rest.length, rest.width)
    fits = rest.length > size * 0.62 * (len(words) + 5)
    middle = rest.x + rest.length / 2, rest.y + rest.width / 2 + size * 0.34
    return tag("rect", x=rest.x, y=rest.y, width=rest.length, height=rest.width, class_="rest") + (
        _label(*middle, f"keep {words}", size * 0.86, "rest-words") if fits and rest.width > size else ""
    )


def _label(x: float, y: float, words: str, size: float, kind: str) -> str:
    width = size * (0.6 * len(words) + 0.5)
    return tag(
        "rect", x=x - width / 2, y=y - size * 0.92, width=width, height=size * 1.22, rx=size * 0.2, class_="cut-paper"
    ) + text(x, y, words, size, class_=kind)


def _section(section: Section, number: int, needs: Sequence[Need], lengths: Lengths, size: float, low: float) -> str:
    out = ""
    for at in section.pieces:
        tall = min(size, at.width * 0.8)
        words = letter(at.need) + (f"×{at.layers}" if at.layers > 1 else "")
        out += tag("rect", x=at.x, y=at.y, width=at.length, height=at.width, class_="cut-strip")
        out += _label(
            at.x + at.length / 2, at.y + at.width / 2 + tall * 0.34, words, tall, "cut-letter",
        )  # fmt: skip
    end = section.x + section.length
    if section.length > size * 5:
        return out + dims.across(
            section.x, end, low + size * 1.2, lengths.show(section.length, unit=False), size, reach=low
        )
    return out
