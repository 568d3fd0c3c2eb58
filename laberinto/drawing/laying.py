"""The map of a glue-up: each piece in its place and by its name, how it is turned and shifted, and which joints stay
dry. Side by side the names stand below, else beside; no two labels touch, however many pieces there are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from laberinto.core.analysis.marks import ends, turned
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.geometry.rotations import Turn
from laberinto.core.instructions import GlueUp, instructions_of
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.stages import Across
from laberinto.core.units import Lengths

from . import dims
from .faces import shift, wood
from .skin import Skin
from .svg import document, num, tag, text

GLYPH = 0.62
"""Width of a sign of the drawing's letters for a size of 1."""

LINE = 1.2
"""Distance of lines of letters for a size of 1."""

PLAIN = Turn().name
_WAYS = {
    Across.WIDTH: ("away", "back"), Across.LENGTH: ("right", "left"), Across.THICKNESS: ("right", "left"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Place:
    """A place of the glue-up as it is drawn: its mark, what is said of it, and its box (x0, x1, y0, y1)."""

    mark: str
    note: str
    x0: float
    x1: float
    y0: float
    y1: float

    @property
    def middle(self) -> tuple[float, float]:
        return (self.x0 + self.x1) / 2, (self.y0 + self.y1) / 2


def laid(sim: Simulation, result: StageResult, lengths: Lengths, skin: Skin) -> str:
    """What lies in the clamps: seen from the near end, or from above where pieces lie row behind row or are shifted."""
    (told,) = instructions_of(sim, result)
    assert isinstance(told, GlueUp)
    beside = told.across is not Across.WIDTH
    moved = any(piece.shift for piece in told.pieces)
    side = Side.TOP if told.across is Across.LENGTH or (moved and not beside) else Side.FRONT
    groups = [_group(result, number, side) for number in range(len(result.pieces))]
    axis = 1 if beside else 0
    sizes = np.array([group.face.size for group in groups])
    gap = 0.04 * float(sizes[:, axis].sum()) / max(len(groups) - 1, 1) ** 0.5 if len(groups) > 1 else 0.0
    begins = np.concatenate([[0.0], np.cumsum(sizes[:, axis] + gap)])[: len(groups)]
    if told.across is Across.THICKNESS:  # the first lies lowest
        begins = begins.max() + sizes[-1, 1] - begins - sizes[:, 1]
    width, height = float(sizes[:, 0].max()), float(sizes[:, 1].max())
    if beside:
        height = float((begins + sizes[:, 1]).max())
    else:
        width = float((begins + sizes[:, 0]).max())
    known = ends(sim)
    milled = {known[strip]: words for strip, words in turned(sim).items()}
    inner, places = "", []
    size = 0.036 * max(width, height * 0.8)
    for group, start in zip(groups, begins.tolist(), strict=True):
        x, y = (0.0, start) if beside else (start, height - float(group.face.size[1]))
        inner += wood(group.face, skin, shift(x, y), seam=size * 0.05)
        for at, (x0, x1, y0, y1) in sorted(group.spans.items()):
            name, size_ = told.pieces[at].name, (y1 - y0) if beside else (x1 - x0)
            note = _note(told, at, lengths, size_, milled.get(name.mark, "") if name.noun == "strip" else "")
            places.append(_Place(told.pieces[at].name.mark, note, x + x0, x + x1, y + y0, y + y1))
    between = (begins[:-1] if told.across is Across.THICKNESS else begins[1:]) - gap / 2
    inner += _paper(between.tolist(), width, height, size, level=beside)
    whole = lengths.show(float(sizes[:, axis].sum()))
    draw = _beside if beside else _below
    return draw(inner, places, width, height, size, whole, _label(told))


def _label(told: GlueUp) -> str:
    way = {Across.WIDTH: "left to right", Across.LENGTH: "from the far side", Across.THICKNESS: "from below"}
    return f"Pieces in order, {way[told.across]}"


def _note(told: GlueUp, at: int, lengths: Lengths, size: float, milled: str) -> str:
    """How large a piece is along the row, how it is turned from how it was sawn, and how far it is shifted."""
    piece = told.pieces[at]
    words = [lengths.show(size, unit=False), *([milled] if milled else [])]
    if piece.turn != PLAIN:
        words.append(piece.turn)
    words = [said.replace("three-quarter ", "¾ ").replace("quarter ", "¼ ") for said in words]
    if by := round(piece.shift, 6):
        words.append(f"{lengths.exact(abs(by))} {_WAYS[told.across][0 if by > 0 else 1]}")
    return ", ".join(words)


def _paper(between: Sequence[float], width: float, height: float, size: float, *, level: bool) -> str:
    """Dry joints: a dashed line where paper lies."""
    out = ""
    for at in between:
        d = f"M{num(-size)} {num(at)}H{num(width + size)}" if level else f"M{num(at)} {num(-size)}V{num(height + size)}"
        out += tag(
            "path", d=d, class_="dry", fill="none", stroke=dims.INK, stroke_width=size * 0.12,
            stroke_dasharray=f"{num(size * 0.5)} {num(size * 0.3)}",
        )  # fmt: skip
    return out


def _letters(places: Sequence[_Place], size: float, axis: int) -> float:
    """As large as letters may be so that those of neighbours do not touch."""
    apart = [abs(b.middle[axis] - a.middle[axis]) for a, b in pairwise(places)]
    return min([size * 1.1, *(far / LINE for far in apart)])


def _below(
    inner: str, places: Sequence[_Place], width: float, height: float, size: float, whole: str, label: str
) -> str:
    """Names and notes below the pieces: level where they fit, else turned to run down from each piece."""
    down = _letters(places, size, 0)
    said = [[place.mark, *_wrapped(place.note)] for place in places]
    fits = min(
        (place.x1 - place.x0) / (GLYPH * max(len(line) for line in lines) + 0.5)
        for place, lines in zip(places, said, strict=True)
    )
    at = height + size * 0.8
    if level := min(size * 1.1, fits) >= LEVEL * down:
        letters = min(size * 1.1, fits)
        for place, lines in zip(places, said, strict=True):
            for number, words in enumerate(lines):
                weight = "600" if number == 0 else "400"
                inner += text(
                    place.middle[0],
                    at + letters * (1 + LINE * number),
                    words,
                    letters,
                    fill=dims.INK,
                    font_weight=weight,
                )
    else:
        letters, after = down, GLYPH * down * (max(len(place.mark) for place in places) + 1.5)
        for place in places:
            words = text(0, letters * 0.36, place.mark, letters, fill=dims.INK, font_weight="600", anchor="start")
            words += text(after, letters * 0.36, place.note, letters, fill=dims.INK, anchor="start")
            inner += tag("g", words, transform=f"translate({num(place.middle[0])} {num(at)}) rotate(90)")
    longest = max(len(place.mark) for place in places) + 1.5 + max(len(place.note) for place in places)
    used = letters * LINE * max(len(lines) for lines in said) if level else GLYPH * letters * longest
    inner += dims.across(0, width, at + used + size * 1.4, whole, size, strong=True)
    return document(
        inner, width + size * 2, at + used + size * 4.2, left=-size, top=-size * 1.2, class_="map", label=label
    )  # fmt: skip


LEVEL = 0.55
"""Labels stand level where that does not make them smaller than this share of what they could be turned."""


def _wrapped(note: str) -> list[str]:
    """A note word by word, but for a figure and its unit or way."""
    return [line for part in note.split(", ") for line in ([part] if part[0].isnumeric() else part.split(" "))]


def _beside(
    inner: str, places: Sequence[_Place], width: float, height: float, size: float, whole: str, label: str
) -> str:
    """Names left of the pieces and notes right of them."""
    letters = _letters(places, size, 1)
    left = GLYPH * letters * max(len(place.mark) for place in places) + size
    right = GLYPH * letters * max(len(place.note) for place in places) + size * 0.6
    for place in places:
        y = place.middle[1] + letters * 0.36
        inner += text(-size * 0.6, y, place.mark, letters, fill="#1d2329", font_weight="600", anchor="end")
        inner += text(width + size * 0.6, y, place.note, letters, fill=dims.INK, anchor="start")
    inner += dims.along(width + right + size * 1.6, 0, height, whole, size, strong=True)
    drawn = width + left + right + size * 4
    page = max(drawn, height)  # a pile is drawn no larger than a panel
    return document(
        inner, page, height + size * 2.4, left=-left - size * 0.4 - (page - drawn) / 2, top=-size * 1.2, class_="map",
        label=label,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Group:
    """One of the pieces that a clamp-up yields: what is seen of it, and the box of each place in it."""

    face: Face
    spans: dict[int, tuple[float, float, float, float]]


def _group(result: StageResult, number: int, side: Side) -> _Group:
    face = face_of(result.pieces[number], side)
    return _Group(face, pieces_of(result, number, face))


def pieces_of(result: StageResult, number: int, face: Face) -> dict[int, tuple[float, float, float, float]]:
    """The box (x0, x1, y0, y1) of each place that is seen on a face of one of the pieces that come out."""
    laid = result.outcome.laid
    mine = np.zeros(len(result.pieces[number]), np.int64) if laid is None else laid[result.pieces.cells.piece == number]
    seen_at = mine[face.cell]
    spans = {}
    for at in np.unique(seen_at).tolist():
        polygons = np.flatnonzero(seen_at == at)
        points = np.concatenate([face.points[face.ptr[i] : face.ptr[i + 1]] for i in polygons])
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        spans[at] = float(x0), float(x1), float(y0), float(y1)
    return spans
