"""Maps for the bench: plain drawings with numbers and letters that print well and read at arm's length."""

from __future__ import annotations

from collections.abc import Callable

from laberinto.core.analysis.marks import ends
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.stages import Arrange, Mill
from laberinto.core.steps import Map, Step
from laberinto.core.units import Lengths

from . import bench, dims, sawing
from .board import board
from .faces import shift, wood
from .skin import Flat
from .svg import document, text


def panel(sim: Simulation, step: Step, lengths: Lengths) -> str:
    """The panel's end with the strips numbered in order; a turned strip says how."""
    result = sim[step.stage]
    face = face_of(result.pieces[0], Side.FRONT)
    width, height = (float(v) for v in face.size)
    size = 0.026 * width
    tall = max(height, size * 2.4)
    marks = ends(sim)
    turned = {strip: words for strip, words in _turned(sim).items() if words}
    inner = wood(face, Flat(sim), shift(0, (tall - height) / 2), seam=size * 0.05)
    for i in range(len(face)):
        x0, x1 = _span(face, i)
        strip = sim.strips[int(face.strip[i])]
        light = sim.woods[strip.wood].tone.value != "dark"
        inner += text(
            (x0 + x1) / 2, tall / 2 + size * 0.42, marks[strip.number], size * 1.15,
            fill="#1d2329" if light else "#ffffff", font_weight="600",
        )  # fmt: skip
        width_ = lengths.show(x1 - x0, unit=False)
        inner += text((x0 + x1) / 2, tall + size * 1.5, width_, size * 0.85, fill=dims.INK)
        for line, word in enumerate(turned.get(strip.number, "").split(", ")):
            inner += text((x0 + x1) / 2, tall + size * (2.6 + line), word, size * 0.62, fill=dims.INK)
    below = size * (1.2 + max(len(words.split(", ")) for words in turned.values())) if turned else 0.0
    inner += dims.across(0, width, tall + below + size * 3.2, lengths.show(width), size, strong=True)
    return document(
        inner, width + size * 2, tall + below + size * 5, label="Strips in order, left to right",
        left=-size, top=-size * 0.6, class_="map",
    )  # fmt: skip


def _turned(sim: Simulation) -> dict[int, str]:
    """How each strip is turned in its panel, in words, by its number."""
    return {
        strip.number: spec.turned.words
        for result in sim.results
        if isinstance(result.stage, Mill)
        for strip, spec in zip(result.outcome.strips, result.stage.laid_out(), strict=True)
    }


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


def _span(face_: Face, i: int) -> tuple[float, float]:
    across = face_.points[face_.ptr[i] : face_.ptr[i + 1], 0]
    return float(across.min()), float(across.max())


MAPS: dict[Map, Callable[[Simulation, Step, Lengths], str]] = {
    Map.PANEL: panel,
    Map.ROWS: rows,
    Map.CUTS: cuts,
    Map.FACE: face,
}
