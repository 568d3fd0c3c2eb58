"""Edits: pure functions from a plan to a changed plan, each with the change in words."""

from ..fields import shown
from . import again, lamination, pattern, rows, stages, strips, woods
from .model import Edit
from .parameters import set_parameters

__all__ = ["Edit", "again", "lamination", "pattern", "rows", "set_parameters", "shown", "stages", "strips", "woods"]
