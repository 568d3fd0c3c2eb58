"""Sentences on what lies where: the order of pieces, how they are turned and shifted, which joints stay dry."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby, pairwise
from typing import TypeVar

from ..analysis import marks
from ..analysis.marks import in_order, runs, these
from ..analysis.names import Name
from ..geometry.rotations import Turn
from ..instructions import GlueUp, Laid
from ..stages import Across
from .model import Context
from .parts import capital

T = TypeVar("T")

MOST_RULE = 6
"""A row of turns or shifts that repeats after at most so many is told as a rule; a longer one place by place."""

FROM = {Across.WIDTH: "from the left", Across.LENGTH: "from the far side", Across.THICKNESS: "from below"}
_AGAINST = {
    Across.WIDTH: ("away from you", "towards you"),
    Across.LENGTH: ("to the right", "to the left"),
    Across.THICKNESS: ("to the right", "to the left"),
}
PLAIN = Turn().name


def order(told: GlueUp) -> Iterator[str]:
    """In which order pieces lie: by runs of marks, piece by piece where no run is kept."""
    yield f"{capital(FROM[told.across])}: {in_turn([piece.name for piece in told.pieces])}."
    if told.spare:
        yield f"Left over: {these(told.spare)}. Keep them: a spare mends what goes wrong."


def in_turn(names: Sequence[Name]) -> str:
    """Names in the order given; marks that follow one another are written together."""
    words = []
    for noun, group in groupby(names, key=lambda name: name.noun):
        mine = [name.mark for name in group]
        if mine == [""]:
            words.append(f"the {noun}")
        elif (
            len(mine) > 1
            and all(mark[-1:].isdigit() for mark in mine)
            and mine == sorted(mine, key=in_order)
            and len(set(mine)) == len(mine)
        ):
            words.append(f"{noun}s {runs(mine)}")
        else:
            words.append(f"{noun}{'s' if len(mine) > 1 else ''} {', '.join(mine)}")
    if len(words) > 2 * MOST_RULE and (rule := repeats([name.noun for name in names])):
        # lots that alternate: their nouns as a rule, each in its own order
        lots = {noun: [name for name in names if name.noun == noun] for noun in dict.fromkeys(rule)}
        return f"{', '.join(rule)}, over and over: {'; '.join(in_turn(lot) for lot in lots.values())}"
    return ", ".join(words)


def turned(c: Context, pieces: Sequence[Laid]) -> Iterator[str]:
    """How pieces are turned where not all lie as they came."""
    turns = [piece.turn for piece in pieces]
    if all(turn == PLAIN for turn in turns):
        return
    if len(set(turns)) == 1:
        yield f"{'Turn it' if len(turns) == 1 else 'Turn each'}: {turns[0]}."
        return
    if rule := repeats(turns):
        yield f"Turn one after the other: {', '.join(rule)}; then again from the first."
    for turn in dict.fromkeys(turns):
        if turn != PLAIN:
            yield f"{capital(turn)}: {these(piece.name for piece in pieces if piece.turn == turn)}."


def strips_turned(c: Context, names: Sequence[Name]) -> Iterator[str]:
    """Strips that were milled to lie otherwise than as sawn."""
    known, words = marks.ends(c.sim), marks.turned(c.sim)
    here = {name.mark for name in names if name.noun == "strip"}
    by_turn: dict[str, list[str]] = {}
    for strip, turn in words.items():
        if known[strip] in here:
            by_turn.setdefault(turn, []).append(known[strip])
    for turn, mine in by_turn.items():
        yield f"{capital(turn)}: strip{'s' if len(mine) != 1 else ''} {runs(mine)}."


def shifted(c: Context, told: GlueUp) -> Iterator[str]:
    """How far pieces are shifted along the joint, where any is."""
    away, back = _AGAINST[told.across]
    by = [round(piece.shift, 6) + 0.0 for piece in told.pieces]
    if not any(by):
        return

    def words(mm: float, times: int = 1) -> str:
        return f"{c.mm(abs(mm), times)} {away if mm > 0 else back}" if mm else "not at all"

    steps = {round(b - a, 6) for a, b in pairwise(by)}
    if len(steps) == 1 and not by[0]:
        yield f"Shift each {words(steps.pop(), len(by))} of the one before it; the first stays."
    elif rule := repeats(by):
        yield f"Shift one after the other: {', '.join(map(words, rule))}; then again from the first."
    else:
        for mm in sorted(set(by)):
            if mm:
                yield f"Shift {words(mm)}: {these(piece.name for piece, at in zip(told.pieces, by, strict=True) if at == mm)}."


def dry(told: GlueUp) -> Iterator[str]:
    """Which joints get no glue, by the two pieces they lie between, and what comes of it."""
    if not told.dry:
        return
    names = [piece.name for piece in told.pieces]
    sizes = [b - a for a, b in pairwise([0, *told.dry, len(names)])]
    each = f" of {sizes[0]}" if len(set(sizes)) == 1 else ""
    joints = ", ".join(f"{names[at - 1].mark}|{names[at].mark}" for at in told.dry)
    yield (
        f"No glue between {joints}: put paper or tape there, so that {len(sizes)} pieces{each} come out of the one "
        "clamp-up."
    )


def repeats(row: Sequence[T]) -> Sequence[T]:
    """The beginning of a row that it repeats to its end, or nothing where that is long."""
    for length in range(2, min(MOST_RULE, len(row) // 2) + 1):
        if all(item == row[at % length] for at, item in enumerate(row)):
            return row[:length]
    return ()
