"""What lies under a point of a face, by hand."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.spot import spot
from laberinto.core.finish.faults import Fault
from laberinto.core.geometry.faces import Side
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate

SIM = simulate(Alternating(strips=6, strip_width=30, slices=5, row=30).plan("Spot"))
"""Six strips of 30, trimmed alike left and right: joints lie 30 apart about the middle."""


@pytest.mark.parametrize(("from_middle", "number"), [(-75, 1), (-45, 2), (-15, 3), (15, 4), (45, 5), (75, 6)])
def test_a_point_of_the_first_row_knows_its_strip_and_wood(from_middle: float, number: int) -> None:
    width = SIM.board.size[0]
    found = spot(SIM, 0, Side.TOP, width / 2 + from_middle, 5.0)
    assert found is not None and not found.on_joint and found.row
    ((name, wood, stage),) = found.strips
    flipped = 7 - number  # a row that is laid mirrored shows its strips the other way round
    assert name in (f"strip {number}", f"strip {flipped}") and stage == "strips"
    assert wood == SIM.strips[int(name.split()[1]) - 1].wood


def test_the_middle_is_a_joint_and_beside_the_wood_is_nothing() -> None:
    width, length, _ = SIM.board.size
    found = spot(SIM, 0, Side.TOP, width / 2 + 0.2, 5.0)
    assert found is not None and found.on_joint and {name for name, *_ in found.strips} == {"strip 3", "strip 4"}
    assert spot(SIM, 0, Side.TOP, width + 3, 5.0) is None and spot(SIM, 0, Side.TOP, 5, length + 3) is None


def test_the_underside_is_seen_from_below() -> None:
    """Left and right change places."""
    width = SIM.board.size[0]
    top, under = (spot(SIM, 0, side, x, 5.0) for side, x in ((Side.TOP, 10.0), (Side.BOTTOM, width - 10)))
    assert top is not None and under is not None and not under.row
    assert spot(SIM, 0, Side.FRONT, 10, 5) is not None


@pytest.mark.parametrize("fault", list(Fault))
def test_every_fault_can_be_mended_and_what_stains_is_said(fault: Fault) -> None:
    assert fault.ways and fault.label
    for way in fault.ways:
        assert "thin glue" not in way.do or "stains" in way.but
