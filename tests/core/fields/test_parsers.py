"""Everything that reads what people type: it takes their fractions, and never longer for a malicious line than for a long
one. A reader that goes over its text again and again would not come to an end here."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.edits import lamination
from laberinto.core.errors import InputError, PlanError
from laberinto.core.fields import parse, specs
from laberinto.core.plan.model import read_plan
from laberinto.core.stages import Sand
from laberinto.core.timber.lines import MOST_LINE, LineError, read_line, read_lines
from laberinto.core.units import VULGAR, Lengths, parse_length, parse_number, parse_whole
from laberinto.core.woods import LIBRARY
from laberinto.files.timber import TableError, read_csv

MM, INCH = Lengths(), Lengths("in", 32)

PIECES = [
    " ",
    "1",
    "1/",
    "1 ",
    ",",
    "beech ",
    "beech 1x",
    "x",
    "(",
    "()",
    ")",
    "1-",
    "½",
    "²",
    "a 1 1 ",
    "\t",
    "\n",
    "é",
    "-",
    "0.",
    "knot 1-2x",
    "to ",
]
"""What makes readers go back: each is fed to all of them, over and over."""

GRITS = next(spec for spec in specs(Sand) if spec.kind == "grits")


@pytest.mark.parametrize("piece", PIECES, ids=repr)
def test_100_kb_of_the_worst_is_refused_or_read(piece: str) -> None:
    for text in (piece * (100_000 // len(piece)), "beech 1" + piece * (100_000 // len(piece)), piece * 90_000 + "!"):
        for read in (parse_length, parse_number, parse_whole):
            with pytest.raises(InputError) as caught:
                read(text)
            assert len(str(caught.value)) < 300  # quotes the beginning only
        with pytest.raises(InputError):
            lamination.parse(text, MM)
        with suppress(InputError):  # a list of many is for the stage to refuse
            parse(GRITS, text, MM)
        with pytest.raises(LineError):
            read_line(text, MM)
        with pytest.raises((TableError, InputError)):
            read_csv(("wood,length\n" + text).encode())
        with pytest.raises(PlanError):
            read_plan(text)


@pytest.mark.parametrize("piece", PIECES, ids=repr)
def test_the_longest_that_is_read_at_all_comes_to_an_end(piece: str) -> None:
    for head in ("", "beech ", "beech 10", "(beech 10"):
        line = (head + piece * lamination.MOST_LINE)[: lamination.MOST_LINE - 1] + "!"
        with pytest.raises(InputError):
            lamination.parse(line, MM)
        lots = "\n".join([(head + piece * MOST_LINE)[:MOST_LINE].replace("\n", " ")] * 200)
        assert all(one.lot is None for one in read_lines(lots, MM))


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("½", 12.7), ("1½", 38.1), ("1 ½\"", 38.1), ("1-½ in", 38.1), ("⅜″", 9.525), ("¾", 19.05),
        ("1 1⁄2", 38.1), ("2 5/64", 52.784375), ("⅓ in", 25.4 / 3),
    ],
)  # fmt: skip
def test_fractions_that_are_one_sign_are_lengths(text: str, mm: float) -> None:
    assert parse_length(text) == pytest.approx(mm, abs=1e-9)
    (lamina,) = lamination.parse(f"beech {text}", MM)
    assert lamina.width == pytest.approx(mm, abs=1e-9)
    lot = read_line(f"beech 900 x 90 x {text}", MM)
    assert lot.thickness == pytest.approx(mm, abs=1e-9)


@pytest.mark.parametrize(
    "text", ["1²", "³", "1/0", "9" * 30 + "/7", "1" * 600 + "/3", "nan", "inf", "1e5", "٣", "--1", "1/2/3"]
)
def test_what_only_looks_like_a_number_is_none(text: str) -> None:
    with pytest.raises(InputError):
        parse_length(text)
    if text != "9" * 30 + "/7":
        with pytest.raises(InputError):
            parse_number(text)
    with pytest.raises(InputError):
        parse_whole(text)


@given(st.text(st.characters(codec="utf-8"), max_size=45))
def test_any_text_is_a_number_or_an_input_error(text: str) -> None:
    for read in (parse_length, parse_number, parse_whole, lambda t: lamination.parse(t, INCH)):
        try:
            read(text)
        except InputError:
            continue


@given(st.integers(0, 12), st.sampled_from(sorted(VULGAR)))
def test_a_mixed_fraction_is_its_parts_together(whole: int, sign: str) -> None:
    assert parse_number(f"{whole}{sign}") == pytest.approx(whole + parse_number(sign))


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("hard maple -1", "above 0"),
        ("hard maple −1", "above 0"),
        ("oak 30", "European oak|european oak"),
        ("walnut 30", "black walnut"),
        ("beech 30 plum 20", "comma between"),
        ("30", "a wood and a width"),
        ("beech 0x20", "1 to"),
    ],
)
def test_a_lamination_says_what_is_wrong_with_it(line: str, says: str) -> None:
    with pytest.raises(InputError, match=says):
        lamination.parse(line, MM)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("oak plank 900 x 90 x 30", "could be .*bog oak.*european oak"),
        ("0 beech planks 900 x 90 x 30", "How many pieces"),
        ("beech 900 x 90 x 30, knot at 500", "Where does the knot lie"),
        ("beech 900 x 90 x 30, split", "Where does the split lie"),
    ],
)
def test_a_lot_is_not_guessed_at(line: str, says: str) -> None:
    with pytest.raises(LineError, match=says):
        read_line(line, MM)


def test_a_place_with_a_number_is_no_price() -> None:
    lot = read_line("beech 900 x 90 x 30, A2", MM)
    assert (lot.place, lot.price) == ("A2", None)
    assert [read_line(f"beech 900 x 90 x 30, {p}", MM).price for p in ("2", "€2", "2 kr", "price 2.50")] == [
        2,
        2,
        2,
        2.5,
    ]


def test_faults_may_be_in_mixed_fractions() -> None:
    (fault,) = read_line("beech 40 x 6 x 1½, knot 1-1/2-2 1/4 x 0 to ½", INCH).defects
    assert [fault.start, fault.end, fault.low, fault.high] == pytest.approx([38.1, 57.15, 0, 12.7])


def test_woods_are_named_by_any_of_their_words() -> None:
    assert [w.key for w in LIBRARY.named("bog oak")] == ["bog-oak"]
    assert {w.key for w in LIBRARY.named("Oak")} == {"oak", "bog-oak", "red-oak", "white-oak"}
    assert [w.key for w in LIBRARY.named("hornb")] == ["hornbeam"] and LIBRARY.named("") == []
