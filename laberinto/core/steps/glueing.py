"""Steps of a glue-up: what lies where and how it is turned and shifted, which joints stay dry, clamps and glue."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby
from typing import TypeVar

from ..analysis import marks
from ..analysis.glueups import clamps_for, rests
from ..analysis.marks import ends, runs
from ..geometry.rotations import Turn
from ..plan.model import OFFCUT
from ..stages import Across, Arrange, Glue, Mill, Sawing
from . import cautions as say
from .model import Context, Map, Step
from .parts import capital, glue_line

T = TypeVar("T")

MOST_RULE = 6
"""A row of turns or shifts that repeats after at most so many is told as a rule; a longer one place by place."""

_FROM = {Across.WIDTH: "from the left", Across.LENGTH: "from the far side", Across.THICKNESS: "from below"}
_AFTER = {Across.WIDTH: "behind", Across.LENGTH: "on the near side of", Across.THICKNESS: "above"}
_AGAINST = {
    Across.WIDTH: ("away from you", "towards you"),
    Across.LENGTH: ("to the right", "to the left"),
    Across.THICKNESS: ("to the right", "to the left"),
}


def glue(c: Context) -> Iterator[Step]:
    """Steps of a glue-up: dry fit, spread, clamp, rest."""
    stage = c.result.stage
    assert isinstance(stage, Glue)
    key, pieces, made = stage.id, len(c.result.outcome.turns), len(c.result.pieces)
    rows = stage.across is Across.LENGTH
    what = _what(c, stage)
    yield Step(
        f"{key}.dry", key, f"Dry fit the {what}",
        (
            f"Lay all {pieces} {what}, {_FROM[stage.across]} on, and clamp them without glue.",
            *order(c, stage), *turned(c), *shifted(c, stage), *dry(c, stage),
            "Check against the map: order, turns, and that no joint shows light. Set clamps and cauls ready."
            if not rows
            else "Sight along every line that must meet. A row slid by the clamps is seen for ever.",
        ),
    )  # fmt: skip
    clamps = clamps_for(c.result, c.shop)
    whole = (
        f"{made} pieces"
        if made > 1
        else {"length": "the board", "width": "the panel", "thickness": "the stack"}[stage.across]
    )
    yield Step(
        f"{key}.glue", key, f"Glue up {whole}",
        (
            *dry(c, stage),
            glue_line(c, stage),
            f"At least {clamps} clamp{'s' if clamps != 1 else ''}, one every {c.mm(c.shop.clamp_spacing)}, alternately above and below, cauls wrapped in tape.",
            "Scrape squeeze-out when it is rubbery, after 1 to 2 hours.",
        ),
        (say.GLUE,), wait_hours=stage.clamp_hours, map=Map.ROWS if rows else Map.PANEL,
    )  # fmt: skip
    if rest := rests(c.sim.plan, stage):
        yield Step(
            f"{key}.rest", key, "Let it rest off the clamps",
            (
                "Two days to a week, standing on edge with air on both faces.",
                "Glue moisture leaves, and any warp shows before it is flattened away.",
            ),
            wait_hours=rest,
        )  # fmt: skip


def _what(c: Context, stage: Glue) -> str:
    """What the pieces are called."""
    if stage.across is Across.LENGTH:
        return "rows"
    if stage.across is Across.THICKNESS:
        return "layers"
    return "strips" if all(isinstance(_made_by(c, name), Mill | Sawing) for name in stage.sources) else "pieces"


def _made_by(c: Context, source: str) -> object:
    return c.sim.plan.stage(source.removesuffix(OFFCUT))


def order(c: Context, stage: Glue) -> Iterator[str]:
    """Where the pieces come from, and in which order; nothing where they lie as they came."""
    counts = dict(zip(stage.sources, c.sim.slices(stage.id), strict=True))
    laid = stage.positions(counts)
    names = {
        name: f"“{name.removesuffix(OFFCUT).replace('-', ' ')}”{' offcuts' if name.endswith(OFFCUT) else ''}"
        for name in counts
    }
    if stage.sequence:
        yield f"Take them in turn from {', '.join(names[name] for name in stage.sequence)}, over and over, each lot in its order."
    elif len(counts) > 1:
        yield f"First those from {', then those from '.join(names.values())}."
    if stage.order or stage.shuffle is not None or stage.reverse:
        row = [_mark(c, name, number, len(counts) > 1, names[name]) for name, number in laid]
        yield f"In this order {_FROM[stage.across]}: {', '.join(row)}."


def _mark(c: Context, source: str, number: int, several: bool, name: str) -> str:
    """What a piece goes by: what stands on the end of a strip, else its number among those it came with."""
    if isinstance(_made_by(c, source), Mill):
        return ends(c.sim)[c.sim[source].outcome.strips[number].number]
    if isinstance(made := _made_by(c, source), Arrange):
        counts = c.sim.slices(made.id)
        return made.name(made.rows(counts)[number][0], counts)
    return f"{name} {number + 1}" if several else str(number + 1)


def turned(c: Context) -> Iterator[str]:
    """How the pieces are turned where not all lie as they came, first the strips of a lamination by their marks."""
    yield from _strips_turned(c)
    turns = c.result.outcome.turns
    plain = Turn().name
    if all(turn == plain for turn in turns):
        return
    if len(set(turns)) == 1:
        yield f"{'Turn it' if len(turns) == 1 else 'Turn each'}: {turns[0]}."
    elif rule := _repeats(turns):
        yield f"Turn one after the other: {', '.join(rule)}; then again from the first."
    else:
        for turn, places in _places(turns):
            if turn != plain:
                yield f"{capital(turn)}: {places}, counted as they lie."


def _strips_turned(c: Context) -> Iterator[str]:
    known, words = ends(c.sim), marks.turned(c.sim)
    by_turn: dict[str, list[str]] = {}
    for source in c.result.stage.sources:
        if isinstance(_made_by(c, source), Mill):
            for strip in c.sim[source].outcome.strips:
                if strip.number in words:
                    by_turn.setdefault(words[strip.number], []).append(known[strip.number])
    for turn, mine in by_turn.items():
        yield f"{capital(turn)}: strip{'s' if len(mine) != 1 else ''} {runs(mine)}."


def shifted(c: Context, stage: Glue) -> Iterator[str]:
    """How far the pieces are shifted along the joint, where any is."""
    away, back = _AGAINST[stage.across]
    by = [round(stage.shift_at(at), 6) + 0.0 for at in range(len(c.result.outcome.turns))]
    if not any(by):
        return

    def told(mm: float) -> str:
        return f"{c.mm(abs(mm))} {away if mm > 0 else back}" if mm else "not at all"

    further = round(stage.stagger, 6)
    if further and not stage.shifts and not stage.shifted:
        yield f"Shift each {told(further)} of the one before it; the first stays."
    elif rule := _repeats(by):
        yield f"Shift one after the other: {', '.join(map(told, rule))}; then again from the first."
    else:
        for mm, places in _places(by):
            if mm:
                yield f"Shift {told(mm)}: {places}, counted as they lie."


def dry(c: Context, stage: Glue) -> Iterator[str]:
    """Which joints get no glue, by what stands before them on the map, and what comes of it."""
    pieces = len(c.result.outcome.turns)
    joints = sorted(joint for joint in set(stage.dry) if 0 < joint < pieces)
    if not joints:
        return
    sizes = [b - a for a, b in zip([0, *joints], [*joints, pieces], strict=True)]
    each = f" of {sizes[0]}" if len(set(sizes)) == 1 else ""
    named = marks.places(c.sim, c.result)
    before = runs(named[joint - 1] for joint in joints)
    yield (
        f"No glue {_AFTER[stage.across]} {'number' if len(joints) == 1 else 'numbers'} {before}: put paper or tape there, so that "
        f"{len(sizes)} pieces{each} come out of the one clamp-up."
    )


def _repeats(row: Sequence[T]) -> Sequence[T]:
    """The beginning of a row that it repeats to its end, or nothing where that is long."""
    for length in range(2, min(MOST_RULE, len(row) // 2) + 1):
        if all(item == row[at % length] for at, item in enumerate(row)):
            return row[:length]
    return ()


def _places(row: Sequence[T]) -> Iterator[tuple[T, str]]:
    """Each thing in a row with the places where it is, from 1."""
    places = sorted(range(len(row)), key=lambda at: (str(row[at]), at))
    for thing, group in groupby(places, key=lambda at: row[at]):
        yield thing, runs(str(at + 1) for at in group)
