"""What the checks say of a board, with what someone has let stand."""

from __future__ import annotations

from dataclasses import replace

from laberinto.core.rules import Check, check
from laberinto.core.simulate import Simulation
from laberinto.store import Acknowledgements

from . import present


def findings(board_id: int, sim: Simulation) -> list[Check]:
    """All findings, worst first. One that says something else than when it was let stand speaks again."""
    stand = Acknowledgements(present.store().engine, board_id).all()
    return [
        replace(one, let_stand=stand[one.key].reason) if one.key in stand and stand[one.key].why == one.why else one
        for one in check(sim, present.lengths(), present.shop())
    ]
