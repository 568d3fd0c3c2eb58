"""The cut plan: which piece of the store becomes which strips, in two stages: crosscut to sections, then ripped."""

from .model import Aim, CutPlan, Piece, PlankCut, Rest, Saw, Section, Stock
from .solve import cut

__all__ = ["Aim", "CutPlan", "Piece", "PlankCut", "Rest", "Saw", "Section", "Stock", "cut"]
