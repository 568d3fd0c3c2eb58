"""A new board: the gallery of pattern families, and each family's parameters with its face beside them."""

from .routes import bp

__all__ = ["bp"]
