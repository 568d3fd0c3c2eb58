"""Boards from a picture: the fewest panels, the least change, painting, and back to the picture from the wood."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.patterns.picture import Pictured
from laberinto.core.picture import Picture, panels
from laberinto.core.picture import edits as change
from laberinto.core.picture.edits import Block
from laberinto.core.picture.panels import strips
from laberinto.core.picture.pixels import from_pixels
from laberinto.core.plan.simulate import simulate
from laberinto.core.woods import LIBRARY
from tests.core.strategies import WOODS, pictures


@given(pictures())
@settings(max_examples=30)
def test_the_board_made_of_a_picture_shows_that_picture(picture: Picture) -> None:
    assume(len({letter for row in picture.rows for letter in row}) > 1)
    assume(len(picture.widths) * 10 > 40)
    family = Pictured.drawn(picture)
    sim = simulate(family.plan("Picture"))
    assert [truth.off for truth in family.truths(sim)] == [0]
    assert sim["board"].size[:2] == pytest.approx((sum(picture.widths), sum(picture.heights)))


@given(pictures())
def test_rows_that_share_a_panel_agree_with_it_and_no_two_panels_could_be_one(picture: Picture) -> None:
    made = panels(picture)
    assert sorted(row for one in made for row, _ in one.rows) == list(range(len(picture.rows)))
    for one in made:
        for row, flipped in one.rows:
            assert strips(picture, row) == (one.strips[::-1] if flipped else one.strips)
            assert picture.heights[row] == one.height
    kinds = [(one.height, one.strips) for one in made]
    for k, (height, lamination) in enumerate(kinds):
        assert (height, lamination) not in kinds[:k] and (height, lamination[::-1]) not in kinds[:k]


def test_a_boat_by_hand() -> None:
    """Rows 1, 7 and 10 are all sky and sea; every other row is its own: eight panels."""
    made = panels(Pictured().picture)
    assert [[row + 1 for row, _ in one.rows] for one in made] == [[1, 7, 10], [2], [3], [4], [5], [6], [8], [9]]
    assert made[1].strips == (("sycamore", 120.0), ("plum", 24.0), ("sycamore", 144.0))


def test_a_row_and_its_reverse_are_one_panel_only_where_columns_allow() -> None:
    even = Picture.of(rows=["AB", "BA"], woods=WOODS[:2], widths=[20, 20], heights=[20, 20])
    assert [one.rows for one in panels(even)] == [((0, False), (1, True))]
    uneven = Picture.of(rows=["AB", "BA"], woods=WOODS[:2], widths=[20, 30], heights=[20, 20])
    assert len(panels(uneven)) == 2


# -- painting ----------------------------------------------------------------------------------------------------


@given(pictures(), st.integers(-1, 6), st.integers(-1, 6), st.integers(-1, 6), st.integers(-1, 6), st.booleans())
def test_mirroring_twice_is_nothing(picture: Picture, a: int, b: int, c: int, d: int, across: bool) -> None:
    once = change.mirror(picture, Block(a, b, c, d), across=across)
    assert change.mirror(once, Block(a, b, c, d), across=across) == picture


@given(pictures(), st.integers(0, 5), st.integers(0, 5))
def test_a_repeated_block_is_everywhere(picture: Picture, bottom: int, right: int) -> None:
    block = Block(0, 0, bottom, right).within(picture)
    made = change.repeat(picture, block)
    tall, wide = block.bottom + 1, block.right + 1
    assert all(
        made.rows[r][c] == picture.rows[r % tall][c % wide]
        for r in range(len(made.rows))
        for c in range(len(made.widths))
    )


def test_painting_by_hand() -> None:
    blank = Picture.of(rows=["AAAA"] * 3, woods=WOODS, widths=[20] * 4, heights=[20] * 3)
    wall = change.paint(blank, [(0, 1), (1, 1), (2, 1), (9, 9)], "B")
    assert wall.rows == ("ABAA", "ABAA", "ABAA")
    assert change.fill(wall, (0, 3), "C").rows == ("ABCC", "ABCC", "ABCC")
    assert change.fill(wall, (7, 7), "C") == wall
    assert change.paste(wall, ["CC", "CC"], (2, 3)).rows == ("ABAA", "ABAA", "ABAC")
    larger = change.resize(wall, 4, 5)
    assert larger.rows == ("ABAAA", "ABAAA", "ABAAA", "AAAAA") and larger.widths == (20,) * 5
    assert change.resize(larger, 3, 4) == wall
    sized = change.set_sizes(wall, Block(0, 1, 0, 2), 30, None)
    assert sized.widths == (20, 30, 30, 20) and sized.heights == wall.heights
    assert change.set_wood(wall, "D", "oak").woods == (*WOODS, "oak")
    with pytest.raises(InputError, match="no wood E"):
        change.paint(wall, [(0, 0)], "E")
    with pytest.raises(InputError, match="1 to 96 rows"):
        change.resize(wall, 97, 4)


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"rows": ["AB", "A"]}, "row 2 has 1 cells, but there are 2 columns"),
        ({"rows": ["AB", "AX"]}, "row 2 has “X”"),
        ({"rows": ["AB"]}, "there are 1 rows, but 2 row heights"),
        ({"rows": ["AB", "BA"], "widths": [2, 20]}, "too small"),
        ({"rows": ["AB", "BA"], "widths": [float("nan"), 20]}, "not a finite"),
        ({"rows": [1, 2]}, "string"),
    ],
)
def test_what_is_no_picture_is_refused(values: dict[str, object], says: str) -> None:
    start = {"woods": WOODS, "widths": [20, 20], "heights": [20, 20]}
    with pytest.raises(InputError, match=says):
        Picture.of(**(start | values))


def test_an_image_becomes_the_woods_nearest_in_tone() -> None:
    """Left half black, right half white, with a grey square: plum is the darkest of the three, sycamore the lightest."""
    image = np.zeros((40, 60, 3), np.uint8)
    image[:, 30:] = 255
    image[:20, 50:] = 128
    woods = [LIBRARY[key] for key in WOODS]
    assert from_pixels(image, 2, 6, woods) == ("BBBAAC", "BBBAAA")
    assert from_pixels(np.full((4, 4, 3), 255, np.uint8), 1, 2, woods) == ("AA",)
