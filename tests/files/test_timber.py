"""Lots as CSV: what is written reads back, and a bad row says why without taking the good ones with it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.timber import Lot
from laberinto.files.timber import COLUMNS, TableError, read_csv, write_csv
from tests.core.timber.test_timber import lots


@given(st.lists(lots(), max_size=5))
def test_what_is_written_reads_back(found: list[Lot]) -> None:
    rows = read_csv(write_csv(found).encode())
    assert [row.lot for row in rows] == found


def test_rows_are_told_good_from_bad_with_their_line_and_reason() -> None:
    rows = read_csv(
        b"\xef\xbb\xbfwood;length;width;thickness;count\n"
        b"beech;900;90;30;2\nbeach;900;90;30;1\n\nbeech;wide;90;30;1\nbeech;900;90;30;1.5\nbeech;900;90;30;1;9\n"
        b"beech;900,5;90;30;1\n"
    )
    assert [(row.line, row.lot is not None) for row in rows] == [
        (2, True),
        (3, False),
        (5, False),
        (6, False),
        (7, False),
        (8, True),
    ]
    assert "no wood called “beach”" in rows[1].problem
    assert [row.problem for row in rows[2:] if row.problem] == [
        "length: “wide” is not a number. Type it like 5, 5.5 or 5 1/2.",
        "count: “1.5” is not a whole number from 1 to 400.",
        "It has 6 cells under 5 columns.",
    ]
    assert rows[-1].lot is not None and rows[-1].lot.length == 900.5


def test_faults_stand_in_one_cell() -> None:
    rows = read_csv(
        b"wood,length,width,thickness,defects\nbeech,900,90,30,knot hole 10 20 0 9; shake 0 5 0 90\nbeech,900,90,30,knot 1 2\n"
    )
    assert rows[0].lot is not None
    assert [(d.what, d.start, d.end, d.low, d.high) for d in rows[0].lot.defects] == [
        ("knot hole", 10, 20, 0, 9),
        ("shake", 0, 5, 0, 90),
    ]
    assert "Write what it is and four lengths" in rows[1].problem


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"\xff\xfe\x00w", "not text in UTF-8"),
        (b"wood,length\nbeech,900\n", "width, thickness is missing"),
        (b"wood,length,width,thickness,colour\n", "no column “colour”"),
        (b'wood,length,width,thickness\n"beech,900,90,30\n', "is not CSV"),
    ],
)
def test_what_is_no_such_table_is_refused_whole(data: bytes, says: str) -> None:
    with pytest.raises(TableError, match=says):
        read_csv(data)
    assert len(COLUMNS) == len(set(COLUMNS))


def test_a_table_of_metres_is_told_from_the_first_row() -> None:
    (row,) = read_csv(b"wood;length;width;thickness\nbeech;2,4;0,19;0,052\n")
    assert row.lot is None and row.problem == "length: 2.4 is too small; at least 20. Lengths are in mm."
