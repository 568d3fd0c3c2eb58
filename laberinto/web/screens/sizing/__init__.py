"""Sizes both ways: the wood for a board of a wanted size, and the boards that the wood at hand will make."""

from .routes import bp

__all__ = ["bp"]
