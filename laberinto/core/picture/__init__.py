"""Boards from a picture: a grid of woods, the panels whose slices make it, and the least change that saves a panel."""

from .fewer import Fewer, with_at_most
from .grid import LETTERS, Picture
from .panels import Panel, panels

__all__ = ["LETTERS", "Fewer", "Panel", "Picture", "panels", "with_at_most"]
