"""Cut plans: no strip overlaps another, leaves its piece or crosses a fault; the bound holds; small ones are best."""

from __future__ import annotations

from collections import Counter
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.timber import Defect, Lot, LotKind, Need
from laberinto.core.timber.cutting import Aim, CutPlan, Saw, Stock, cut
from laberinto.core.timber.cutting.bins import ways
from laberinto.core.timber.cutting.columns import columns
from laberinto.core.timber.cutting.quick import quick
from laberinto.core.timber.supply import missing, on_offer, purchases

PLAIN = Saw(kerf=3, end=0, edge=0, keep_length=200, keep_width=30)
NOTHING_KEPT = Saw(kerf=3, end=0, edge=0, keep_length=9000, keep_width=9000)


def lot(
    length: float, width: float, thickness: float = 40, wood: str = "beech", kind: str = "strip", **more: object
) -> Lot:
    return Lot.of(kind=kind, wood=wood, length=float(length), width=float(width), thickness=float(thickness), **more)


def stock(*found: Lot) -> list[Stock]:
    return [Stock(one, number, nth) for number, one in enumerate(found, 1) for nth in range(1, one.count + 1)]


def apart(one: tuple[float, ...], other: tuple[float, ...], gap: float) -> bool:
    """Whether two boxes (x, y, length, width) leave ``gap`` between them one way or the other."""
    (x, y, length, width), (u, v, long, wide) = one, other
    away = max(u - (x + length), x - (u + long), v - (y + width), y - (v + wide))
    return away >= gap - 1e-6


def sound(plan: CutPlan, saw: Saw) -> None:
    """What every plan must hold."""
    seen: Counter[tuple[int, int]] = Counter()
    for plank in plan.planks:
        lot_, need = plank.stock.lot, plan.needs
        seen[plank.stock.number, plank.stock.nth] += 1
        end, edge = (saw.end, saw.edge) if lot_.kind.rough else (0.0, 0.0)
        boxes = [(p.x, p.y, p.length, p.width) for s in plank.sections for p in s.pieces]
        rests = [(r.x, r.y, r.length, r.width) for r in plank.rests]
        for x, y, length, width in boxes + rests:
            assert x >= end - 1e-6 and x + length <= lot_.length - end + 1e-6
            assert y >= edge - 1e-6 and y + width <= lot_.width - edge + 1e-6
            for d in lot_.defects:
                assert apart((x, y, length, width), (d.start, d.low, d.end - d.start, d.high - d.low), 0.0)
        for k, box in enumerate(boxes + rests):
            assert all(apart(box, other, saw.kerf) for other in (boxes + rests)[:k])
        for section in plank.sections:
            for piece in section.pieces:
                asked = need[piece.need]
                width, height = (asked.thickness, asked.width) if piece.rolled else (asked.width, asked.thickness)
                assert (piece.width, piece.length) == (width, asked.length) and asked.wood == lot_.wood
                assert piece.layers * (height + saw.kerf) - saw.kerf <= lot_.flat(section.length) + 1e-6
        for rest in plank.rests:
            assert saw.keeps(rest.length, rest.width)
        # every section is one crosscut: no other begins within it
        for k, one in enumerate(plank.sections):
            for other in plank.sections[:k]:
                assert apart(
                    (one.x, one.y, one.length, one.width), (other.x, other.y, other.length, other.width), saw.kerf
                )
    assert all(n == 1 for n in seen.values())
    made = plan.made
    assert all(made[at] + plan.short.get(at, 0) == asked.count for at, asked in enumerate(plan.needs))
    assert plan.bound <= plan.cost + 1e-6


def test_four_strips_just_fit_with_their_kerfs_and_not_a_tenth_less() -> None:
    """Two sections of 300 and a kerf of 3 are 603; two strips of 30 and a kerf are 63."""
    need = [Need("beech", 300, 30, 38, 4)]
    plan = cut(need, stock(lot(603, 63)), PLAIN, work=1)
    sound(plan, PLAIN)
    assert not plan.short and plan.gap < 0.001 and len(plan.planks[0].sections) == 2 and not plan.planks[0].rests
    assert cut(need, stock(lot(602.9, 63)), PLAIN, work=1).short == {0: 2}
    assert cut(need, stock(lot(603, 62.9)), PLAIN, work=1).short == {0: 2}


def test_rough_stock_loses_its_ends_and_edges() -> None:
    """A plank of 660 × 75, 20 off each end and 4 off each edge, leaves 620 × 67: one section of 603 as above."""
    saw = Saw(kerf=3, end=20, edge=4)
    need = [Need("beech", 300, 30, 38, 4)]
    assert not cut(need, stock(lot(643, 71, kind="plank")), saw, work=1).short
    assert cut(need, stock(lot(642, 71, kind="plank")), saw, work=1).short == {0: 2}


def test_thick_stock_is_resawn_and_strips_may_lie_on_their_side() -> None:
    """A beam 83 thick gives two layers of 40 with a kerf of 3; a plank 30 thick takes strips of 38 × 30 rolled."""
    need = [Need("beech", 300, 30, 40, 2)]
    plan = cut(need, stock(lot(300, 30, 83)), PLAIN, work=1)
    sound(plan, PLAIN)
    assert not plan.short and plan.planks[0].sections[0].pieces[0].layers == 2
    low = Saw(kerf=3, end=0, edge=0, resaw=25)
    assert cut(need, stock(lot(300, 30, 83)), low, work=1).short == {0: 1}
    rolled = cut([Need("beech", 300, 30, 38, 1)], stock(lot(300, 38, 30)), PLAIN, work=1)
    sound(rolled, PLAIN)
    assert not rolled.short and rolled.planks[0].sections[0].pieces[0].rolled


def test_a_fault_is_cut_round_both_ways() -> None:
    """A knot in the middle of 1000 × 100: crosscut beside it, or rip beside it."""
    knotty = lot(1000, 100, defects=(Defect(what="knot", start=450, end=550, low=40, high=60),))
    assert [[(b.x, b.y, b.length, b.width) for b in way] for way in ways(knotty, PLAIN)] == [
        [(0, 0, 450, 100), (550, 0, 450, 100)],
        [(0, 0, 1000, 40), (0, 60, 1000, 40)],
    ]
    for length, count in ((900, 2), (440, 6)):
        plan = cut([Need("beech", length, 30, 38, count)], stock(knotty), PLAIN, work=1)
        sound(plan, PLAIN)
        assert not plan.short


def test_one_fault_is_crosscut_out_and_another_ripped_past() -> None:
    """A knot at 400 to 500 right across the middle, and a nail hole near one edge further on: behind the knot 1100 are
    left, of which the band above the hole is 1100 × 130."""
    faults = (
        Defect(what="knot", start=400, end=500, low=40, high=150), Defect(what="nail", start=1100, end=1120, low=20, high=30),
    )  # fmt: skip
    plank = lot(1600, 160, defects=faults)
    found = ways(plank, PLAIN)
    assert len(found) == 4 and all(len(set(way)) == len(way) for way in found)
    assert any(any((b.x, b.y, b.length, b.width) == (500, 30, 1100, 130) for b in way) for way in found)
    plan = cut([Need("beech", 1050, 30, 38, 4)], stock(plank), PLAIN, work=1)
    sound(plan, PLAIN)
    assert not plan.short


def test_what_is_worth_keeping_comes_back_and_the_rest_does_not() -> None:
    """From 1000 × 100 one strip of 300 × 30: 697 × 100 comes back behind the cut, 300 × 67 beside the strip."""
    plan = cut([Need("beech", 300, 30, 38, 1)], stock(lot(1000, 100)), PLAIN, work=1)
    sound(plan, PLAIN)
    assert sorted((r.length, r.width) for r in plan.planks[0].rests) == [(300, 67), (697, 100)]
    assert plan.used == pytest.approx((1000 * 100 - 300 * 67 - 697 * 100) * 40)
    kept = cut([Need("beech", 300, 30, 38, 1)], stock(lot(400, 55)), PLAIN, work=1)
    assert not kept.planks[0].rests  # 97 × 55 and 300 × 22 are too small


def test_the_aim_decides_between_a_new_plank_and_offcuts() -> None:
    need = [Need("beech", 300, 30, 38, 4)]
    there = stock(lot(1400, 150, kind="plank"), lot(420, 80, kind="offcut", count=2))
    kinds = {
        aim: {plank.stock.lot.kind for plank in cut(need, there, PLAIN, aim, work=1).planks} for aim in Aim
    }  # fmt: skip
    assert kinds[Aim.OFFCUTS] == {LotKind.OFFCUT} == kinds[Aim.LEAST_NEW]
    assert kinds[Aim.LEAST_WASTE] == {LotKind.PLANK}  # the offcuts would leave 117 × 80 of no use each


needs_ = st.lists(
    st.builds(
        Need, st.sampled_from(["beech", "plum"]), st.integers(120, 500), st.integers(18, 50), st.integers(20, 45),
        st.integers(1, 6),
    ),
    min_size=1, max_size=4, unique_by=lambda n: (n.wood, n.length, n.width, n.thickness),
)  # fmt: skip


@st.composite
def shelves(draw: st.DrawFn) -> list[Lot]:
    found = []
    for _ in range(draw(st.integers(1, 4))):
        length, width = draw(st.integers(200, 1500)), draw(st.integers(40, 200))
        at = draw(st.floats(0, 0.8))
        fault = Defect(what="knot", start=length * at, end=length * (at + 0.15), low=width * 0.3, high=width * 0.5)
        found.append(
            lot(length, width, draw(st.integers(25, 90)), draw(st.sampled_from(["beech", "plum"])),
                draw(st.sampled_from(["plank", "offcut", "strip"])), count=draw(st.integers(1, 3)),
                defects=(fault,) if draw(st.booleans()) else ())
        )  # fmt: skip
    return found


@settings(max_examples=25)
@given(needs_, shelves(), st.sampled_from(Aim))
def test_no_plan_overlaps_leaves_its_piece_or_crosses_a_fault(needs: list[Need], lots: list[Lot], aim: Aim) -> None:
    saw = Saw(kerf=2.4, end=15, edge=3, keep_length=150, keep_width=25)
    plan = cut(needs, stock(*lots), saw, aim, work=0.2, workers=2)
    sound(plan, saw)
    # the quick look never calls wood enough that is not
    short = quick(needs, stock(*lots), saw)
    for wood in {need.wood for need in needs}:
        if wood not in short and plan.gap < 0.01:
            assert not any(plan.needs[at].wood == wood for at in plan.short)


def least_wood(lengths: list[int], planks: list[int]) -> int | None:
    """Brute force: the least total length of planks begun that hold these lengths end to end, 3 mm between."""
    best = None
    for assignment in product(range(len(planks)), repeat=len(lengths)):
        loads = Counter[int]()
        for length, plank in zip(lengths, assignment, strict=True):
            loads[plank] += length + 3
        if all(load <= planks[plank] + 3 for plank, load in loads.items()):
            total = sum(planks[plank] for plank in loads)
            best = total if best is None or total < best else best
    return best


@settings(max_examples=20)
@given(st.lists(st.integers(100, 400), min_size=1, max_size=5), st.lists(st.integers(300, 900), min_size=1, max_size=4))
def test_small_plans_take_as_little_wood_as_there_is_any_way_to(lengths: list[int], planks: list[int]) -> None:
    counts = Counter(lengths)
    need = [Need("beech", length, 30, 38, n) for length, n in counts.items()]
    plan = cut(need, stock(*(lot(length, 30) for length in planks)), NOTHING_KEPT, work=2)
    sound(plan, NOTHING_KEPT)
    best = least_wood(lengths, planks)
    if best is None:
        assert plan.short
    else:
        assert not plan.short and plan.used == pytest.approx(best * 30 * 40)


def test_every_way_to_rip_a_section_that_may_matter_is_listed_once() -> None:
    """100 wide holds three of 30 (96 with kerfs), one of 45 and one of 30 (78), or two of 45 (93). Where a rest of 30 is
    kept, one of 30 (67 left behind its cut), two of 30 (34) and one of 45 (52) may be best too."""
    need = [Need("beech", 300, 30, 38, 9), Need("beech", 300, 45, 38, 9)]
    full = [((0, 1), (1, 1)), ((0, 3),), ((1, 2),)]
    for saw, more in ((NOTHING_KEPT, []), (PLAIN, [((0, 1),), ((0, 2),), ((1, 1),)])):
        found, complete = columns(need, lot(300, 100), 300, 100, saw)
        assert complete
        assert sorted(tuple(sorted((o.need, n) for o, n in c.options)) for c in found) == sorted(full + more)


def test_a_strip_less_in_a_section_is_worth_it_where_the_rest_is_kept() -> None:
    """Four strips of 30 in sections of 300, from 603 × 99: three beside each other leave nothing, so 3 + 1 keeps
    300 × 66 beside the one; 2 + 2 keeps 300 × 33 twice, the same wood in two parts."""
    plan = cut([Need("beech", 300, 30, 38, 4)], stock(lot(603, 99)), PLAIN, work=1)
    sound(plan, PLAIN)
    assert plan.gap < 0.001
    assert plan.used == pytest.approx((603 * 99 - 300 * 66) * 40)


def test_the_search_tells_of_its_progress_and_can_be_ended() -> None:
    need = [Need("beech", length, 33, 36, 12) for length in (650, 420, 310)]
    there = stock(*(lot(1200 + 110 * k, 120 + 7 * k, kind="plank") for k in range(8)))
    heard: list[tuple[float, int]] = []
    cut(need, there, PLAIN, work=1, progress=lambda share, best: heard.append((share, len(best.planks))) is None)
    assert heard and all(0 <= share <= 1 and planks for share, planks in heard)
    ended = cut(need, there, PLAIN, work=20, progress=lambda *_: False)
    sound(ended, PLAIN)  # whatever there is so far is a whole plan


def test_what_is_short_is_bought_at_the_lowest_price() -> None:
    need = [Need("beech", 600, 33, 36, 4)]
    plan = cut(need, stock(lot(610, 40)), PLAIN, work=1)
    assert [(n.count, n.length) for n in missing(plan)] == [(3, 600)]
    dear, cheap = lot(700, 120, kind="plank", price=50.0, count=3), lot(1300, 60, kind="plank", price=20.0, count=3)
    small = lot(500, 200, kind="plank", price=1.0, count=9)
    offered = on_offer(missing(plan), [dear, cheap, small], PLAIN)
    assert {piece.lot.price for piece in offered} == {50.0, 20.0} and all(piece.new for piece in offered)
    bought = purchases(cut(missing(plan), offered, PLAIN, work=1))
    # 60 wide gives one strip twice over in 1300; two of them at 20 are less than one at 50
    assert [(p.lot.price, p.count, p.price) for p in bought] == [(20.0, 2, 40.0)]


def test_where_there_are_too_many_ways_to_list_full_ones_are_gathered() -> None:
    """Eighteen widths in a section 400 wide: more ways than are listed, so none is called complete."""
    need = [Need("beech", 300, 17 + 1.5 * k, 38, 2) for k in range(18)]
    found, complete = columns(need, lot(300, 400), 300, 400, PLAIN)
    assert not complete and len(found) > 50
    for column in found:
        used = sum((option.width + PLAIN.kerf) * n for option, n in column.options) - PLAIN.kerf
        assert used == pytest.approx(column.width) and used <= 400 + 1e-6
        assert all(n * option.layers <= need[option.need].count for option, n in column.options)
    assert {option.need for column in found for option, _ in column.options} == set(range(18))
    plan = cut(need, stock(lot(1300, 400, count=3)), PLAIN, work=1)
    sound(plan, PLAIN)
    assert not plan.short and 0 < plan.bound <= plan.cost


def test_a_bound_is_never_above_what_a_longer_search_finds() -> None:
    need = [Need("beech", 430, 33, 36, 7), Need("beech", 260, 28, 36, 9)]
    there = stock(
        lot(1250, 120, kind="plank"),
        lot(980, 95, kind="plank"),
        lot(1500, 80, kind="plank"),
        lot(520, 70, kind="offcut"),
    )
    for aim in Aim:
        short, long = (cut(need, there, PLAIN, aim, work=work) for work in (0.3, 1.5))
        for plan in (short, long):
            sound(plan, PLAIN)
        assert sum(long.short.values()) <= sum(short.short.values())
        if not short.short:
            assert max(short.bound, long.bound) <= min(short.cost, long.cost) + 1e-6


def test_a_curved_stave_gives_more_short_strips_than_long_ones() -> None:
    """27 thick with a radius of 720: 440 long it keeps 27 − 34.4 < 0, 200 long 27 − 6.98 = 20.0."""
    stave = lot(880, 95, 27, "oak", "stave", radius=720.0)
    saw = Saw(kerf=3, end=0, edge=0)
    assert cut([Need("oak", 440, 20, 18, 1)], stock(stave), saw, work=1).short == {0: 1}
    found = cut([Need("oak", 200, 29, 20, 12)], stock(stave), saw, work=1)
    sound(found, saw)
    assert found.made[0] == 12  # four sections of three
    assert cut([Need("oak", 200, 29, 20.1, 12)], stock(stave), saw, work=1).short == {0: 12}


@settings(max_examples=10)
@given(
    st.lists(st.tuples(st.integers(320, 1300), st.integers(5, 60)), min_size=2, max_size=4),
    st.integers(1, 4),
)
def test_what_is_bought_is_the_cheapest_there_is(planks: list[tuple[int, int]], count: int) -> None:
    """Brute force over every choice of planks one strip wide: each holds as many strips of 300 as fit end to end."""
    offered = [
        Stock(lot(length, 34, price=float(price)), number, new=True) for number, (length, price) in enumerate(planks, 1)
    ]
    plan = cut([Need("beech", 300, 33, 36, count)], offered, NOTHING_KEPT, work=1)
    best = None
    for chosen in product((False, True), repeat=len(planks)):
        holds = sum((length + 3) // 303 for (length, _), taken in zip(planks, chosen, strict=True) if taken)
        if holds >= count:
            price = sum(p for (_, p), taken in zip(planks, chosen, strict=True) if taken)
            best = price if best is None else min(best, price)
    if best is None:
        assert plan.short
    else:
        assert not plan.short and sum(p.price for p in purchases(plan)) == best
        assert plan.bound <= plan.cost and plan.gap < 0.01
