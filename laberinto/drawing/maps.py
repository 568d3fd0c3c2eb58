"""Maps for the bench: plain drawings with numbers and letters that print well and read at arm's length."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from laberinto.core.analysis.marks import places, turned
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.stages import Across, Arrange, Glue
from laberinto.core.steps import Map, Step
from laberinto.core.units import Lengths

from . import bench, dims, sawing
from .board import board
from .faces import shift, wood
from .skin import Flat
from .svg import document, num, tag, text

GLYPH = 0.62
"""Width of a sign of the drawing's letters for a size of 1."""

LEAST_LETTERS = 0.012
"""Letters are never smaller than this share of the drawing's width; what does not fit then is left to the sentence."""


def panel(sim: Simulation, step: Step, lengths: Lengths) -> str:
    """What lies in the clamps, from the left or from below: every piece under the number of its place, or where it is
    a strip what stands on its end, and how wide (high) it is. Dry joints are gaps with a dashed line."""
    result = sim[step.stage]
    stacked = isinstance(result.stage, Glue) and result.stage.across is Across.THICKNESS
    groups = [_group(result, number) for number in range(len(result.pieces))]
    sizes = np.array([group.face.size for group in groups])
    axis = 1 if stacked else 0
    gap = 0.03 * float(sizes[:, axis].sum()) / max(len(groups) - 1, 1) ** 0.5 if len(groups) > 1 else 0.0
    begins = np.concatenate([[0.0], np.cumsum(sizes[:, axis] + gap)])[: len(groups)]
    if stacked:  # the first lies lowest
        begins = begins.max() + sizes[-1, 1] - begins - sizes[:, 1]
    total = float((begins + sizes[:, axis]).max())
    width, height = (float(sizes[:, 0].max()), total) if stacked else (total, float(sizes[:, 1].max()))
    marks, turns = places(sim, result), turned(sim)
    items = [
        (mark, span, start, group.strips[mark])
        for group, start in zip(groups, begins, strict=True)
        for mark, span in group.spans.items()
    ]
    size = 0.026 * max(width, height * 0.8)
    tall = max(height, size * 2.6)
    fits = min(
        min((width if stacked else hi - lo) / (GLYPH * max(len(marks[at]), 2)), (low - top) if stacked else tall)
        for at, (lo, hi, top, low), _, _ in items
    )
    letters = max(min(size * 1.15, 0.85 * fits), LEAST_LETTERS * width)
    widths = [(hi - lo, lengths.show(hi - lo, unit=False)) for _, (lo, hi, *_), _, _ in items]
    narrowest = min(0.92 * wide / (GLYPH * len(words)) for wide, words in widths)
    figures = max(min(letters * 0.74, narrowest), LEAST_LETTERS * width)
    inner = ""
    for group, start in zip(groups, begins, strict=True):
        place = shift(0, start) if stacked else shift(start, (tall - float(group.face.size[1])) / 2)
        inner += wood(group.face, Flat(sim), place, seam=size * 0.05)
    dashes = f"{size * 0.5:.3g}"
    for between in (begins[:-1] if stacked else begins[1:]) - gap / 2:
        cut = f"M0 {num(between)}H{num(width)}" if stacked else f"M{num(between)} 0V{num(tall)}"
        inner += tag("path", d=cut, fill="none", stroke=dims.INK, stroke_width=size * 0.1, stroke_dasharray=dashes)
    for (at, (lo, hi, top, low), start, strip), (wide, words) in zip(items, widths, strict=True):
        x, y = (width / 2, start + (top + low) / 2) if stacked else (start + (lo + hi) / 2, tall / 2)
        light = strip < 0 or sim.woods[sim.strips[strip].wood].tone.value != "dark"
        if strip < 0:
            patch, high = GLYPH * letters * (len(marks[at]) + 0.6), letters * 1.2
            inner += tag("rect", x=x - patch / 2, y=y - high / 2, width=patch, height=high, fill="#ffffff")
        inner += text(
            x, y + letters * 0.36, marks[at], letters, fill="#1d2329" if light else "#ffffff", font_weight="600",
        )  # fmt: skip
        room = 0.92 * wide
        if not stacked and GLYPH * len(words) * figures <= room * 1.001:
            inner += text(x, tall + size * 1.5, words, figures, fill=dims.INK)
        for below_it, word in enumerate(turns.get(strip, "").split(", ") if not stacked else ()):
            if GLYPH * len(word) * size * 0.62 <= room:
                inner += text(x, tall + size * (2.6 + below_it), word, size * 0.62, fill=dims.INK)
    below = size * (1.2 + max(len(words.split(", ")) for words in turns.values())) if turns and not stacked else 0.0
    whole = float(sizes[:, 0].max() if stacked else sizes[:, 0].sum())  # without the gaps of the drawing
    inner += dims.across(0, width, tall + below + size * 3.2, lengths.show(whole), size, strong=True)
    page = max(width, tall) if stacked else width  # a pile is drawn no larger than a panel
    return document(
        inner, page + size * 2, tall + below + size * 5, left=(width - page) / 2 - size, top=-size * 0.6, class_="map",
        label=f"Pieces in order, {'from below' if stacked else 'left to right'}",
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Group:
    """One of the pieces that a clamp-up yields: its front, and the span of each place in it, across and up."""

    face: Face
    spans: dict[int, tuple[float, float, float, float]]
    strips: dict[int, int]
    """The strip that is seen at each place, or -1 where there are several."""


def _group(result: StageResult, number: int) -> _Group:
    cells = result.pieces[number]
    face = face_of(cells, Side.FRONT)
    laid = result.outcome.laid
    mine = np.zeros(len(cells), np.int64) if laid is None else laid[result.pieces.cells.piece == number]
    seen_at = mine[face.cell]
    spans, shown = {}, {}
    for at in np.unique(seen_at).tolist():
        polygons = np.flatnonzero(seen_at == at)
        points = np.concatenate([face.points[face.ptr[i] : face.ptr[i + 1]] for i in polygons])
        (lo, top), (hi, low) = points.min(axis=0), points.max(axis=0)
        spans[at] = float(lo), float(hi), float(top), float(low)
        strips = np.unique(face.strip[polygons])
        shown[at] = int(strips[0]) if len(strips) == 1 else -1
    return _Group(face, spans, shown)


def rows(sim: Simulation, step: Step, lengths: Lengths) -> str:
    """The rows in order from the far side, each with its slice number and its turn."""
    arranged = next(r for r in sim.results if isinstance(r.stage, Arrange))
    return bench.laid_rows(sim, arranged, Flat(sim), lengths)


def cuts(sim: Simulation, step: Step, lengths: Lengths) -> str:
    """The slices as they come off the panel."""
    return sawing.cuts(sim, sim[step.stage], Flat(sim), lengths)


def face(sim: Simulation, step: Step, lengths: Lengths) -> str:
    """The board as this step leaves it."""
    return board(sim[step.stage].pieces[0], Flat(sim), lengths, label="The board after this step")


MAPS: dict[Map, Callable[[Simulation, Step, Lengths], str]] = {
    Map.PANEL: panel,
    Map.ROWS: rows,
    Map.CUTS: cuts,
    Map.FACE: face,
}
