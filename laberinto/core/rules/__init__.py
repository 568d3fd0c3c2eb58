"""Checks: what will go wrong, said before it does. One theme a module, one line a rule in ``RULES``."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from ..shop import Shop
from ..simulate import Simulation
from ..units import Lengths
from . import arrangement, cuts, glueing, machines, meeting, shaping, stock, woods
from .model import Check, Remedy, Severity, Show

Rule = Callable[[Simulation, Show, Shop], Iterable[Check]]

RULES: tuple[Rule, ...] = (
    arrangement.palindromes,
    arrangement.mixed_grain,
    cuts.misses,
    cuts.slivers,
    stock.short_remainder,
    stock.thin_strips,
    stock.end_grain_in_planer,
    stock.little_to_flatten,
    stock.nothing_trimmed,
    machines.too_wide,
    machines.too_short,
    machines.too_thin,
    machines.too_wide_for_the_sled,
    machines.too_high_to_resaw,
    machines.too_short_to_joint,
    machines.no_such_bit,
    glueing.open_time,
    glueing.clamps,
    glueing.same_wood,
    meeting.unequal,
    meeting.no_square,
    meeting.ragged,
    shaping.deep_cove,
    shaping.well_above_groove,
    shaping.groove_into_cove,
    shaping.screw_into_groove,
    shaping.order,
    woods.wood_cautions,
    woods.nut_oils,
)

_RANK = {severity: rank for rank, severity in enumerate(Severity)}


def check(sim: Simulation, lengths: Lengths | None = None, shop: Shop | None = None) -> list[Check]:
    """All findings for a simulated plan in a shop, worst first, with lengths as ``lengths`` shows them."""
    show, shop = (lengths or Lengths()).show, shop or Shop()
    found = [replace(finding, rule=rule.__name__) for rule in RULES for finding in rule(sim, show, shop)]
    return sorted(found, key=lambda c: (_RANK[c.severity], sim.plan.index(c.stage)))


__all__ = ["RULES", "Check", "Remedy", "Severity", "check"]
