"""Rings that strips get when they state none: drawn by wood and mark, and the same for ever."""

import math

import pytest

from laberinto.core.woods import LIBRARY, Tone
from laberinto.core.woods.strips import Sawn, rings_for

PLUM, HOLLY = LIBRARY["plum"], LIBRARY["holly"]
WIDTH, THICKNESS = 30.0, 20.0


def test_hearts_lie_on_every_side_as_far_as_trees_are_thick() -> None:
    """600 strips: a quarter of the hearts, 150, lies in each quadrant, give or take three standard deviations of
    √(600 · ¼ · ¾) ≈ 10.6; and every one 20 to 110 mm from the strip's middle."""
    quadrants = [0, 0, 0, 0]
    for mark in range(1, 601):
        x, z = rings_for(PLUM, mark, WIDTH, THICKNESS).heart
        x, z = x - WIDTH / 2, z - THICKNESS / 2
        quadrants[2 * (x > 0) + (z > 0)] += 1
        assert 20 - 0.01 <= math.hypot(x, z) <= 110 + 0.01
    assert all(abs(count - 150) < 32 for count in quadrants), quadrants


def test_spacing_and_sapwood_keep_to_the_wood() -> None:
    rings = [rings_for(PLUM, mark, WIDTH, THICKNESS) for mark in range(1, 601)]
    assert all(0.8 <= r.spacing / PLUM.spacing <= 1.25 + 1e-3 for r in rings)
    assert len({r.seed for r in rings}) == 600
    assert all(r.sapwood is None for r in rings)  # clear heartwood, unless it is asked for
    kept = [rings_for(PLUM, mark, WIDTH, THICKNESS, sapwood=True) for mark in range(1, 200)]
    for rings_ in kept:  # a corner of it: some of the strip lies beyond, more within
        corners = [math.dist(rings_.heart, (x, z)) for x in (0, WIDTH) for z in (0, THICKNESS)]
        assert rings_.sapwood is not None and min(corners) < rings_.sapwood < max(corners)
    assert HOLLY.tone is Tone.LIGHT
    assert all(rings_for(HOLLY, mark, WIDTH, THICKNESS, sapwood=True).sapwood is None for mark in range(1, 200))


def test_a_wider_strip_keeps_its_tree() -> None:
    """The heart is measured from the strip's middle, so 10 mm more width move it by 5 in the strip's coordinates."""
    for mark in (1, 2, 77):
        one, wide = (rings_for(PLUM, mark, width, THICKNESS) for width in (WIDTH, WIDTH + 10))
        assert wide.heart[0] - one.heart[0] == pytest.approx(5, abs=0.011)
        assert (wide.heart[1], wide.spacing, wide.seed) == (one.heart[1], one.spacing, one.seed)


@pytest.mark.parametrize(("sawn", "towards"), [(Sawn.FLAT, 270), (Sawn.RIFT, 225), (Sawn.QUARTER, 180)])
def test_as_it_was_sawn_its_heart_lies(sawn: Sawn, towards: float) -> None:
    """Below, below to the left, or left, by no more than 8°; and never within the strip."""
    for mark in range(1, 60):
        x, z = rings_for(PLUM, mark, WIDTH, THICKNESS, sawn).heart
        x, z = x - WIDTH / 2, z - THICKNESS / 2
        assert math.degrees(math.atan2(z, x)) % 360 == pytest.approx(towards, abs=8.1)
        assert math.hypot(x, z) >= 20 + WIDTH / 2 - 0.01
