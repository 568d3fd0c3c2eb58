"""Checks: what will go wrong, said before it does. One theme a module, one line a rule in ``RULES``."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ..simulate import Simulation
from ..units import Lengths
from . import arrangement, cuts, stock, woods
from .model import Check, Severity, Show

RULES: tuple[Callable[[Simulation, Show], Iterable[Check]], ...] = (
    arrangement.palindromes,
    arrangement.mixed_grain,
    cuts.misses,
    cuts.slivers,
    stock.short_remainder,
    stock.thin_strips,
    stock.too_wide_to_plane,
    stock.end_grain_in_planer,
    stock.little_to_flatten,
    stock.nothing_trimmed,
    woods.wood_cautions,
)

_RANK = {severity: rank for rank, severity in enumerate(Severity)}


def check(sim: Simulation, lengths: Lengths | None = None) -> list[Check]:
    """All findings for a simulated plan, worst first, with lengths as ``lengths`` shows them."""
    show = (lengths or Lengths()).show
    found = [finding for rule in RULES for finding in rule(sim, show)]
    return sorted(found, key=lambda c: (_RANK[c.severity], sim.plan.index(c.stage)))


__all__ = ["RULES", "Check", "Severity", "check"]
