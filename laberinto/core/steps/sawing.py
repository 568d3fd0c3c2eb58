"""Steps at the saw: rips, re-saws, crosscuts and sections, with blade, fence and stop as they are set."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from itertools import groupby

import numpy as np

from ..analysis.marks import these
from ..analysis.names import Name
from ..instructions import Saw, Sawn, SawSection, Sectioned
from ..solid import Floats
from ..stages import Profile
from ..units import degrees, plural
from . import cautions as say
from .model import Context, Map, Step
from .parts import capital

LEVEL = 1e-6
"""Corners this near to each other, mm, are one."""

NOTHING = 0.05
"""A remainder below this, mm, is none."""

THIN = 15.0
"""A strip no wider than this, mm, is ripped so that it falls on the free side."""

SLICING = {
    "sled": "On the sled, panel tight to its fence. The stop sits on the sled's own fence and travels with the slice; never a fence or "
    "stop of the saw on that side.",
    "band": "On the band saw against the mitre gauge and a stop; its marks come off when the board is flattened.",
    "track": "With the mitre or track saw: clamp the panel, support the slice, and let the blade stop before it is lifted.",
}
TEAR_OUT = {
    "strip": "Clamp a sacrificial strip behind the edge where the blade leaves.",
    "chamfer": "Chamfer the edge where the blade leaves before the cut.",
    "back-cut": "The edge where the blade leaves may tear; it is trimmed away later.",
}
_BEGINS = ("left edge", "near end", "underside")


def crosscut(c: Context) -> Iterator[Step]:
    """Steps of squaring an end and cutting slices."""
    (told,) = c.does
    assert isinstance(told, Saw)
    key, width = told.stage, told.pieces[0].widths[0]
    cuts = max(len(piece.widths) for piece in told.pieces)
    set_to = tuple(blade(told))
    askew = (say.ANGLED,) if told.angled else ()
    if told.first:
        check = "It stands at the blade's angle." if told.angled else "Check it with a square before going on."
        yield Step(
            f"{key}.square", key, "Cut the first end at the angle" if told.angled else f"Square one end{' of each' if len(told.pieces) > 1 else ''}",
            (*set_to, f"{first_cut(c, told)} {check}"), (say.SAW, say.CROSSCUT, *askew),
        )  # fmt: skip
    every = sum(len(piece.widths) for piece in told.pieces)
    each = "; ".join(
        f"{plural(len(widths), 'cut')}{' of each' if len(group) > 1 else ''} of {these(piece.name for piece in group)}"
        for widths, group in alike(told.pieces)
    )
    yield Step(
        f"{key}.cut", key, f"Cut {plural(every, 'slice')} to a stop",
        (
            *(set_to if not told.first else ()),
            f"Stop block {c.mm(width, cuts)} from the blade; the near end, freshly cut each time, goes against it. {capital(each)}; the kerf is {c.mm(told.kerf, cuts)}.",
            *_in_turn(c, told),
            *left_over(c, told),
            SLICING[c.shop.slicing_saw],
            TEAR_OUT[c.shop.tear_out],
            f"Mark each on its upper side as it comes off: {_makes(told.pieces)}, with an arrow to the near end.",
            *kept(c, told.offcuts),
            *squared(told),
        ),
        (say.SAW, say.CROSSCUT, *askew), c.lengths.set_to(width, cuts), "Stop", width, "slice", map=Map.CUTS, does=c.does,
    )  # fmt: skip


def _in_turn(c: Context, told: Saw) -> Iterator[str]:
    """Slices that are not all alike."""
    if len(told.widths) > 1:
        widths = ", ".join(c.mm(width) for width in told.pieces[0].widths)
        yield f"They are not all alike, so the stop moves: {widths}, in this order."


def rip(c: Context) -> Iterator[Step]:
    """Steps of a rip or a re-saw."""
    (told,) = c.does
    assert isinstance(told, Saw)
    upright, single = told.axis == 2, len(told.widths) == 1
    every = sum(len(piece.widths) for piece in told.pieces)
    yield Step(
        f"{told.stage}.saw", told.stage, c.result.stage.verb,
        (
            f"{plural(every, 'piece')} from {these(piece.name for piece in told.pieces)}.",
            *blade(told),
            *((first_cut(c, told),) if told.first else ()),
            *_at_fences(c, told),
            f"Each cut takes {c.mm(told.kerf, max(len(piece.widths) for piece in told.pieces))} of kerf.",
            *along_the_fence(told),
            *left_over(c, told),
            f"Mark the near ends as they come off: {_makes(told.pieces)}.",
            *kept(c, told.offcuts),
            *squared(told),
        ),
        (say.RESAW,) if upright else (say.SAW, say.RIP, *((say.ANGLED,) if told.angled else ())),
        c.lengths.set_to(told.widths[0], every) if single else "", ("Stop" if by_stop(told) else "Fence") if single else "",
        told.widths[0] if single else None, "thickness" if upright else "width", map=Map.CUTS, does=c.does,
    )  # fmt: skip


def by_stop(told: Saw) -> bool:
    """Whether a stop gives the width: on a carriage, and where what is cut falls on the side without a fence."""
    thin = told.axis == 0 and min(told.widths) <= THIN
    return bool(told.skew) or thin or told.bevel > 0


def along_the_fence(told: Saw) -> Iterator[str]:
    """Which edge runs where. A tilted blade leans away from the fence, so that nothing is trapped beneath it."""
    begins = _BEGINS[told.axis]
    if told.skew:
        yield f"On a carriage or in a taper jig, against a stop that gives the width; work from the {begins}."
    elif by_stop(told):
        leans = ", the side the blade leans away from," if told.bevel else ""
        yield (
            f"The fence stands on the right{leans} and a stop on the left gives the width: what is cut falls free there. "
            "Work from the left edge and move the fence after each cut."
        )
    else:
        high, leans = ("high " if told.axis == 2 else ""), ", which the blade leans away from" if told.bevel else ""
        yield f"The {begins}, freshly cut each time, runs along the {high}fence{leans}."


def _at_fences(c: Context, told: Saw) -> Iterator[str]:
    """The settings of the fence, for all pieces that are cut alike together."""
    where = "High fence" if told.axis == 2 else "Stop" if by_stop(told) else "Fence"
    for widths, group in alike(told.pieces):
        of = f" for {these(piece.name for piece in group)}" if len(group) < len(told.pieces) else ""
        if len(set(widths)) == 1:
            each = " of each" if len(group) > 1 else ""
            yield f"{where} at {c.mm(widths[0], len(widths))}{of}: {plural(len(widths), 'piece')}{each}."
        else:
            runs = [(width, len(list(same))) for width, same in groupby(widths)]
            settings = [c.mm(width, count) + (f" ({count} times)" if count > 1 else "") for width, count in runs]
            yield f"{where} in turn{of}: {', '.join(settings)}."


def alike(pieces: Sequence[Sawn]) -> list[tuple[tuple[float, ...], list[Sawn]]]:
    """Pieces that are cut into the same widths, together."""
    groups: dict[tuple[float, ...], list[Sawn]] = {}
    for piece in pieces:
        groups.setdefault(tuple(round(width, 6) for width in piece.widths), []).append(piece)
    return list(groups.items())


def _makes(pieces: Sequence[Sawn]) -> str:
    return these(name for piece in pieces for name in piece.makes)


def blade(told: Saw) -> Iterator[str]:
    """How the blade is set where it does not stand square."""
    set_to = []
    if told.skew:
        far = told.skew > 0
        end = ("its far end " + ("to the left" if far else "to the right")) if told.axis == 0 else (
            "its right end " + ("nearer to you" if far else "farther from you")
        )  # fmt: skip
        set_to.append(f"the cut {degrees(abs(told.skew))} from square, {end}")
    if told.bevel:
        to = ("the left", "you")[told.axis] if told.bevel > 0 else ("the right", "the far end")[told.axis]
        set_to.append(f"the blade {degrees(abs(told.bevel))} from upright, its top towards {to}")
    if set_to:
        yield f"Set {' and '.join(set_to)}; prove it on a scrap first."


def first_cut(c: Context, told: Saw) -> str:
    """What is cut off before the first piece."""
    from_where = ", from where the blade first cuts the whole of it" if told.angled else ""
    return f"First take {c.mm(told.first)} off the {_BEGINS[told.axis]}, kerf included{from_where}."


def left_over(c: Context, told: Saw) -> Iterator[str]:
    """What stays behind the last cut, least and most."""
    left = sorted(piece.left for piece in told.pieces)
    along = ", along the shorter edge" if told.angled else ""
    if left[-1] <= NOTHING:
        yield "Nothing is left over."
    elif left[-1] - left[0] < 2 * NOTHING:
        yield f"Remainder: {c.lengths.show(left[0])}{' of each' if len(left) > 1 else ''}{along}."
    else:
        yield f"Remainders: {c.lengths.show(left[0])} to {c.lengths.show(left[-1])}{along}."


def kept(c: Context, offcuts: Sequence[Name]) -> Iterator[str]:
    """What comes off and is wanted again."""
    if wanted := c.later(offcuts):
        yield f"Keep what comes off either end and mark it as it falls, piece by piece: {these(wanted)}."


def squared(told: Saw) -> Iterator[str]:
    """How pieces are laid after an angled cut."""
    if told.level and told.axis == 0:
        yield "Then turn each piece flat on the bench until its sawn edges run straight away from you."
    elif told.level:
        yield "Then turn each slice flat on the bench until its sawn ends lie square across."
    if told.plumb:
        yield f"Then {'roll' if told.axis == 0 else 'tip'} each piece until its sawn {'sides' if told.axis == 0 else 'ends'} stand plumb."


def section(c: Context) -> Iterator[Step]:
    """Steps of sawing strips to a section, one set of settings for all pieces of one size."""
    (told,) = c.does
    stage = c.result.stage
    assert isinstance(told, SawSection) and isinstance(stage, Profile)
    lines = []
    groups: dict[tuple[tuple[float, float], ...], list[Sectioned]] = {}
    for piece in told.pieces:
        groups.setdefault(tuple((round(x, 6), round(z, 6)) for x, z in piece.corners), []).append(piece)
    for group in groups.values():
        of = f"On {these(piece.name for piece in group)}: " if len(groups) > 1 else ""
        size = c.sim.taken(stage.sources[0]).cells.piece_sizes()[told.pieces.index(group[0])]
        lines += [
            of + line if at == 0 else line for at, line in enumerate(_corner_lines(c, told, group[0], size[[0, 2]]))
        ]
    yield Step(
        f"{stage.id}.saw", stage.id, f"Saw to the section: {stage.section.label}",
        (
            f"{plural(len(told.pieces), 'piece')}: {these(piece.name for piece in told.pieces)}.",
            *lines,
            f"Leaves {c.lengths.show_size(*c.result.size)} (width, length, thickness).",
            *kept(c, told.offcuts),
            "A bevel a hair off adds up joint by joint: prove the angle on a scrap, and keep the offcuts.",
        ),
        (say.SAW, say.RIP, say.ANGLED), map=Map.SECTION, does=c.does,
    )  # fmt: skip


def _corner_lines(c: Context, told: SawSection, piece: Sectioned, size: Floats) -> Iterator[str]:
    """Corners, cuts in their order with the blade's angle, and how the piece lies afterwards."""
    corners = np.array(piece.corners)
    at = [c.lengths.exact_size(*corner, times=len(told.pieces)) for corner in piece.corners]
    marked = "; ".join(f"{number} at {place}" for number, place in enumerate(at, 1))
    yield f"Mark its corners on the near end, across × up from the lower left: {marked}."
    cuts = [
        (f"from {k + 1} to {(k + 1) % len(at) + 1}", math.degrees(math.atan2(abs(across), abs(up))))
        for k, (across, up) in enumerate(np.roll(corners, -1, axis=0) - corners)
        if not _on_the_outside(corners[k], corners[(k + 1) % len(at)], size)
    ]
    count = f"{plural(len(cuts), 'cut')}"
    tilts = {round(tilt, 6) for _, tilt in cuts}
    if not cuts:
        yield "No side needs a cut."
    elif len(tilts) == 1:
        yield f"Saw along the line{'s' if len(cuts) != 1 else ''}, {count}, {tilted(tilts.pop())}; the kerf of {c.mm(told.kerf)} lies outside the line."
    else:
        yield f"Saw along the lines, {count}: {'; '.join(f'{where}, {tilted(tilt)}' for where, tilt in cuts)}; the kerf of {c.mm(told.kerf)} lies outside the line."
    if len(cuts) > 2:
        yield "Cut opposite sides one after the other, a flat side against the fence; where none is left, hold the piece in a cradle."
    if told.rest_on:
        yield f"Then lay each on the side from corner {told.rest_on} to {told.rest_on % len(at) + 1}."


STEEPEST = 45.0
"""Blades tilt no farther than this, degrees; beyond it the piece stands on its edge."""


def tilted(angle: float) -> str:
    """How the blade is set for a side that leans so far from upright, degrees."""
    if angle < 1e-6:
        return "the blade upright"
    if angle <= STEEPEST + 1e-9:
        return f"the blade {degrees(angle)} from upright"
    if angle > 90 - 1e-6:
        return "the piece on its edge and the blade upright"
    return f"{degrees(angle)} from upright, so with the piece on its edge and the blade at {degrees(90 - angle)}"


def _on_the_outside(a: Floats, b: Floats, size: Floats) -> bool:
    """Whether the side between two corners is a side of the piece itself, which needs no cut."""
    return bool(((np.abs(a - b) < LEVEL) & ((a < LEVEL) | (np.abs(a - size) < LEVEL))).any())
