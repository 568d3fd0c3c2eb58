"""A rehearsal by hand: who must lie by when, and what the time says."""

from __future__ import annotations

from dataclasses import replace

from laberinto.core.calendar.rehearsal import beats, score
from laberinto.core.instructions import GlueUp, instructions
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop


def test_six_strips_of_which_one_joint_stays_dry() -> None:
    """Six strips have five joints; with the third dry four share ten minutes: two and a half each. Laid after five minutes
    and clamped after twelve: half the open time is left, and three of the fifteen minutes of closed time."""
    sim = simulate(Alternating(strips=6, slices=6).plan("Six"))
    told = replace(next(one for one in instructions(sim) if isinstance(one, GlueUp)), dry=(3,))
    lying = beats(told, Shop())
    assert [beat.glued for beat in lying] == [False, True, True, False, True, True]
    assert [beat.by for beat in lying] == [0, 150, 300, 300, 450, 600]
    assert [beat.name for beat in lying][:2] == ["strip 1", "strip 2"]
    found = score(lying, 300, 720, Shop())
    assert (found.joint, found.open_left, found.closed_left, found.in_time) == (75, 300, 180, True)
    warm = score(lying, 300, 720, Shop(air=30))  # half of each
    assert (warm.open_left, warm.closed_left, warm.in_time) == (0, -270, False)
