"""The board's page: its thread, its drawing, and the plan edited beside it."""

from . import cut, history, keeping, pictures, routes
from .answer import bp

__all__ = ["bp", "cut", "history", "keeping", "pictures", "routes"]
