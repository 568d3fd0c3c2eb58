"""All boards, and opening a plan file."""

from . import routes
from .blueprint import bp

__all__ = ["bp", "routes"]
