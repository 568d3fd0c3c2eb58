"""How much a board grows or shrinks in another room, by hand."""

from __future__ import annotations

import pytest

from laberinto.core.finish.balance import balance, shrinkage
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.movement import moisture


def test_a_board_shrinks_by_its_share_of_what_its_trees_would() -> None:
    """Half of tangential and radial, half beech and half elm, over 30 points from green to dry: from 12 % to what 35 %
    of humidity gives."""
    sim = simulate(Alternating(light="beech", dark="elm", strips=10, strip_width=30, slices=12, row=30).plan("Any"))
    mean = sum(LIBRARY[key].tangential + LIBRARY[key].radial for key in ("beech", "elm")) / 4
    assert shrinkage(sim) == pytest.approx(mean, rel=1e-3)
    found = balance(sim, 35, leaves=12.0)
    assert found.comes_to == pytest.approx(moisture(35))
    assert found.width == pytest.approx(294 * mean / 100 / 30 * (moisture(35) - 12.0), rel=1e-3)
    assert found.length == pytest.approx(354 * mean / 100 / 30 * (moisture(35) - 12.0), rel=1e-3)
    assert found.width < -2
    assert balance(sim, 50).width == pytest.approx(0)  # as the shop is


def test_along_the_fibres_nothing_moves() -> None:
    long = balance(simulate(FAMILIES["along"]().plan("Long")), 65)
    assert long.length == 0 and long.width > 0
