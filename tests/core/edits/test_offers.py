"""Whatever a plan may hold can be put in by hand, and taken out again without a trace."""

from __future__ import annotations

import pytest

from laberinto.core.edits import stages
from laberinto.core.edits.offers import OFFERS, fitting
from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Severity, check
from laberinto.core.stages import AnyStage, Border, Mill


def plan() -> Plan:
    """A board of 294 × 384 × 38."""
    return FAMILIES["alternating"]().plan("Offers")


def test_every_kind_of_stage_is_on_offer_but_strips_which_begin_a_panel() -> None:
    kinds = {kind.model_fields["kind"].default for kind in AnyStage.__origin__.__args__}  # type: ignore[attr-defined]
    assert {offer.kind_name for offer in OFFERS} == kinds - {"mill"}
    assert len({offer.name for offer in OFFERS}) == len(OFFERS)  # a button tells them apart


def test_a_border_brings_its_wood_and_takes_it_along() -> None:
    """Frame pieces 30 wide, as high as the board, of its first wood and all end grain: nothing stops it, and it grows by
    60 each way. Its strips taken out, the border goes too."""
    before = plan()
    after = stages.insert(before, "trimmed", "border").plan
    made = simulate(after)
    assert made.board.size == pytest.approx((354, 444, 38))
    border = next(result for result in made.results if isinstance(result.stage, Border))
    assert border.pieces.cells.on_end and border.pieces.cells.blocks().max() > 100
    assert not [found for found in check(made) if found.severity is Severity.STOP]
    assert stages.remove(after, border.stage.id).plan == before
    stock = next(s for s in after.stages if isinstance(s, Mill) and s.id != "strips")
    assert stages.remove(after, stock.id).plan == before


@pytest.mark.parametrize("kind", ["inlay", "rip", "crosscut", "resaw"])
def test_a_standing_board_is_worked_on_and_comes_back(kind: str) -> None:
    before = plan()
    made = stages.insert(before, "trimmed", kind)
    simulate(made.plan)
    new = next(s.id for s in made.plan.stages if s.kind == kind and s.id not in {old.id for old in before.stages})
    assert stages.remove(made.plan, new).plan == before


def test_a_board_ripped_when_it_stands_is_glued_side_by_side_again() -> None:
    ripped = stages.insert(plan(), "trimmed", "rip").plan
    again = simulate(stages.insert(ripped, "rip", "glue").plan)
    width, length, _ = again["glue"].size
    assert length == pytest.approx(384) and 200 < width < 294


def test_what_does_not_fit_is_not_offered_and_refused() -> None:
    lying = simulate(plan())["panel"]
    assert "border" not in {offer.name for offer in fitting(lying)}
    with pytest.raises(InputError, match="does not fit here"):
        stages.insert(plan(), "panel", "border")
