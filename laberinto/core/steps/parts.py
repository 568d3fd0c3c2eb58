"""Sentences that several writers share."""

from __future__ import annotations

from ..analysis.glueups import glue_grams
from ..stages import Gluing
from .model import Context


def glue_line(c: Context, stage: Gluing) -> str:
    """How many joints and how much glue."""
    joints = len(c.result.outcome.joints)
    grams = glue_grams(c.sim, stage.id)
    return f"{joints} joint{'s' if joints != 1 else ''} in all; about {c.lengths.amount(grams, 'g')} of waterproof PVA glue, spread on {stage.spread.label}."


def capital(words: str) -> str:
    """The words as the start of a sentence; the rest stays as it is."""
    return words[:1].upper() + words[1:]
