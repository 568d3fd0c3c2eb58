"""Edits: pure functions from a plan to a changed plan, each with the change in words."""

from . import rows, strips
from .model import Edit
from .parameters import set_parameters, shown

__all__ = ["Edit", "rows", "set_parameters", "shown", "strips"]
