"""Laberinto: design, plan and build end-grain cutting boards.

What other programs may count on is named in ``__all__`` and shown in docs/python.md; everything else may change.
"""

from __future__ import annotations

import os
from importlib import import_module
from typing import TYPE_CHECKING, Any

__version__ = "0.1.0"

# Cells are many small products: threads inside one of them cost more than they gain, and waitress has its own.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

if TYPE_CHECKING:
    from .core.analysis.figures import figures
    from .core.errors import LaberintoError
    from .core.geometry.faces import Side, face_of
    from .core.instructions import instructions
    from .core.patterns import FAMILIES, Family
    from .core.plan.model import Plan, read_plan
    from .core.plan.simulate import Simulation, simulate
    from .core.rules import check
    from .core.shop import Shop
    from .core.steps import steps
    from .core.units import Lengths

_HOME = {
    "FAMILIES": "core.patterns", "Family": "core.patterns", "LaberintoError": "core.errors", "Lengths": "core.units",
    "Plan": "core.plan.model", "Shop": "core.shop", "Side": "core.geometry.faces", "Simulation": "core.plan.simulate",
    "check": "core.rules", "face_of": "core.geometry.faces", "figures": "core.analysis.figures",
    "instructions": "core.instructions",
    "read_plan": "core.plan.model", "simulate": "core.plan.simulate", "steps": "core.steps",
}  # fmt: skip
"""Where each name lives. They are fetched when they are asked for, so that a command that needs none starts at once."""

__all__ = [
    "FAMILIES", "Family", "LaberintoError", "Lengths", "Plan", "Shop", "Side", "Simulation", "check", "face_of",
    "figures", "instructions", "read_plan", "simulate", "steps",
]  # fmt: skip


def __getattr__(name: str) -> Any:
    if name in _HOME:
        return getattr(import_module(f"{__name__}.{_HOME[name]}"), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
