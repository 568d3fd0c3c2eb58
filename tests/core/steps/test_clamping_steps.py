"""What the steps say of clamps, cauls and squeeze-out."""

from __future__ import annotations

from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.steps import Step, steps
from laberinto.core.units import Lengths

PLAN = Alternating(strips=6, strip_width=30, row=30, slices=6, panel_length=700).plan("Panel")


def step(key: str, lengths: Lengths | None = None, **shop: object) -> Step:
    return next(one for one in steps(simulate(PLAN), lengths, Shop.of(**shop)) if one.key == key)


def test_a_panel_of_700_takes_five_clamps_and_three_pairs_of_cauls() -> None:
    """At 70, 210, 350, 490 and 630, and cauls at 30, 280 and 670; tightened 3, 2, 4, 1, 5."""
    said = " ".join(step("panel.glue").lines)
    assert "At least 5 clamps, alternately above and below: the first 70 mm from the near end" in said
    assert "one every 140 mm" in said and "3 pairs of cauls" in said and "30, 280 and 670 mm" in said
    assert "(3, 2, 4, 1, 5 from that end)" in said
    assert "from the left end" in " ".join(step("board.glue").lines)


def test_in_inches_places_are_eighths_and_forces_are_pounds() -> None:
    """70 mm are 2.756 in: 2 3/4; 5 kN are 1124 lbf."""
    said = " ".join(step("panel.glue", Lengths("in", 16)).lines)
    assert 'the first 2 3/4" from' in said and "1124 lbf" in said and "psi" in said and " mm" not in said


def test_squeeze_out_comes_off_when_the_glue_in_this_air_is_ready() -> None:
    """One to two hours at 20 °C, two to four at 10; foam only when it is hard."""
    assert "after about 1 to 2 hours" in " ".join(step("panel.glue").lines)
    assert "after about 2 to 4 hours" in " ".join(step("panel.glue", air=10.0).lines)
    assert "Leave the foam alone" in " ".join(step("panel.glue", glue="polyurethane").lines)


def test_a_stack_is_pressed_by_boards_and_small_sloping_pieces_are_taped() -> None:
    todo = {one.key: " ".join(one.lines) for one in steps(simulate(FAMILIES["tumbling"]().plan("Cobble")))}
    assert "in turn at the left and the right edge" in todo["blocks.glue"] and "under the stack" in todo["blocks.glue"]
    assert "pull tape tight" in todo["corners.glue"] and "pull tape" not in todo["board.glue"]
