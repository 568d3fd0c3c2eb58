"""Checks: what will go wrong, said before it does. One theme a module, one line a rule in ``RULES``."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace

from ..extensions import Registry
from ..plan.simulate import Simulation
from ..shop import Shop
from ..units import Lengths
from ..wanted import go_on
from . import arrangement, cuts, glueing, machines, meeting, rough, sanding, shaping, stock, woods
from .model import Check, Remedy, Severity, Show

Rule = Callable[[Simulation, Show, Shop], Iterable[Check]]

RULES: Registry[Rule] = Registry(
    "rules",
    {
        "palindromes": arrangement.palindromes,
        "mixed_grain": arrangement.mixed_grain,
        "misses": cuts.misses,
        "slivers": cuts.slivers,
        "short_remainder": stock.short_remainder,
        "long_remainder": stock.long_remainder,
        "unlike_kerf": stock.unlike_kerf,
        "very_large": stock.very_large,
        "much_off": stock.much_off,
        "wide_strips": stock.wide_strips,
        "too_deep_a_cut": stock.too_deep_a_cut,
        "short_for_a_profile": stock.short_for_a_profile,
        "thin_strips": stock.thin_strips,
        "end_grain_in_planer": stock.end_grain_in_planer,
        "little_to_flatten": stock.little_to_flatten,
        "nothing_trimmed": stock.nothing_trimmed,
        "too_wide": machines.too_wide,
        "too_short": machines.too_short,
        "too_thin": machines.too_thin,
        "too_wide_for_the_sled": machines.too_wide_for_the_sled,
        "too_high_to_resaw": machines.too_high_to_resaw,
        "too_short_to_joint": machines.too_short_to_joint,
        "no_such_bit": machines.no_such_bit,
        "open_time": glueing.open_time,
        "cold": glueing.cold,
        "clamps": glueing.clamps,
        "same_wood": glueing.same_wood,
        "unequal": meeting.unequal,
        "no_square": meeting.no_square,
        "ragged": meeting.ragged,
        "shallow_guard": shaping.shallow_guard,
        "deep_cove": shaping.deep_cove,
        "hollow_for_its_knife": shaping.hollow_for_its_knife,
        "well_above_groove": shaping.well_above_groove,
        "groove_into_cove": shaping.groove_into_cove,
        "screw_into_groove": shaping.screw_into_groove,
        "unworked": rough.unworked,
        "staves_cut_up": rough.staves_cut_up,
        "round_under_the_saw": rough.round_under_the_saw,
        "heart_in_the_board": rough.heart_in_the_board,
        "skipped_grit": sanding.skipped_grit,
        "too_fine_a_start": sanding.too_fine_a_start,
        "order": shaping.order,
        "wood_cautions": woods.wood_cautions,
        "nut_oils": woods.nut_oils,
        "curing": woods.curing,
    },
)
"""By the name that findings are known by for as long as boards are kept: a function may be called otherwise, its name here
stays."""

_RANK = {severity: rank for rank, severity in enumerate(Severity)}


def check(sim: Simulation, lengths: Lengths | None = None, shop: Shop | None = None) -> list[Check]:
    """All findings for a simulated plan in a shop, worst first, with lengths as ``lengths`` shows them."""
    asked = lengths or Lengths(), shop or Shop()
    return list(sim.memo.latest(_check, sim, *asked, key=asked))


def _check(sim: Simulation, lengths: Lengths, shop: Shop) -> list[Check]:
    show = Show(lengths)
    found: list[Check] = []
    for name, rule in RULES.items():
        go_on()
        found += [replace(finding, rule=name, nth=nth) for nth, finding in _counted(rule(sim, show, shop))]
    return sorted(found, key=lambda c: (_RANK[c.severity], sim.plan.index(c.stage)))


def _counted(findings: Iterable[Check]) -> Iterator[tuple[int, Check]]:
    """Findings of one rule, with how many before each are about the same: two that would go by one name are told apart."""
    before: Counter[tuple[str, str]] = Counter()
    for finding in findings:
        about = finding.stage, finding.about
        yield before[about], finding
        before[about] += 1


__all__ = ["RULES", "Check", "Remedy", "Severity", "check"]
