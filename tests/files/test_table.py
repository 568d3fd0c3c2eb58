"""Tables read back equal, and nothing in them is run by a sheet."""

from __future__ import annotations

import csv
import io

from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.timber import Lot
from laberinto.files.table import RISKY, rows_of, table
from laberinto.files.timber import read_csv, write_csv

text = st.text(st.characters(exclude_categories=("Cs",), exclude_characters="\x00\r"), max_size=20) | st.sampled_from(
    ["=1+1", "+49", "-x", "@sum", "'", "'=a", "''", "\t", "a,b", 'say "so"', "two\nlines"]
)


@given(st.lists(st.tuples(text, st.floats(-1e6, 1e6), st.none() | st.integers()), max_size=6))
def test_what_is_written_is_read_again(rows: list[tuple[str, float, int | None]]) -> None:
    written = table(("words", "number", "maybe"), rows)
    read = rows_of(written)
    assert [row["words"] for row in read] == [words for words, _, _ in rows]
    assert all(abs(float(r["number"]) - n) <= 1e-9 * abs(n) for r, (_, n, _) in zip(read, rows, strict=True))
    assert [row["maybe"] for row in read] == ["" if n is None else str(n) for _, _, n in rows]
    for row in list(csv.reader(io.StringIO(written)))[1:]:  # as a sheet reads it
        assert not row[0].startswith(RISKY)


def test_a_lots_note_is_no_formula() -> None:
    lot = Lot.of(wood="beech", length=900.0, width=90.0, thickness=30.0, note="=HYPERLINK(1)", place="-3 shelf")
    written = write_csv([lot])
    assert "'=HYPERLINK(1)" in written and "'-3 shelf" in written
    assert read_csv(written.encode())[0].lot == lot
