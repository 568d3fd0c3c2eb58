"""Lots and how they are typed, what a board asks of the store, and whether there is wood enough."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.analysis.marks import runs
from laberinto.core.errors import InputError
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.timber import Defect, Lot, LotKind, Need, needs
from laberinto.core.timber.cutting import Saw
from laberinto.core.timber.lines import LineError, read_line, read_lines, written
from laberinto.core.timber.supply import WASTED, covers, fits
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY

MM, INCH = Lengths(), Lengths("in", 32)
words = st.text("abcdefghij klm", min_size=1, max_size=12).map(lambda s: " ".join(s.split())).filter(bool)


@st.composite
def lots(draw: st.DrawFn) -> Lot:
    length, width = draw(st.integers(60, 4000)), draw(st.integers(30, 600))
    faults = draw(st.lists(st.tuples(st.floats(0, 0.4), st.floats(0.5, 1), words), max_size=2))
    return Lot.of(
        kind=draw(st.sampled_from(LotKind)), wood=draw(st.sampled_from(sorted(LIBRARY))), count=draw(st.integers(1, 60)),
        length=float(length), width=float(width), thickness=float(draw(st.integers(5, 200))),
        moisture=draw(st.none() | st.integers(5, 30).map(float)), price=draw(st.none() | st.integers(0, 9999).map(lambda p: p / 100)),
        radius=draw(st.none() | st.just(4500.0)), place=draw(st.just("") | words.map(lambda w: f"rack {w}")),
        note=draw(st.just("") | words),
        defects=tuple(
            Defect(what=f"knot {w}", start=round(length * a), end=round(length * b), low=round(width * a), high=round(width * b))
            for a, b, w in faults
        ),
    )  # fmt: skip


@given(lots())
def test_a_lot_written_as_a_line_reads_back_to_itself(lot: Lot) -> None:
    assert read_line(written(lot, MM), MM) == lot


@pytest.mark.parametrize(
    ("line", "count", "wood", "kind", "size"),
    [
        ("6 beech planks 2400 x 180 x 52", 6, "beech", "plank", (2400, 180, 52)),
        ("3x plum 90 cm × 110 × 44,5", 3, "plum", "plank", (900, 110, 44.5)),
        ("bog oak offcut 445 x 120 x 35", 1, "bog-oak", "offcut", (445, 120, 35)),
        ("wild cherry 2 m x 150 x 27", 1, "european-cherry", "plank", (2000, 150, 27)),
        ("rob 900 x 90 x 30", 1, "robinia", "plank", (900, 90, 30)),
    ],
)
def test_lines_are_read_as_people_write_them(
    line: str, count: int, wood: str, kind: str, size: tuple[float, ...]
) -> None:
    lot = read_line(line, MM)
    assert (lot.count, lot.wood, lot.kind.value) == (count, wood, kind)
    assert (lot.length, lot.width, lot.thickness) == size


def test_what_stands_behind_the_commas_comes_in_any_order() -> None:
    lot = read_line(
        "beech 2400 x 180 x 52, rack 2, €48.50, knot 300-360 x 40-80, 11 %, note split, shake 0 to 20 x 0 to 9", MM
    )
    assert (lot.place, lot.price, lot.moisture, lot.note) == ("rack 2", 48.5, 11.0, "split")
    assert [(d.what, d.start, d.end, d.low, d.high) for d in lot.defects] == [
        ("knot", 300, 360, 40, 80),
        ("shake", 0, 20, 0, 9),
    ]
    inches = read_line("2 hard maple planks 96 x 7 1/2 x 2, knot 12 to 14 x 1 to 2", INCH)
    assert inches.width == pytest.approx(190.5) and inches.defects[0].end == pytest.approx(355.6)


@pytest.mark.parametrize(
    ("line", "points_at", "says"),
    [
        ("4 beach planks 900 x 90 x 30", "beach planks", "no wood called"),
        ("r 900 x 90 x 30", "r", "Write more of it"),
        ("beech", "beech", "How large"),
        ("beech 900 x 90", "900 x 90", "three lengths"),
        ("beech 900 x 90 x thick", "900 x 90 x thick", "not a length"),
        ("beech 900 x 90 x 30, knot 90-1200 x 0-10", None, "outside a piece"),
        ("beech 900 x 90 x 30, knot 90-80 x 0-10", "knot 90-80 x 0-10", "ends behind"),
        ("beech 900 x 90 x 30, rack 1, bin 4", "bin 4", "second time"),
        ("17", "17", "Begin with a wood"),
    ],
)
def test_a_fault_in_a_line_is_pointed_at(line: str, points_at: str | None, says: str | None) -> None:
    with pytest.raises(LineError) as caught:
        read_line(line, MM)
    if points_at:
        assert line[caught.value.start : caught.value.end] == points_at
    if says:
        assert says in str(caught.value)


def test_good_and_bad_lines_are_told_apart_by_their_number() -> None:
    reads = read_lines("beech 900 x 90 x 30\n\nbeach 1 x 2 x 3\n", MM)
    assert [(r.number, r.lot is not None) for r in reads] == [(1, True), (3, False)]
    assert reads[1].error is not None and reads[1].error.number == 3
    with pytest.raises(InputError, match="at most 200"):
        read_lines("beech 900 x 90 x 30\n" * 201, MM)


def test_a_curved_stave_stays_thicker_the_shorter_it_is_cut() -> None:
    """R − √(R² − ℓ²/4) with R = 720 and ℓ = 240: 720 − √(518400 − 14400) = 720 − 709.930 = 10.070."""
    stave = Lot.of(kind="stave", wood="oak", length=880.0, width=95.0, thickness=27.0, radius=720.0)
    assert stave.flat(240) == pytest.approx(27 - 10.0704, abs=1e-3)
    assert stave.flat(120) > stave.flat(240) > stave.flat(480)
    with pytest.raises(InputError, match="cannot be bent"):
        Lot.of(kind="stave", wood="oak", length=880.0, width=95.0, thickness=27.0, radius=400.0)


def test_a_board_asks_for_its_strips_with_room_to_work_them() -> None:
    """Ten strips of 30 × 33 × 650, five a wood; rough 20 longer, 3 wider and 3 thicker."""
    found = needs(simulate(Alternating(light="beech", dark="plum").plan("Asks")), Shop())
    assert [(n.wood, n.count, n.length, n.width, n.thickness) for n in found] == [
        ("beech", 5, 670, 33, 36),
        ("plum", 5, 670, 33, 36),
    ]
    assert found[0].name == "beech 1, 3, 5, 7, 9"
    assert runs(["4", "1", "2", "3", "7", "9", "10"]) == "1–4, 7, 9, 10"
    assert runs(["B1", "A2", "A10", "A3", "A1"]) == "A1–A3, A10, B1"


def test_only_wood_that_a_strip_can_come_from_is_counted() -> None:
    need = [Need("beech", 600, 33, 36, 4)]
    thick, thin, short, other = (
        Lot.of(wood=wood, length=length, width=100.0, thickness=thickness)
        for wood, length, thickness in (
            ("beech", 900.0, 40.0),
            ("beech", 900.0, 30.0),
            ("beech", 500.0, 40.0),
            ("ash", 900.0, 40.0),
        )
    )
    assert [fits(need, lot, Saw()) for lot in (thick, thin, short, other)] == [True, False, False, False]
    # a thin plank gives strips that are rolled a quarter: 36 wide and 33 thick
    assert fits(need, Lot.of(wood="beech", length=900.0, width=100.0, thickness=33.0), Saw())
    cover = covers(need, [(thick, 2), (thin, 5), (short, 5), (other, 5)], Saw())[0]
    assert cover.there == 2 * 900 * 100 * 40
    assert cover.asked == pytest.approx(4 * 600 * 33 * 36 * WASTED) and cover.short == 0
    assert covers(need, [], Saw())[0].short == cover.asked and math.isfinite(cover.asked)
