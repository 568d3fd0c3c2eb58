"""The calendar: today, the weeks, and why something cannot be ready in time."""

from . import moving, routes, shared, why
from .blueprint import bp

__all__ = ["bp", "moving", "routes", "shared", "why"]
