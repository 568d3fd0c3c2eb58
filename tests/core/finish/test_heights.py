"""Twist, cup and what is left, from four corners and a middle. Worked out by hand."""

from __future__ import annotations

import pytest

from laberinto.core.finish.heights import Heights, words
from laberinto.core.units import Lengths

SHOW = Lengths().show


def test_a_twisted_board_rocks_and_is_shimmed_by_half_under_two_corners() -> None:
    """40.6 + 40.6 − 40 − 40 = 1.2: 0.6 under far right and near left. The plane of the other three puts far left at
    40 + 40 − 40.6 = 39.4, and it is at 40.6."""
    one = Heights((40.6, 40.0, 40.0, 40.6), 40.3)
    assert one.twist == pytest.approx(1.2) and one.cup == pytest.approx(0.0)
    assert one.shims == ("far right and near left", pytest.approx(0.6))
    said = " ".join(words(one, SHOW))
    assert "Twisted by 1.2 mm, so it rocks: shim 0.6 mm under far right and near left." in said
    assert "flat, 40 mm is left" in said and "middle stands" not in said
    other = Heights((40.0, 40.6, 40.6, 40.0))
    assert other.twist == pytest.approx(-1.2) and other.shims[0] == "far left and near right"


def test_a_hollow_face_and_one_that_only_leans() -> None:
    """Corners 32 and a middle of 31.4: 0.6 below, and 31.4 is left. Leaning 0.8 from left to right is no twist."""
    hollow = Heights((32, 32, 32, 32), 31.4)
    assert hollow.cup == pytest.approx(-0.6) and hollow.lowest == 31.4
    assert "The middle lies 0.6 mm below the corners." in " ".join(words(hollow, SHOW))
    leans = Heights((32, 32.8, 32, 32.8))
    assert leans.twist == pytest.approx(0) and "Twisted" not in " ".join(words(leans, SHOW))


def test_a_flat_face_says_so_and_no_more() -> None:
    assert len(list(words(Heights((32, 32.05, 32, 32.1), 32), SHOW))) == 1


def test_less_comes_off_than_planned_where_it_is_nearly_flat() -> None:
    """40.0, 40.2, 40.0, 40.2 to 37: planned is (40.2 − 37) ÷ 2 = 1.6 off each face, and 0.2 is enough: 1.4 thicker. From
    42, 39, 42, 39 to 40 it is 3 for the 1 that was planned."""
    show = "{:.1f}".format
    said = " ".join(words(Heights((40.0, 40.2, 40.0, 40.2)), show, 37.0))
    assert "1.6 off each face; 0.2" in said and "1.4 thicker" in said
    assert "3.0 off this face, 2.0 more" in " ".join(words(Heights((42, 39, 42, 39)), show, 40.0))
    assert "planned" not in " ".join(words(Heights((38.2, 37.8, 37.8, 38.2)), show, 38.0))  # that thick already
