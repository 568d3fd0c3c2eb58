"""The board's page: its thread, its drawing, and the plan edited beside it."""

from . import history, keeping, pictures, routes
from .answer import bp

__all__ = ["bp", "history", "keeping", "pictures", "routes"]
