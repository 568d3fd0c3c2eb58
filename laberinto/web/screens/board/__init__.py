"""The board's page: its thread, its drawing, and the plan edited beside it."""

from . import history, pictures, routes
from .answer import bp

__all__ = ["bp", "history", "pictures", "routes"]
