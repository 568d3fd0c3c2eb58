"""What to have ready for a step: jigs, and small things that are missed when the glue is open. Each is told once in a
build, at the first step that wants it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from ..stages import (
    Cove,
    Crosscut,
    Feet,
    Flatten,
    Gluing,
    Groove,
    Hollow,
    Inlay,
    Method,
    Notch,
    Profile,
    Resaw,
    Rip,
    Shape,
    Stage,
    Trim,
    Well,
)
from ..stages.shape import Outline
from ..woods import LIBRARY
from .model import Step


@dataclass(frozen=True, slots=True)
class Ready:
    """A thing to have ready: for which stages, in words, and if that is not all of them, for which of these."""

    stages: tuple[type[Stage], ...]
    words: str
    when: Callable[[Stage], bool] = lambda _stage: True


def _by(method: Method) -> Callable[[Stage], bool]:
    return lambda stage: isinstance(stage, Flatten) and stage.method is method


READY: tuple[Ready, ...] = (
    Ready((Gluing,), "glue, and a roller or a card to spread it; a wet cloth"),
    Ready((Gluing,), "clamps opened a little wider than the dry fit, their bars waxed or taped, their heads clean"),
    Ready((Crosscut, Trim), "a crosscut sled whose slot closes round the blade, so that nothing breaks out below"),
    Ready((Crosscut, Trim, Rip), "a sharp blade that does not wobble: burn marks say that it is dull or fed too slowly"),
    Ready((Rip, Resaw), "a push stick, and something that carries what comes off"),
    Ready((Profile,), "a gauge for the blade's angle, and two offcuts to prove it on: sawn and held together they show "
                      "twice the error"),
    Ready((Flatten,), "a drum that just touches to begin with: it takes the high spots first, and stalls where it takes "
                      "more", _by(Method.DRUM_SANDER)),
    Ready((Flatten,), "knives that are sharp: a dull planer tears, and an underpowered one stalls in a wide panel",
          _by(Method.PLANER)),
    Ready((Flatten,), "a router sled: rails level and parallel, the base without play between its cheeks, its opening "
                      "wider than the bit, stops at both ends, and the depth set at the lowest corner",
          _by(Method.ROUTER_SLED)),
    Ready((Groove, Well, Hollow, Inlay), "a template and a guide bush, or a fence; beside an edge a piece of plywood as "
                                         "thick as the board, so that the router cannot tip"),
    Ready((Cove, Notch), "stop blocks at both ends of the cut"),
    Ready((Shape,), "a trammel: a pin in the middle of the underside, and the router on a bar",
          lambda stage: isinstance(stage, Shape) and stage.outline is Outline.CIRCLE),
    Ready((Shape,), "a template of the outline, as smooth as its edge shall be",
          lambda stage: isinstance(stage, Shape) and stage.outline is not Outline.CIRCLE),
    Ready((Feet,), "a corner of scrap with the hole in its place: held to each corner it sets all feet alike"),
)  # fmt: skip
"""In the order in which they are told."""


OILY = frozenset({"olive", "rosewood", "teak"})
"""Woods whose own oil keeps glue off: teak and rosewoods are among those that the Wood Handbook (USDA Forest Products
Laboratory, chapter 10) calls difficult to bond; olive is full of it."""

_WIPED = Ready(
    (Gluing,), "spirit and a clean rag: {} wiped just before the glue, air moving, gloves on and no flame near"
)


def equipped(todo: Sequence[tuple[Stage, Step]], woods: Iterable[str]) -> list[Step]:
    """Steps with what each is the first to want; ``woods`` are those of the strips."""
    told: set[str] = set()
    oily = " and ".join(LIBRARY[wood].name.lower() for wood in sorted(OILY.intersection(woods)))
    wiped = [replace(_WIPED, words=_WIPED.words.format(oily))] if oily else []
    out: list[Step] = []
    for stage, step in todo:
        mine = [
            one.words for one in (*READY, *wiped)
            if isinstance(stage, one.stages) and one.when(stage) and one.words not in told
        ]  # fmt: skip
        told.update(mine)
        lines = (*step.lines, f"Have ready: {'; '.join(mine)}.") if mine else step.lines
        out.append(replace(step, lines=lines))
    return out
