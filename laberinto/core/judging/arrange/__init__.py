"""Arranging slices: what their edges show, what an arrangement is to be good at, and the search for the best."""

from .aims import FACES, NEIGHBOURS, Aim, Wish
from .search import Candidate, Progress, arrange_for_me

__all__ = ["FACES", "NEIGHBOURS", "Aim", "Candidate", "Progress", "Wish", "arrange_for_me"]
