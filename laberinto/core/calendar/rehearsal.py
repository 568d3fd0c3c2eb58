"""A glue-up gone through without glue: its pieces in order, by when each must lie, and what the time it took says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..instructions import GlueUp
from ..shop import Shop


@dataclass(frozen=True, slots=True)
class Beat:
    """One piece to lay: what it is called, whether the joint before it gets glue, and by which second it must lie for
    the glue to stay open to the end."""

    name: str
    glued: bool
    by: float


@dataclass(frozen=True, slots=True)
class Score:
    """What a rehearsal took: seconds until the last piece lay and until the clamps were on; the seconds a glued joint
    took, and how much of the open and the closed time was left, seconds (less than nothing where it was too slow)."""

    laid: float
    clamped: float
    joint: float
    open_left: float
    closed_left: float

    @property
    def in_time(self) -> bool:
        """Whether it could be done with glue."""
        return self.open_left >= 0 and self.closed_left >= 0


def beats(told: GlueUp, shop: Shop) -> list[Beat]:
    """The pieces of a glue-up in order. The first lies before anything is spread; the others share the open time, each
    glued joint as long as any other, and a dry one none of it."""
    dry = set(told.dry)
    glued = [at not in dry for at in range(1, len(told.pieces))]
    each = shop.open_now * 60 / max(sum(glued), 1)
    out = [Beat(f"{told.pieces[0].name}", glued=False, by=0.0)]
    spread = 0
    for piece, with_glue in zip(told.pieces[1:], glued, strict=True):
        spread += with_glue
        out.append(Beat(f"{piece.name}", with_glue, spread * each))
    return out


def score(lying: Sequence[Beat], laid: float, clamped: float, shop: Shop) -> Score:
    """What it says that the last piece lay after so many seconds, and the clamps were on after so many."""
    joints = max(sum(beat.glued for beat in lying), 1)
    return Score(laid, clamped, laid / joints, shop.open_now * 60 - laid, shop.closed_now * 60 - clamped)
