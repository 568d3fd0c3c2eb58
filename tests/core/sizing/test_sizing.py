"""Sizes both ways: every family comes to a wanted size or says by how much not, and the sums can be checked by hand."""

from __future__ import annotations

import random

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from laberinto.core.edits.sizes import sized, take
from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES, Alternating, Family
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import check
from laberinto.core.shop import Shop
from laberinto.core.sizing import Kind, Want, ledger, propose
from laberinto.core.sizing.from_wood import LIMITS, all_largest, largest
from laberinto.core.timber import Lot, needs
from laberinto.core.timber.cutting import Saw, Stock, cut
from laberinto.core.units import Lengths

FREE = ("alternating", "rings", "brick", "picture")
"""Families in which width and length each have a length of their own to give."""


def off(plan: Plan, want: Want) -> float:
    return max(
        abs(a - b) for a, b in zip(simulate(plan).board.size, (want.width, want.length, want.thickness), strict=True)
    )


@pytest.mark.parametrize("key", FREE)
@settings(max_examples=8, phases=[Phase.generate])
@given(st.integers(180, 420), st.integers(200, 520), st.integers(24, 60))
def test_a_family_with_free_lengths_comes_to_the_size_exactly(
    key: str, width: int, length: int, thickness: int
) -> None:
    want = Want(width, length, thickness)
    first = propose(FAMILIES[key](), want)[0]
    assert first.kind is Kind.MADE and first.exact
    assert off(first.plan, want) < 0.01


@pytest.mark.parametrize("key", sorted(FAMILIES))
def test_every_family_comes_near_and_says_by_how_much(key: str) -> None:
    want = Want(310, 410, 40)
    found = propose(FAMILIES[key](), want)
    assert found
    for proposal in found:
        size = proposal.sim.board.size
        assert proposal.off == pytest.approx([a - b for a, b in zip(size, (310, 410, 40), strict=True)], abs=1e-9)
        assert simulate(proposal.plan).board.size == size and abs(proposal.off[2]) < 0.01
    nearest = [max(abs(p.off[0]), abs(p.off[1])) for p in found if p.kind is Kind.MADE]
    assert nearest == sorted(nearest)
    trimmed = [p for p in found if p.kind is Kind.TRIMMED]
    if found[0].exact or key == "round":  # a circle is as wide as long
        assert not trimmed
    else:
        assert trimmed and trimmed[0].exact and min(trimmed[0].cut) >= 0
    if key != "round":
        assert min(max(abs(v) for v in p.off) for p in found) < 0.01


def test_the_numbers_of_a_checker_are_those_one_works_out_by_hand() -> None:
    """300 wide and 3 off each edge ask for strips that make 306: ten of 30.6. 400 long, 406: fourteen rows of 29. The
    panel: 5 to square, 14 × (44 + 3) = 658, 60 to hold: 723, to the next five 725."""
    made = propose(Alternating(), Want(300, 400, 40))[0]
    assert made.changes == {"strips": 10, "strip_width": 30.6, "slices": 14, "row": 29.0}
    lines = {(line.stage, line.direction): line for line in ledger(made.sim)}
    assert [(t.count, t.each) for t in lines["strips", "across"].terms] == [(10, 30.6)]
    crosscut = lines["slices", "along"]
    assert [(t.count, t.each, t.what) for t in crosscut.terms] == [
        (1, 5, "squaring cut"), (14, 44, "slices"), (14, 3, "kerfs"), (1, pytest.approx(62), "left to hold"),
    ]  # fmt: skip
    assert crosscut.result == 725
    assert [(t.count, t.each) for t in lines["trimmed", "across"].terms] == [
        (1, pytest.approx(306)),
        (2, pytest.approx(-3)),
    ]


def test_a_number_that_is_held_stays_and_another_gives() -> None:
    want = Want(300, 400, 40)
    width = propose(Alternating(strip_width=32), want, frozenset({"strip_width"}))
    made = [p for p in width if p.kind is Kind.MADE]
    # 306 ÷ 32 lies between eight strips and ten (an odd row is a palindrome): the two nearest sizes
    assert sorted(p.changes["strips"] for p in made) == [8, 10]
    assert all(p.changes["strip_width"] == 32 for p in made) and not any(p.exact for p in made)
    assert [round(p.off[0], 6) for p in made] == [14, -50]
    count = propose(Alternating(strips=8), want, frozenset({"strips"}))[0]
    assert count.exact and count.changes["strips"] == 8 and count.changes["strip_width"] == pytest.approx(306 / 8)
    both = propose(Alternating(strips=8, strip_width=32), want, frozenset({"strips", "strip_width"}))[0]
    assert both.off[0] == pytest.approx(250 - 300) and abs(both.off[1]) < 0.01


def test_squares_meet_both_sides_where_some_count_does() -> None:
    """Diamonds trim nothing: bars of 25 make 300 with twelve and 400 with sixteen."""
    made = propose(FAMILIES["diamonds"](), Want(300, 400, 40))[0]
    assert made.exact and made.changes == {"bars": 12, "rows": 16, "square": 25.0}


@pytest.mark.parametrize("key", sorted(FAMILIES))
def test_every_line_adds_up_to_what_the_stage_leaves(key: str) -> None:
    sim = simulate(FAMILIES[key]().plan("Sums"))
    lines = ledger(sim)
    assert lines
    for line in lines:
        assert sum(term.total for term in line.terms) == pytest.approx(line.result, abs=0.03)
        size = dict(zip(("across", "along", "thick"), sim[line.stage].size, strict=True))
        if line.what not in ("panel length", "strips side by side"):
            assert line.result == pytest.approx(size[line.direction], abs=1e-6)


def test_a_board_is_brought_to_another_size_and_keeps_what_hands_did() -> None:
    start = Alternating().plan("Kept")
    by_hand = start.with_stage(start.stage("eased").model_copy(update={"size": 4.0}))
    want = Want(300, 400, 42)
    edit = take(by_hand, sized(by_hand, want)[0], want, Lengths())
    assert off(edit.plan, want) < 0.01 and edit.plan.stage("eased").model_dump()["size"] == 4.0
    assert edit.words == "sized to 300 × 400 × 42 mm" and edit.plan.wanted.thickness == 42
    stairs = FAMILIES["stairs"]().plan("Trimmed")
    trimmed = next(p for p in sized(stairs, want) if p.kind is Kind.TRIMMED)
    assert off(take(stairs, trimmed, want, Lengths()).plan, want) < 0.01
    with pytest.raises(InputError, match="not made from a pattern"):
        sized(start.model_copy(update={"pattern": None}), want)


def plank(wood: str, count: int, **more: float) -> tuple[Lot, int]:
    size = {"length": 2000.0, "width": 160.0, "thickness": 52.0, **more}
    return Lot.of(wood=wood, count=count, **size), count


def test_the_largest_board_can_be_cut_and_the_next_larger_cannot() -> None:
    lots = [plank("beech", 2), plank("plum", 1, length=900.0)]
    one = largest(Alternating, lots, Shop(), 40, 4 / 3)
    assert one.made is not None and one.sim is not None and one.limit == "plum"
    stock = [Stock(lot, number, nth) for number, (lot, n) in enumerate(lots, 1) for nth in range(1, n + 1)]
    found = cut(needs(one.sim, Shop()), stock, Saw.of(Shop()), work=2)
    assert not found.short
    assert (one.made.value("light"), one.made.value("dark")) == ("beech", "plum")  # the lighter first
    more = one.made.changed(strips=one.made.value("strips") + 6, slices=one.made.value("slices") + 6)
    assert cut(needs(simulate(more.plan("More")), Shop()), stock, Saw.of(Shop()), work=2).short


def test_what_stands_in_the_way_is_said() -> None:
    heard: list[int] = []
    families: list[type[Family]] = [FAMILIES["blocks"], Alternating]
    found = all_largest(
        families,
        [plank("beech", 1), plank("ash", 1, thickness=20.0)],
        Shop(),
        40,
        4 / 3,
        progress=lambda f: not heard.append(len(f)),
    )  # type: ignore[func-returns-value]
    assert "asks for 3 woods" in found[0].why and found[0].sim is None
    assert "no ash is large enough" in found[1].why and found[1].limit == "ash"
    assert heard == [1, 2]


@settings(max_examples=4, phases=[Phase.generate])
@given(st.sampled_from(["alternating", "stairs", "diamonds", "framed", "round", "brick"]), st.integers(0, 99))
def test_whatever_is_proposed_can_be_cut_from_the_wood(key: str, seed: int) -> None:
    dice = random.Random(seed)
    lots = [
        plank(wood, dice.randint(1, 3), length=dice.choice([900.0, 1500.0, 2100.0]), width=float(dice.randint(90, 210)))
        for wood in ("sycamore", "elm", "plum")
    ]
    one = largest(FAMILIES[key], lots, Shop(), 38, 1.3)
    if one.sim is None:
        assert one.why
        return
    stock = [Stock(lot, number, nth) for number, (lot, n) in enumerate(lots, 1) for nth in range(1, n + 1)]
    found = cut(needs(one.sim, Shop()), stock, Saw.of(Shop()), work=1.5)
    assert not found.short
    assert all(left >= 0 for _, left in one.left)
    assert one.sim.board.size[2] == pytest.approx(38)


def test_shifted_rows_and_two_panels_have_their_sums_too() -> None:
    """Rows shifted by 20: the board is 20 wider than its panel, and the sum says so."""
    start = Alternating().plan("Shifted")
    shifted = start.with_stage(start.stage("board").model_copy(update={"shifts": (0.0, 20.0)}))
    wide = next(line for line in ledger(simulate(shifted)) if line.stage == "trimmed" and line.direction == "across")
    assert [(t.count, t.each) for t in wide.terms] == [(1, pytest.approx(320)), (2, pytest.approx(-3))]
    brick = ledger(simulate(FAMILIES["brick"]().plan("Two")))
    assert len({line.stage for line in brick if line.what == "strips side by side"}) == 2
    rows = next(line for line in brick if line.what == "glued" and line.direction == "along")
    assert len(rows.terms) == 2 and rows.result == pytest.approx(sum(t.total for t in rows.terms))  # courses and mortar


def test_what_is_offered_fits_the_shop_and_other_woods_are_tried() -> None:
    """Much beech, ash and plum, hardly any bog oak: it tells apart best but gives out first. And a shop whose sled takes
    240 mm gets no wider panel offered, however much wood there is."""
    lots = [
        (Lot.of(wood=wood, length=2400.0, width=200.0, thickness=52.0), n)
        for wood, n in (("beech", 8), ("plum", 8), ("ash", 8), ("bog-oak", 1))
    ]
    free_, small = Shop(), Shop.of(sled_width=240)
    one = largest(FAMILIES["alternating"], lots, free_, 38.0, 1.3)
    assert one.sim is not None and "bog-oak" not in {strip.wood for strip in one.sim.strips}
    held = largest(FAMILIES["alternating"], lots, small, 38.0, 1.3)
    assert held.sim is not None and held.limit == "shop"
    assert held.sim["slices"].size[0] <= 240 < one.sim["slices"].size[0]
    assert not [f for f in check(held.sim, shop=small) if f.rule in LIMITS]
