"""A board's wood: what it asks for, whether it is there, how it is cut, and what must be bought."""

from .routes import bp

__all__ = ["bp"]
