"""A board from a picture: the grid to paint on, and what makes it."""

from . import fewer, result
from .routes import bp

__all__ = ["bp", "fewer", "result"]
