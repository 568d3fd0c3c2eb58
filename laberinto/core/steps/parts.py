"""Sentences that several writers share."""

from __future__ import annotations

from ..stages import Spread
from ..units import plural
from .model import Context


def glue_line(c: Context, spread: Spread, joints: int, grams: float) -> str:
    """How many joints and how much glue."""
    return f"{plural(joints, 'joint')} in all; about {c.lengths.amount(grams, 'g')} of {c.shop.glue.label}, spread on {spread.label}."


def capital(words: str) -> str:
    """The words as the start of a sentence; the rest stays as it is."""
    return words[:1].upper() + words[1:]
