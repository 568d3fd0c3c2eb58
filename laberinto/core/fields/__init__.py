"""Parameters as forms have them: what is declared of each, and its text."""

from __future__ import annotations

from .spec import Spec, rounded, specs
from .text import parse, shown

__all__ = ["Spec", "parse", "rounded", "shown", "specs"]
