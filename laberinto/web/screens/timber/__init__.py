"""The timber store: what lies there, adding by typed lines or from a file, and one lot with its faults and photo."""

from .routes import bp

__all__ = ["bp"]
