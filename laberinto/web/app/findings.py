"""What the checks say of a board, with what someone has let stand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from laberinto.core.plan.simulate import Simulation
from laberinto.core.rules import Check, check
from laberinto.core.units import Lengths

from . import present


@dataclass(frozen=True, slots=True)
class Said:
    """A finding as this maker reads it, and what it says in millimetres, by which it is known again."""

    check: Check
    plain: str


def said(board_id: int, sim: Simulation) -> list[Said]:
    """All findings, worst first. One that says something else than when it was let stand speaks again."""
    how, shop = present.lengths(), present.shop()
    found = check(sim, how, shop)
    plain = found if how == Lengths() else check(sim, Lengths(), shop)
    stand = present.store().acknowledged(board_id).all()
    out = []
    for one, same in zip(found, plain, strict=True):
        kept = stand.get(one.key)
        left = kept is not None and kept.why == same.why
        out.append(Said(replace(one, let_stand=kept.reason) if kept and left else one, same.why))
    return out


def findings(board_id: int, sim: Simulation) -> list[Check]:
    """The same, without what is only needed to let one stand."""
    return [one.check for one in said(board_id, sim)]
