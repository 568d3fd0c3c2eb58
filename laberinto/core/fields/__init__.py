"""Parameters as forms have them: what is declared of each, and its text."""

from __future__ import annotations

from .spec import Spec, rounded, specs
from .stepping import further, stepped
from .text import parse, shown

__all__ = ["Spec", "further", "parse", "rounded", "shown", "specs", "stepped"]
