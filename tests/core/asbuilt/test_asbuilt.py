"""What was measured is cut into the plan, and every way out comes to what it says. Numbers worked out by hand."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.asbuilt import MEASURED, WAYS, Situation, WayOut, measure, quantities, ways_out
from laberinto.core.edits import stages
from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES, Alternating, Brick, Family
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.units import Lengths

MM, SHOP = Lengths(), Shop()


def out(plan: Plan, stage: str, key: str, mm: float, also: frozenset[str] = frozenset()) -> dict[str, WayOut]:
    """The ways out of a reading at a stage up to which all is done; the best comes first."""
    built = measure(plan, stage, key, mm, MM).plan
    ids = [s.id for s in plan.stages]
    done = frozenset(ids[: ids.index(stage) + 1]) - also
    return {one.key: one for one in ways_out(Situation(simulate(plan), built, stage, done, SHOP))}


def test_a_panel_too_thin_with_twelve_rows() -> None:
    """Twelve rows of 32 less 3 off each end: 378 long. The panel came out at 30.4: 12 × 30.4 − 6 = 358.8, 19.2 short. A
    thirteenth row makes 13 × 30.4 − 6 = 389.2, 11.2 over, and the panel has room for it: of 650 mm 12 slices leave 105."""
    plan = Alternating(row=32, slices=12, panel_length=650).plan("Thin")
    ways = out(plan, "panel-flat", "to", 30.4)
    assert next(iter(ways)) == "row-more" and ways["row-more"].sim.board.size[1] == pytest.approx(389.2)
    assert ways["row-more"].off == pytest.approx(11.2) and ways["as-it-is"].off == pytest.approx(19.2)
    # a saw cut, a joint more to spread, and four grits on 2 × (294 + 38) × 11.2 mm² more; a pass of the planer more over
    # either face of the panel of 650 (2.3 mm in bites of 0.8 for 1.5), and 5 of the drum over either of 11.2 mm more
    grits = 4 * SHOP.minutes_grit * 2 * (294 + 38) * 11.2 / 1e4
    passes = 2 * (0.65 / SHOP.planer_feed + SHOP.between_passes) + 10 * 0.0112 / SHOP.drum_feed
    more = SHOP.minutes_cut + SHOP.seconds_per_joint / 60 + grits + passes
    assert ways["row-more"].minutes == pytest.approx(more, abs=0.01)
    # no room: the way is not offered
    tight = Alternating(row=32, slices=12, panel_length=560).plan("Tight")
    assert "row-more" not in out(tight, "panel-flat", "to", 30.4)


def test_two_panels_of_which_one_is_thin() -> None:
    """Rows of both panels are 30; one came out at 28. The other planed down too, all twelve rows are 28. A row more of
    each would make it 46 too long, which is no help."""
    one = Alternating(slices=6, strips=6).plan("Two")
    plan = stages.second_panel(one, "strips").plan
    flats = [s.id for s in plan.stages if s.kind == "flatten"][:2]
    built = measure(plan, flats[0], "to", 28, MM).plan
    done = frozenset({"strips", "panel", "panel-flat"})
    found = ways_out(Situation(simulate(plan), built, flats[0], done, SHOP))
    by_key = {one.key: one for one in found}
    assert by_key["as-it-is"].sim.board.size[1] == pytest.approx(6 * 30 + 6 * 28 - 6)
    assert by_key["partners"].sim.board.size[1] == pytest.approx(12 * 28 - 6)
    assert "row-more" not in by_key


def test_bricks_whose_courses_came_out_thin() -> None:
    """Ten courses of 26 and nine of mortar 6 less 6: 314 − 6 = 308. Courses of 24.2 lack 18 over all; nine mortars of
    2 mm more bring it back."""
    plan = Brick().plan("Bricks")
    mortar = frozenset({"mortar", "mortar-panel", "mortar-slices"})
    ways = out(plan, "panel-flat", "to", 24.2, mortar)
    assert ways["mortar"].sim.board.size[1] == pytest.approx(308, abs=0.1)
    assert ways["mortar"].plan.stage("mortar").thickness == pytest.approx(8)  # type: ignore[attr-defined]
    assert ways["as-it-is"].off == pytest.approx(18)


def test_slices_too_thick_for_all_and_too_thin_for_the_board() -> None:
    """650 long, 5 off the end: slices of 48 and 3 give (645 + 3) ÷ 51 = 12 of 13. Slices of 38.6 leave 38.6 − 4 = 34.6
    with 2 off each face."""
    plan = Alternating(slices=13, panel_length=650).plan("Slices")
    thick = measure(plan, "slices", "slice", 48, MM).plan
    before = frozenset({"strips", "panel", "panel-flat"})
    found = ways_out(Situation(simulate(plan), thick, "slices", before, SHOP))
    assert {one.key: one.plan.stage("slices").count for one in found}["as-many"] == 12  # type: ignore[attr-defined]
    thin = out(plan, "slices", "slice", 37.4)  # flattening to 38 cannot be done at all
    assert next(iter(thin)) == "thinner" and thin["thinner"].sim.board.size[2] == pytest.approx(33.4)
    assert "as-it-is" not in thin


def test_strips_left_narrow_may_be_milled_anew() -> None:
    """Ten strips of 29 for 30 make the board 10 narrower; anew they cost their wood and 4 minutes each once more."""
    ways = out(Alternating().plan("Narrow"), "strips", "width", 29)
    assert next(iter(ways)) == "anew" and ways["anew"].off == pytest.approx(0)
    assert ways["anew"].minutes == pytest.approx(10 * SHOP.minutes_strip)
    assert ways["as-it-is"].off == pytest.approx(10)


def test_a_size_that_cannot_be_had_any_more() -> None:
    """370 asked of 13 rows of 28.4: 369.2. One row more gives it exactly, or any size that comes is taken."""
    ways = out(Alternating(length=370).plan("Asked"), "panel-flat", "to", 28.4)
    assert next(iter(ways)) == "row-more" and ways["row-more"].off == pytest.approx(0)
    assert "as-it-is" not in ways and ways["open"].sim.board.size[1] == pytest.approx(13 * 28.4 - 6)


@pytest.mark.parametrize("key", sorted(FAMILIES.keys() - {"chaos"}))
def test_what_came_out_as_planned_changes_nothing(key: str) -> None:
    plan = FAMILIES[key]().plan("As planned")
    for stage in plan.stages:
        for one in quantities(plan, stage.id):
            planned = one.planned(plan, stage)
            if planned is None:
                continue  # differs from piece to piece, or is only written down
            assert measure(plan, stage.id, one.key, planned, MM).plan is plan


FAMILIES_TRIED: dict[str, Family] = {"alternating": Alternating(slices=6, strips=6), "brick": Brick()}


@given(st.sampled_from(sorted(FAMILIES_TRIED)), st.data())
def test_every_way_out_is_what_it_says(key: str, data: st.DataObject) -> None:
    """Any reading near what is planned: each way can be built, changes nothing that is done, and wood stays conserved;
    what is worse than taking it as it is, is not offered."""
    plan = FAMILIES_TRIED[key].plan("Any")
    places = [
        (s.id, one.key, planned)
        for s in plan.stages
        for one in quantities(plan, s.id)
        if one.put and (planned := one.planned(plan, s))  # a blade is square: it has no share to be off by
    ]
    stage, what, planned = data.draw(st.sampled_from(places))
    mm = round(planned * data.draw(st.floats(0.85, 1.1)), 1)
    try:
        edit = measure(plan, stage, what, mm, MM)
    except InputError:
        return
    ids = [s.id for s in plan.stages]
    done = frozenset(ids[: ids.index(stage) + 1])
    found = ways_out(Situation(simulate(plan), edit.plan, stage, done, SHOP))
    assert [one.rank for one in found] == sorted(one.rank for one in found)
    for one in found:
        again = simulate(one.plan, remember=False)
        assert again.board.size == pytest.approx(one.sim.board.size)
        if one.key != "anew":
            assert all(one.plan.stage(s) == edit.plan.stage(s) for s in done)
        left = again.milled - sum(again.waste().values()) - sum(piece.volume() for piece in again.boards)
        assert abs(left) < 1e-6 * again.milled


@pytest.mark.parametrize(
    ("stage", "key", "mm"), [("panel-flat", "to", 2.0), ("panel-flat", "thickness", 30.0), ("slices", "slice", 4.0)]
)
def test_what_cannot_be_is_refused(stage: str, key: str, mm: float) -> None:
    with pytest.raises(InputError):
        measure(Alternating().plan("No"), stage, key, mm, MM)


def test_each_is_declared_once() -> None:
    for kind, found in MEASURED.items():
        assert len({(one.key, one.step) for one in found}) == len(found), kind
        assert all(one.unit in ("mm", "°", "%", "kg", "") and (one.put_each is None or one.each) for one in found)
    assert len(WAYS) >= 10
