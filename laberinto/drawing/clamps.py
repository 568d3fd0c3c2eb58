"""The map of a glue-up in its clamps, from above: pieces by their marks, which joints get glue and on which side, which
stay dry, clamps with their distances and the order in which they are tightened, and cauls."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from laberinto.core.analysis.clamping import Clamping
from laberinto.core.analysis.marks import runs
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.instructions import Frame, GlueUp
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.stages import Across, Spread
from laberinto.core.units import Lengths

from . import dims
from .faces import shift, wood
from .laying import GLYPH, pieces_of
from .skin import Skin
from .svg import Floats, document, num, tag, text

INK = "#1d2329"
CAUL = 34.0
"""Width of a caul as it is drawn, mm."""

BAR = 9.0
"""Width of a clamp's bar as it is drawn, mm."""


@dataclass(frozen=True, slots=True)
class _Place:
    """Where along the joints and across them lie on the page: with ``level`` joints run from left to right."""

    level: bool
    along: float
    over: float

    @property
    def page(self) -> tuple[float, float]:
        """Width and height of what is glued on the page."""
        return (self.along, self.over) if self.level else (self.over, self.along)

    def point(self, along: float, over: float) -> tuple[float, float]:
        """A point: how far along the joints from their near or left end, and across them from the first piece."""
        return (along, over) if self.level else (over, self.along - along)

    def rect(self, along: float, over: tuple[float, float], wide: float, **values: str | float) -> str:
        """A bar across the joints, its middle so far along them."""
        (x0, y0), (x1, y1) = self.point(along - wide / 2, over[0]), self.point(along + wide / 2, over[1])
        return tag("rect", "", x=min(x0, x1), y=min(y0, y1), width=abs(x1 - x0), height=abs(y1 - y0), **values)


def clamped(sim: Simulation, result: StageResult, told: GlueUp, lengths: Lengths, skin: Skin) -> str:
    """The map. Long joints lie level, with their near end at the left: so it is as large as it can be."""
    faces = [face_of(result.pieces[number], Side.TOP) for number in range(len(result.pieces))]
    rows, stacked = told.across is Across.LENGTH, told.across is Across.THICKNESS
    axis = 1 if rows else 0
    sizes = np.array([face.size for face in faces])
    begins = np.zeros(len(faces)) if stacked else np.concatenate([[0.0], np.cumsum(sizes[:, axis])])[: len(faces)]
    along = float(sizes[:, 1 - axis].max())
    over = float(sizes[:, axis].max() if stacked else sizes[:, axis].sum())
    frame = _Place(rows or along > over, along, over)
    width, height = frame.page
    size = 0.04 * max(width, height * 0.75)
    inner, seams, marks = "", dict[int, float](), list[tuple[str, float, float]]()
    for number, (face, start) in enumerate(zip(faces, begins.tolist(), strict=True)):
        inner += wood(face, skin, _placed(face, start, frame, rows), seam=size * 0.04)
        for at, low, high in _spans(result, number, face, axis):
            marks.append((told.pieces[at].name.mark, start + low, start + high))
            seams[at] = start + low
    if not stacked:
        first = min(seams)
        inner += _seams({at: over for at, over in seams.items() if at != first}, told, frame, size)
        inner += _marks(marks, frame, size)
    inner += _cauls(told.clamping, frame, size)
    inner += _bars(told.clamping, frame, size, lengths)
    label = f"In the clamps: {len(told.clamping.clamps)} clamps, {len(told.clamping.cauls)} pairs of cauls"
    return _sheet(inner, _legend(told, rows, lengths), frame, size, label)


def framed(sim: Simulation, result: StageResult, told: Frame, lengths: Lengths, skin: Skin) -> str:
    """Two opposite sides of a border in their clamps, on the board as it then is: what comes on later is left out."""
    face, axis = face_of(result.pieces[0], Side.TOP), told.sides[0].axis
    along, over = told.clamping.length, told.clamping.opens
    place = _Place(axis == 1, along, over)
    width, height = place.page
    left, top = (float(face.size[0]) - width) / 2, (float(face.size[1]) - height) / 2
    size = 0.04 * max(width, height * 0.75)
    inner = wood(face, skin, shift(-left, -top), seam=size * 0.04)
    for x, y, wide, high in (
        (-left - 1, -top - 1, left + 1, height + 2 * top + 2), (width, -top - 1, left + 1, height + 2 * top + 2),
        (-1, -top - 1, width + 2, top + 1), (-1, height, width + 2, top + 1),
    ):  # fmt: skip
        inner += tag("rect", x=x, y=y, width=wide, height=high, fill="#fff")
    inner += _cauls(told.clamping, place, size)
    inner += _bars(told.clamping, place, size, lengths)
    words = [f"{side.side.capitalize()} side: {runs(name.mark for name in side.pieces)}" for side in told.sides]
    words.append(f"Clamps open to {lengths.roughly(over)}, black above, white below")
    words.append(f"Figure: from the {'left' if place.level else 'near'} end. Number: turn in tightening")
    label = f"Sides of the border in {len(told.clamping.clamps)} clamps"
    return _sheet(inner, words, place, size, label, (left + 2, top + 2))


def _sheet(
    inner: str, words: Sequence[str], place: _Place, size: float, label: str, spare: tuple[float, float] = (0.0, 0.0)
) -> str:
    """The drawing with what its signs mean below it, and at least so much paper beside it and above and below."""
    width, height = place.page
    left, above, below = (size * 3, size * 3.2, size * 3.6) if place.level else (size * 5, size * 1.8, size * 2.2)
    left, above, below = max(left, spare[0]), max(above, spare[1]), max(below, spare[1] + size)
    letters = size * 0.8
    for at, line in enumerate(words):
        inner += text(0, height + below + letters * 1.3 * at, line, letters, anchor="start", fill=dims.INK)
    page = max(left + width + max(size * 3, spare[0]), left + GLYPH * letters * max(map(len, words)))
    return document(
        inner, page, above + height + below + letters * 1.3 * len(words), left=-left, top=-above, class_="map",
        label=label,
    )  # fmt: skip


def _placed(face: Face, start: float, frame: _Place, rows: bool) -> Floats:
    """The map that lays a piece of the glue-up on the page, a quarter turned where level joints run away from you."""
    if rows:
        return shift(0.0, start)
    low = frame.along - float(face.size[1])
    return np.array([[0, -1, float(face.size[1])], [1, 0, start]]) if frame.level else shift(start, low)


def _spans(result: StageResult, number: int, face: Face, axis: int) -> Iterable[tuple[int, float, float]]:
    """The places of one of the pieces that come out, and from where to where each lies across the joints."""
    for at, (x0, x1, y0, y1) in sorted(pieces_of(result, number, face).items()):
        yield (at, x0, x1) if axis == 0 else (at, y0, y1)


def _seams(seams: dict[int, float], told: GlueUp, frame: _Place, size: float) -> str:
    """Joints: a bold line where there is glue, with beads on the side or sides that are spread; dashes where it stays
    dry."""
    out, reach, overs = "", size * 0.9, sorted(seams.values())
    apart = min([size, *(b - a for a, b in pairwise(overs))])
    for at, over in seams.items():
        (x0, y0), (x1, y1) = frame.point(-reach, over), frame.point(frame.along + reach, over)
        dry = at in told.dry
        out += tag(
            "path", d=f"M{num(x0)} {num(y0)}L{num(x1)} {num(y1)}", class_="seam-dry" if dry else "seam-glue",
            fill="none", stroke=INK, stroke_width=size * (0.13 if dry else 0.09),
            **({"stroke_dasharray": f"{num(size * 0.5)} {num(size * 0.3)}"} if dry else {}),
        )  # fmt: skip
        sides = () if dry else (-1,) if told.spread is Spread.ONE else (-1, 1)
        for side in sides:
            x, y = frame.point(frame.along + reach, over + side * apart * 0.27)
            out += tag("circle", cx=x, cy=y, r=min(size, apart) * 0.23, class_="bead", fill=INK)
    return out


def _marks(marks: list[tuple[str, float, float]], frame: _Place, size: float) -> str:
    """Names of the pieces, on them where the clamps leave room: near their end, turned where they are narrow."""
    out = ""
    longest = max(len(mark) for mark, _, _ in marks)
    narrow = min(high - low for _, low, high in marks)
    letters = min(size, narrow / (1.15 if frame.level else max(GLYPH * longest + 0.4, 1.0)))
    turned = not frame.level and letters < size * 0.6
    if turned:
        letters = min(size, narrow / 1.15)
    for mark, low, high in marks:
        x, y = frame.point(-size * 0.5, (low + high) / 2)
        if frame.level:
            out += text(x, y + letters * 0.36, mark, letters, anchor="end", fill=INK, font_weight="600")
        elif turned:
            inside = text(0, letters * 0.36, mark, letters, anchor="start", fill=INK, font_weight="600")
            out += tag("g", inside, transform=f"translate({num(x)} {num(y)}) rotate(90)")
        else:
            out += text(x, y + letters * 0.8, mark, letters, fill=INK, font_weight="600")
    return out


def _cauls(clamping: Clamping, frame: _Place, size: float) -> str:
    """Pairs of cauls across the joints, seen through."""
    wide = min(CAUL, frame.along / (3 * max(len(clamping.cauls), 1)))
    return "".join(
        frame.rect(at, (-size * 0.4, frame.over + size * 0.4), wide, class_="caul", fill="#fff", fill_opacity=0.55,
                   stroke=INK, stroke_width=size * 0.07, stroke_dasharray=f"{num(size * 0.9)} {num(size * 0.25)}")
        for at in clamping.cauls
    )  # fmt: skip


def _bars(clamping: Clamping, frame: _Place, size: float, lengths: Lengths) -> str:
    """Clamps: those above filled, those below hollow; of a stack as heads at its edges. Each has its turn at one end
    and its distance at the other."""
    out, far = "", size * 1.5
    longest = max(len(lengths.roughly(clamp.at, unit=False)) for clamp in clamping.clamps)
    room = clamping.every / (GLYPH * longest + 0.6 if frame.level else 1.3)
    figures = min(size * 0.8, room)
    wide = min(BAR, frame.along / (2.5 * len(clamping.clamps)))
    for clamp in clamping.clamps:
        fill = INK if clamp.above else "#fff"
        if clamping.stacked:
            end = -far if clamp.above else frame.over + far
            over = (min(end, 0.0), size * 1.2) if clamp.above else (frame.over - size * 1.2, end)
        else:
            over, end = (-far, frame.over + far), frame.over + far
        out += frame.rect(clamp.at, over, wide, class_="clamp", fill=fill, stroke=INK, stroke_width=size * 0.09)
        x, y = frame.point(clamp.at, end)
        out += tag("circle", cx=x, cy=y, r=size * 0.72, fill="#fff", stroke=INK, stroke_width=size * 0.09)
        out += text(x, y + size * 0.34, str(clamp.turn), size * 0.95, fill=INK, font_weight="600")
        if frame.level:
            x, y = frame.point(clamp.at, -far - size * (1 if clamping.stacked else 0.4))
            out += text(x, y, lengths.roughly(clamp.at, unit=False), figures, fill=dims.INK)
        else:
            x, y = frame.point(clamp.at, -far - size * (0.9 if clamping.stacked else 0.3))
            out += text(x, y + size * 0.3, lengths.roughly(clamp.at, unit=False), figures, fill=dims.INK, anchor="end")
    return out


def _legend(told: GlueUp, rows: bool, lengths: Lengths) -> list[str]:
    """What the signs mean, and how far the clamps must open."""
    words = [f"Clamps open to {lengths.roughly(told.clamping.opens)}"]
    words.append(
        "black ones at the left edge, white right" if told.clamping.stacked else "black ones above, white below"
    )
    words.append(f"Figure: from the {'left' if rows else 'near'} end. Number: turn in tightening")
    if not told.clamping.stacked:
        words.append("Bead: the side that is spread" + ("; dashed line: stays dry" if told.dry else ""))
    return words
