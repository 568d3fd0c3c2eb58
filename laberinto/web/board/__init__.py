"""The board's page: its thread, its drawing, and the plan edited beside it."""

from .routes import bp

__all__ = ["bp"]
