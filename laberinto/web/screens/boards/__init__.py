"""All boards, and opening a plan file."""

from .routes import bp

__all__ = ["bp"]
