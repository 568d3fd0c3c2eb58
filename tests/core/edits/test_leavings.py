"""Several boards from one plan: what a stage leaves becomes a second one."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.figures import figures
from laberinto.core.edits import leavings, stages
from laberinto.core.errors import InputError
from laberinto.core.finish.oiling import area as faces
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from tests.core.instructions.follower import ends_alike

SHOP = Shop()


def test_the_rest_of_a_panel_gives_a_second_board() -> None:
    """600 long, 5 off the end, 8 slices of 42 and 3: 595 − 8 × 45 = 235 are left, which give 5 more: 5 × 45 = 225. Two
    boards of 8 and 5 rows of 30, less 3 off each end."""
    plan = Alternating(slices=8, panel_length=600).plan("Two")
    made = leavings.second_board(plan, "slices", SHOP).plan
    sim = simulate(made)
    assert [piece.size()[1] for piece in sim.boards] == pytest.approx([8 * 30 - 6, 5 * 30 - 6])
    f = figures(sim)
    assert [one.share for one in f.boards] == pytest.approx([234 / 378, 144 / 378], abs=1e-3)  # but for eased edges
    assert sum(one.weight for one in f.boards) == pytest.approx(f.weight)
    # both faces and four edges of each, dm²
    assert faces(sim) == pytest.approx(sum(2 * (2.94 * v + 0.38 * (2.94 + v)) for v in (2.34, 1.44)))
    ends_alike(sim)
    with pytest.raises(InputError, match="no further slice"):
        leavings.second_board(made, "slices", SHOP)


def test_spare_slices_are_glued_apart_and_gone_on_with() -> None:
    """Of two panels only one gives what is asked in turn; the other's spares become a board of their own."""
    one = Alternating(slices=6, strips=6).plan("Spares")
    lying = [s for s in one.stages if s.id in ("strips", "panel", "panel-flat", "slices")]
    more = stages.duplicate(
        Plan(name="Two panels", stages=(*lying, one.stage("rows"), one.stage("board"))), "strips"
    ).plan
    cut = next(s for s in more.stages if s.kind == "crosscut" and s.id != "slices")
    fewer = more.with_stage(cut.model_copy(update={"count": 3}))
    glued = stages.remove(fewer, "rows") if len(fewer.stage("rows").sources) == 1 else None
    assert glued is None  # slices of two panels meet there, so they are glued in turn as they lie
    sequence = fewer.stage("board").model_copy(update={"source": "slices", "also": (cut.id,), "sequence": ("slices", cut.id),
                                                       "turns": ("stand up",)})  # fmt: skip
    plan = Plan(
        name="In turn", stages=tuple(sequence if s.id == "board" else s for s in fewer.stages if s.id != "rows")
    )
    sim = simulate(plan)
    assert sim["board"].outcome.offcuts.pieces == 2  # A B A B A B A, and two of A stay over
    both = simulate(leavings.second_board(plan, "board", SHOP).plan)
    assert len(both.boards) == 2 and both.waste()  # nothing is lost
    ends_alike(both)
    apart = next(s.id for s in both.plan.stages if s.kind == "beside")
    assert len(simulate(stages.remove(both.plan, apart).plan).boards) == 1


def test_where_nothing_is_left_it_says_so() -> None:
    with pytest.raises(InputError, match="leaves nothing over"):
        leavings.second_board(Alternating(slices=6, strips=6).plan("None"), "board", SHOP)
