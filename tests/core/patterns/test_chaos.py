"""The chaos board of the benchmark against its closed forms."""

import pytest

from bench.chaos import chaos
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import simulate


@pytest.mark.parametrize("strips", [14, 20])
def test_a_chaos_board_keeps_to_its_closed_forms(strips: int) -> None:
    """However it was cut: the board is a full block of its size, its face covers width × length, and each of the 14
    joints of the last glue-up is panel width × slice, 42."""
    plan = chaos(strips)
    sim = simulate(plan, remember=False)
    width, length, thickness = sim.board.size
    assert thickness == pytest.approx(38)
    assert sim.board.volume == pytest.approx(width * length * thickness, rel=1e-9)
    face = face_of(sim.board.pieces[0], Side.TOP)
    assert face.areas().sum() == pytest.approx(width * length, rel=1e-9)
    panel_width, _, panel_thickness = sim["ends-4"].size
    joints = sim["board"].outcome.joints
    assert [joint.area for joint in joints] == pytest.approx([panel_width * 42] * 14, rel=1e-7)
    assert width == pytest.approx(panel_width - 4)
    assert length == pytest.approx(15 * panel_thickness - 4)
    gone = sum(sum(result.outcome.waste.values()) for result in sim.results)
    assert sim.board.volume + gone == pytest.approx(sim.milled, rel=1e-9)
