"""Orders: what is promised to whom, what it comes to, and when it can be ready."""

from . import quote, routes  # noqa: F401  (their routes belong to it)
from .blueprint import bp

__all__ = ["bp"]
