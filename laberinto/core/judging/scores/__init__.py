"""Figures that say how a face looks: does it repeat, do two of one wood touch, where does the eye stop."""

from .faces import SCORES, disorder_of
from .model import Score, Scored, Shown, scored_stage


def scores(on: Scored) -> list[Score]:
    """Every score of a face."""
    return [score(on) for score in SCORES.values()]


__all__ = ["SCORES", "Score", "Scored", "Shown", "disorder_of", "scored_stage", "scores"]
