"""What a shop learns from readings, worked out by hand."""

from __future__ import annotations

import pytest

from laberinto.core.asbuilt.learned import cut_minutes, learned
from laberinto.core.patterns import Alternating
from laberinto.core.shop import Shop

PLAN = Alternating(strips=6, slices=6).plan("Any")


def test_five_readings_say_something_and_four_do_not() -> None:
    """Slices of 42 that came out 42.1, 42.2, 42.3, 42.4 and 42.9: the middle one 0.3 over, quarters at 0.2 and 0.4."""
    slices = [(PLAN, "slices.cut", "", 42 + off, 42.0) for off in (0.4, 0.1, 0.9, 0.2, 0.3)]
    panels = [(PLAN, "panel-flat.flatten", "to", 30.2, 30.0)] * 4
    first, second = learned([*panels, *slices])
    assert (first.what, first.machine) == ("thickness of the slices", "crosscut sled")
    assert first.median == pytest.approx(0.3) and first.spread == pytest.approx(0.2) and first.telling
    assert second.machine == "thickness planer" and len(second.offs) == 4 and not second.telling


def test_what_is_as_planned_or_gone_is_no_lesson() -> None:
    even = [(PLAN, "slices.cut", "slice", 42.02, 42.0)] * 6
    gone = [(PLAN, "no-stage.cut", "", 40.0, 42.0), (PLAN, "slices.cut", "skew", 0.3, 0.0)]
    (only,) = learned([*even, *gone])
    assert only.median == pytest.approx(0.02) and not only.telling and only.spread == pytest.approx(0)


def test_kerf_and_minutes_teach_the_shop_its_own_figures() -> None:
    """Kerfs of 3 that took 3.2 to 3.4, and cuts of 2 minutes where the shop reckons with 1.5."""
    kerfs = [(PLAN, "slices.cut", "kerf", 3.0 + off, 3.0) for off in (0.2, 0.3, 0.4, 0.3, 0.3)]
    (kerf,) = learned(kerfs)
    assert (kerf.what, kerf.field, kerf.unit) == ("kerf", "kerf", "mm") and kerf.median == pytest.approx(0.3)
    assert kerf.better(Shop(kerf=3)) == 3.3 and kerf.better(Shop(kerf=3.3)) is None
    shop = Shop(minutes_cut=1.5)
    (cuts,) = cut_minutes([("slices.cut", 2.0)] * 5 + [("panel.glue", 9.0)], shop)
    assert (
        cuts.field == "minutes_cut"
        and cuts.median == pytest.approx(0.5)
        and len(cuts.offs) == 5
        and cuts.better(shop) == 2
    )
    assert cut_minutes([("panel.glue", 9.0)], shop) == []
