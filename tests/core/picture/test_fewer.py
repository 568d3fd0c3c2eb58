"""With at most k panels: held against trying every way, and how panels are found and chosen."""

from __future__ import annotations

from itertools import product
from unittest.mock import patch

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.picture import Picture, panels, with_at_most
from laberinto.core.picture.columns import _Search, above
from laberinto.core.picture.fewer import _Search as Quest
from laberinto.core.picture.generation import ColumnPool, _first_to_end, least_in_parts
from laberinto.core.picture.growth import grown
from laberinto.core.picture.kinds import Kind
from laberinto.core.picture.pricing import Looking, Pay
from laberinto.core.solid import Ints
from tests.core.strategies import WOODS, pictures


def least_changes(picture: Picture, k: int) -> int | None:
    """By trying every picture of the same letters."""
    letters = "".join(sorted({letter for row in picture.rows for letter in row}))
    columns, best = len(picture.widths), None
    for text in product(letters, repeat=columns * len(picture.rows)):
        rows = tuple("".join(text[r * columns : (r + 1) * columns]) for r in range(len(picture.rows)))
        changed = sum(
            a != b for one, other in zip(rows, picture.rows, strict=True) for a, b in zip(one, other, strict=True)
        )
        if (best is None or changed < best) and len(panels(picture.model_copy(update={"rows": rows}))) <= k:
            best = changed
    return best


@given(pictures(most=3, letters="AB"), st.integers(1, 2))
@settings(max_examples=25)
def test_the_least_change_is_that_of_trying_every_picture(picture: Picture, k: int) -> None:
    picture = picture.model_copy(update={"heights": (20.0,) * len(picture.rows)})
    found = with_at_most(picture, k)
    assert found.proven and len(panels(found.picture)) <= k
    assert len(found.cells) == least_changes(picture, k)
    assert found.picture == picture.changed(found.cells)


def fewest(picture: Picture, k: int, keep: set[tuple[int, int]]) -> int | None:
    """By trying every way of sharing k panels among the rows; None where kept cells leave none."""
    rows, columns = picture.rows, len(picture.widths)

    def cost(members: tuple[int, ...]) -> float:
        if len({picture.heights[r] for r in members}) > 1:
            return np.inf
        best = np.inf
        for flips in product((1, -1) if picture.even else (1,), repeat=len(members)):
            total = 0.0
            for c in range(columns):
                there = [(r, c if way == 1 else columns - 1 - c) for r, way in zip(members, flips, strict=True)]
                held = {rows[r][at] for r, at in there if (r, at) in keep}
                votes = [sum(rows[r][at] == letter for r, at in there) for letter in held or "ABC"]
                total += len(there) - max(votes) if len(held) < 2 else np.inf
            best = min(best, total)
        return best

    costs = {mask: cost(tuple(r for r in range(len(rows)) if mask >> r & 1)) for mask in range(1, 2 ** len(rows))}
    least = [{0: 0.0}]  # after so many panels, by which rows are made
    for _ in range(k):
        reached: dict[int, float] = dict(least[-1])
        for made, so_far in least[-1].items():
            for mask, more in costs.items():
                if not mask & made:
                    reached[mask | made] = min(reached.get(mask | made, np.inf), so_far + more)
        least.append(reached)
    found = least[-1].get(2 ** len(rows) - 1, np.inf)
    return int(found) if found < np.inf else None


@given(pictures(most=5), st.integers(1, 4), st.data())
@settings(max_examples=60)
def test_fewest_cells_change_whatever_is_kept(picture: Picture, k: int, data: st.DataObject) -> None:
    cells = [(r, c) for r in range(len(picture.rows)) for c in range(len(picture.widths))]
    keep = data.draw(st.sets(st.sampled_from(cells), max_size=4))
    least = fewest(picture, k, keep)
    if least is None:
        with pytest.raises(InputError) as refused:
            with_at_most(picture, k, keep)
        assert refused.value.field == "most"
        return
    found = with_at_most(picture, k, keep)
    assert found.proven and len(found.cells) == least and not keep & set(found.cells)
    assert len(panels(found.picture)) <= k and found.picture == picture.changed(found.cells)


@given(pictures(most=5), st.integers(1, 4), st.sampled_from([1, 8000]))
@settings(max_examples=60)
def test_all_panels_that_matter_are_listed_where_their_prices_prove_too_little(
    picture: Picture, k: int, most: int
) -> None:
    """As in large noise: no way is quick, and no better one was seen on the way. With too many to list the bound stands."""
    picture = picture.model_copy(update={"heights": (20.0,) * len(picture.rows)})
    least = fewest(picture, k, set())
    assert least is not None
    with (
        patch.multiple("laberinto.core.picture.generation", SOON=0, PATIENCE=1, MOST_LISTED=most),
        patch.object(Quest, "_beaten", lambda self, _: self.cost),
    ):
        found = with_at_most(picture, k)
    assert found.bound <= least <= len(found.cells)
    assert most == 1 or found.proven


def ended(way: Looking) -> np.ndarray | None:
    """What a search finds when nothing stops it."""
    while True:
        try:
            next(way)
        except StopIteration as end:
            return end.value


@st.composite
def payments(draw: st.DrawFn) -> tuple[Pay, np.ndarray, float]:
    """Up to six rows of five letters of A to C with prices, and what a panel must be worth."""
    even, rows = draw(st.booleans()), draw(st.integers(2, 6))
    kinds = [
        Kind(
            np.array(draw(st.lists(st.integers(0, 2), min_size=5, max_size=5))),
            tuple(range(draw(st.integers(1, 2)))), 20.0, frozenset(draw(st.sets(st.integers(0, 4), max_size=3))),
        )
        for _ in range(rows)
    ]  # fmt: skip
    prices = np.array(draw(st.lists(st.integers(0, 16), min_size=rows, max_size=rows)), float) / 2
    return Pay.of(kinds, 3, even=even), prices, draw(st.integers(1, 10)) / 2 + 0.25


@given(payments())
@settings(max_examples=80)
def test_no_panel_worth_having_is_missed(asked: tuple[Pay, np.ndarray, float]) -> None:
    """Held against all 243 panels: column by column all are found, of a panel and its reverse one; row by row the best
    panel of every set of rows."""
    pay, prices, least = asked
    every = np.array(list(product(range(3), repeat=5)))
    worth = pay.worth(every, prices)
    good = {tuple(panel) for panel in every[worth > least].tolist()}
    columns = ended(above(pay, prices, least, 1000))
    assert columns is not None
    found = {tuple(panel) for panel in columns.tolist()}
    turned = {panel[::-1] for panel in found} if pay.cells.shape[2] > 1 else set()
    assert found | turned == good and len(found) == len(columns)
    with patch("laberinto.core.picture.growth.LOOSE", 3):  # sorted out on the way, as in large pictures
        rows = ended(grown(pay, prices, least))
    assert rows is not None
    assert {tuple(panel) for panel in rows.tolist()} <= good
    # a row that is served alone is served by itself, which is known without a search
    if good and worth.max() > prices.max() + 1e-9:
        assert pay.worth(rows, prices).max() == pytest.approx(worth.max())


def test_three_rows_are_worth_a_panel_that_no_two_of_them_are() -> None:
    """BAA, ABA and AAB at 2.4 each: AAA changes one cell of each, 3 × 1.4; for any two, one of them stays, 4.8 - 2."""
    rows = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]
    pay = Pay.of([Kind(np.array(row), (n,), 20.0, frozenset()) for n, row in enumerate(rows)], 2, even=False)
    prices = np.full(3, 2.4)
    found = ended(grown(pay, prices, 3.0))
    assert found is not None and found.tolist() == [[0, 0, 0]]
    assert pay.worth(found, prices).tolist() == pytest.approx([4.2])
    nothing = ended(grown(pay, prices, 4.3))
    assert nothing is not None and not len(nothing)


@given(st.lists(st.integers(0, 2), min_size=6, max_size=6), st.booleans(), st.integers(1, 24))
@settings(max_examples=40)
def test_planes_lie_above_all_that_a_row_can_still_gain(row: list[int], even: bool, price: int) -> None:
    """After any columns, whatever was paid by then, over every end of the panel."""
    pay, own = Pay.of([Kind(np.array(row), (0,), 20.0, frozenset())], 3, even=even), price / 4
    search, size = _Search(pay, np.array([own]), 0.0), 7
    for at in range(1, 6):
        ends = np.array(list(product(range(3), repeat=6 - at)))
        costs = sum(pay.cells[column, ends[:, column - at], :, 0] for column in range(at, 6))
        high, *slopes = (plane.reshape(size, size) for plane in search._planes_at(at))
        for one, other in product(range(at + 1), range(at + 1) if even else (0,)):
            spent = np.array([one, other] if even else [one])
            gain = np.maximum(own - (spent + costs).min(axis=1), 0)
            plane = high[one, other] - costs @ np.array([slope[one, other] for slope in slopes])
            assert (plane > gain - 1e-5).all()


@pytest.mark.parametrize("even", [False, True])
def test_beginnings_that_cannot_end_well_are_not_looked_at(even: bool) -> None:
    """Eleven columns of three woods have 3 + 9 + … + 3¹¹ = 265,719 beginnings. Less than one in a hundred is looked at
    for the five best panels of eight rows; where the rest of a row counted for nothing, six to eight would be."""
    rng = np.random.default_rng(11)
    pay = Pay.of([Kind(rng.integers(0, 3, 11), (n,), 20.0, frozenset()) for n in range(8)], 3, even=even)
    prices, every = np.full(8, 6.5), np.array(list(product(range(3), repeat=11)))
    worth = pay.worth(every, prices)
    least = float(np.sort(worth)[-5])
    found = ended(above(pay, prices, least, 1000))
    assert found is not None
    either = {tuple(panel[::way]) for panel in found.tolist() for way in ((1, -1) if even else (1,))}
    assert either == {tuple(panel) for panel in every[worth > least].tolist()}
    assert sum(looked for looked, _ in above(pay, prices, least, 1000)) < 2657


def way(steps: int, cost: int, found: Ints | None, left: float = np.inf) -> Looking:
    for _ in range(steps):
        yield cost, left
    return found


def test_of_two_ways_to_look_the_one_that_ends_first_is_taken() -> None:
    heard: list[int] = []

    def go_on(looked: int) -> bool:
        heard.append(looked)
        return sum(heard) < 100

    one, other = np.zeros((1, 2), np.int64), np.ones((1, 2), np.int64)
    assert _first_to_end([way(8, 1, one), way(2, 3, other)], go_on) is other and heard == [1, 3, 1, 1, 1, 3, 1, 1, 1]
    assert _first_to_end([way(8, 1, one), way(2, 3, None)], go_on) is one
    assert _first_to_end([way(8, 1, None)], go_on) is None
    assert _first_to_end([way(1000, 1, one)], go_on) is None and sum(heard) == 100


def test_one_whose_end_is_in_sight_gets_ahead_eight_times_as_fast() -> None:
    """From 31 million on: 55 million of it, and for the further 24 and the end of it four of the other."""
    one, million = np.zeros((1, 2), np.int64), 1_000_000
    heard: list[int] = []
    ways = [way(1000, million, None), way(55, million, one, 5 * million)]
    assert _first_to_end(ways, lambda looked: heard.append(looked) or True) is one
    assert len(heard) == 55 + 31 + 4
    assert _first_to_end([way(60, million, None), way(50, million, one)], lambda looked: True) is one


def test_how_much_is_left_of_all_beginnings_is_told() -> None:
    """Nothing is dropped here, so that all 2 + 4 + … + 2¹³ are looked at."""
    rng = np.random.default_rng(5)
    pay = Pay.of([Kind(rng.integers(0, 2, 13), (n,), 20.0, frozenset()) for n in range(4)], 2, even=False)
    with patch("laberinto.core.picture.columns.BATCH", 16):
        told = list(above(pay, np.full(4, 20.0), 20.0, 100_000))
    total, spent = 2**14 - 2, 0
    assert sum(looked for looked, _ in told) == total
    for looked, left in told:
        spent += looked
        if spent > total / 4:
            assert left == pytest.approx(total - spent, rel=0.35, abs=total / 10)


def noise(side: int, letters: str, seed: int) -> Picture:
    rng = np.random.default_rng(seed)
    return Picture.of(
        rows=["".join(rng.choice(list(letters), side)) for _ in range(side)], woods=WOODS[: len(letters)],
        widths=[12] * side, heights=[12] * side,
    )  # fmt: skip


def test_a_large_grid_is_solved_or_says_how_far_it_may_be_off() -> None:
    """24 × 24: one row in many ways, spoilt here and there, is five panels again by changing what was spoilt; noise
    too is proven, and where there is no time for that the best so far is told as such."""
    rng = np.random.default_rng(3)
    base = ["".join(rng.choice(list("ABC"), 24)) for _ in range(5)]
    rows = [list(base[k % 5]) for k in range(24)]
    for k in range(5, 24, 2):
        rows[k][k % 24] = "A" if rows[k][k % 24] != "A" else "B"
    picture = Picture.of(rows=["".join(r) for r in rows], woods=WOODS, widths=[12] * 24, heights=[12] * 24)
    found = with_at_most(picture, 5)
    assert found.proven and len(found.cells) == 10 and len(panels(found.picture)) == 5
    two = with_at_most(noise(24, "AB", 24), 12)
    assert two.proven and len(panels(two.picture)) <= 12 and len(two.cells) > 40
    heard: list[int] = []
    far = with_at_most(noise(24, "ABC", 3), 3, tell=lambda changed: heard.append(changed) or len(heard) < 4)
    assert len(panels(far.picture)) <= 3 and far.bound < len(far.cells) and not far.proven
    assert len(heard) >= 4 and len(far.cells) <= min(heard)


@given(pictures(most=5), st.integers(1, 4))
@settings(max_examples=25)
def test_parts_of_the_columns_never_ask_for_more_than_the_whole(picture: Picture, k: int) -> None:
    picture = picture.model_copy(update={"heights": (20.0,) * len(picture.rows)})
    kinds = [Kind(np.array(["ABC".index(x) for x in row]), (n,), 20.0, frozenset())
             for n, row in enumerate(picture.rows)]  # fmt: skip
    least = fewest(picture, k, set())
    assert least is not None
    with patch("laberinto.core.picture.generation.BLOCK", 9):  # two columns at a time
        parts = least_in_parts(ColumnPool(kinds, 3, even=picture.even), k, lambda _: True)
    assert 0 <= parts <= least
    assert least_in_parts(ColumnPool(kinds, 3, even=picture.even), k, lambda _: True) >= parts


def test_what_cannot_be_asked_of_panels_is_said() -> None:
    picture = Picture.of(rows=["AB", "BB"], woods=WOODS[:2], widths=[20, 20], heights=[20, 30])
    with pytest.raises(InputError, match="2 heights need 2 panels"):
        with_at_most(picture, 1)
    kept = Picture.of(rows=["AA", "BB"], woods=WOODS[:2], widths=[20, 20], heights=[20, 20])
    with pytest.raises(InputError, match="more than 1 panels"):
        with_at_most(kept, 1, [(0, 0), (1, 0), (0, 1), (1, 1)])


def test_uneven_columns_whose_slices_might_be_flipped_prove_nothing() -> None:
    """Of BAAB, BAAA and AAAB with columns of 20, 30, 20 and 20, one panel B 20, A 70 makes the second row, flipped the
    third, and with one cell changed the first: a way that needs a flip, which is not searched. So no number is claimed."""
    picture = Picture.of(
        rows=("BAAB", "BAAA", "AAAB"), woods=("ash", "elm"), widths=(20, 30, 20, 20), heights=(24, 24, 24)
    )
    found = with_at_most(picture, 1)
    assert not found.proven and found.bound == 0
    odd = Picture.of(rows=("BAAB", "BAAA", "AAAB"), woods=("ash", "elm"), widths=(20, 30, 21, 24), heights=(24, 24, 24))
    assert with_at_most(
        odd, 1
    ).proven  # nothing begins where something begins from the other side: no slice can be flipped
