"""Judging a board: how its face scores, the best arrangement of its slices, and whether to cut it again."""

from . import again, arranging, routes
from .routes import bp

__all__ = ["again", "arranging", "bp", "routes"]
