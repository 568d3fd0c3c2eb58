"""A panel too wide for the planer, made as sub-panels: planed apart to one thickness, then joined.

The seam has to be levelled by hand, so it goes to a joint that the pattern has anyway, where two woods meet that differ
most and a glue line does not show; of equal ones to that which halves the panel best.
"""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np

from ..solid import Floats, Ints
from ..stages import Across, Flatten, Glue, Mill, Stage, StripSpec
from ..woods import LIBRARY
from ..woods.tones import lightness
from .model import Plan
from .surgery import free_id, redirected, renamed

MOST_PARTS = 4

_LETTERS = "abcd"


def seams(plan: Plan, flatten_id: str, most: float) -> tuple[int, ...]:
    """Behind which strips (from 1) a panel that a stage flattens is parted so that no part is wider than ``most`` mm;
    empty where it is no plain panel of strips, or no parting will do."""
    chain = _chain(plan, flatten_id)
    if chain is None:
        return ()
    strips = chain[0].laid_out()
    ends = np.cumsum([spec.width for spec in strips])
    light = np.array([_light(spec) for spec in strips])
    apart = np.round(np.abs(np.diff(light)), 3)  # across the joint behind each strip but the last
    for parts in range(max(math.ceil(ends[-1] / most - 1e-9), 2), MOST_PARTS + 1):
        for least in np.unique(apart)[::-1]:  # the quietest seams that will do
            if found := _evenest(ends, np.flatnonzero(apart >= least) + 1, parts, most):
                return found
    return ()


def _evenest(ends: Floats, places: Ints, parts: int, most: float) -> tuple[int, ...]:
    """Where to part at some of ``places`` so that the widest part is as narrow as can be; empty if it is too wide."""
    if len(places) < parts - 1:
        return ()
    at = ends[places - 1]
    widest, before = at.copy(), []
    for _ in range(parts - 2):  # one more part each time: the best last place before each
        wide = np.maximum(widest[:, None], at[None, :] - at[:, None])
        wide[at[None, :] <= at[:, None]] = np.inf
        before.append(wide.argmin(axis=0))
        widest = wide.min(axis=0)
    last = np.maximum(widest, ends[-1] - at)
    best = int(last.argmin())
    if last[best] > most + 1e-9:
        return ()
    found = [best]
    for back in reversed(before):
        found.append(int(back[found[-1]]))
    return tuple(int(places[k]) for k in reversed(found))


def split(plan: Plan, flatten_id: str, most: float) -> Plan:
    """The plan with that panel made of sub-panels; unchanged where ``seams`` finds none."""
    cuts, chain = seams(plan, flatten_id, most), _chain(plan, flatten_id)
    if not cuts or chain is None:
        return plan
    mill, glue, flat = chain
    taken = {stage.id for stage in plan.stages}
    strips = mill.laid_out()
    made: list[Stage] = []
    for letter, (start, stop) in zip(_LETTERS, pairwise((0, *cuts, len(strips))), strict=False):
        names = {s.id: s.id if letter == "a" else free_id(taken, f"{s.id}-{letter}") for s in chain}
        part = mill.model_copy(update={"strips": tuple(strips[start:stop])})
        made += [renamed(stage, names) for stage in (part, glue, flat)]
    flats = [stage.id for stage in made if isinstance(stage, Flatten)]
    joined = Glue(id=free_id(taken, f"{glue.id}-joined"), source=flats[0], also=tuple(flats[1:]), spread=glue.spread)
    at = plan.index(mill.id)
    before, after = (
        [stage for stage in stages if stage.id not in (mill.id, glue.id, flat.id)]
        for stages in (plan.stages[:at], plan.stages[at:])
    )
    return plan.with_stages([*before, *made, joined, *redirected(after, flat.id, joined.id)])


def _chain(plan: Plan, flatten_id: str) -> tuple[Mill, Glue, Flatten] | None:
    """The strips, the glue-up and the flattening, where it is as plain as that."""
    flat = plan.stage(flatten_id)
    if not isinstance(flat, Flatten) or flat.source is None:
        return None
    ids = {stage.id for stage in plan.stages}
    glue = plan.stage(flat.source) if flat.source in ids else None
    if not isinstance(glue, Glue) or glue.across is not Across.WIDTH or len(glue.sources) != 1:
        return None
    plain = glue.model_dump(exclude={"id", "source", "spread", "clamp_hours"}, exclude_defaults=True)
    mill = plan.stage(glue.sources[0]) if glue.sources[0] in ids else None
    if not isinstance(mill, Mill) or set(plain) - {"kind", "skip", "across", "also"}:
        return None
    return mill, glue, flat


def _light(strip: StripSpec) -> float:
    return lightness(LIBRARY[strip.wood].oiled) if strip.wood in LIBRARY else 0.0
