"""Lengths as typed and read. 1 in = 25.4 mm exactly; every fraction below is worked out by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.units import CUSTOMARY, LONGEST, Lengths, board_feet, degrees, parse_length, parse_weight


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("44.5", 44.5),
        ("44,5 mm", 44.5),
        ("4.45cm", 44.5),
        ("0,3 m", 300.0),
        (",5", 0.5),
        ('1 3/4"', 44.45),
        ("1-3/4", 44.45),
        ("3/8 in", 9.525),
        ('1.75"', 44.45),
        ("12 ″", 304.8),
    ],
)
def test_reads_what_people_type(text: str, mm: float) -> None:
    assert parse_length(text) == pytest.approx(mm, abs=1e-9)


def test_a_bare_number_is_in_the_shops_units() -> None:
    assert parse_length("2", "in") == pytest.approx(50.8)
    assert parse_length("2 mm", "in") == 2.0


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "missing"),
        ("  ", "missing"),
        ("oak", "not a length"),
        ("1/0", "divides by zero"),
        ("-3", "negative"),
        ("0", "above 0"),
        ("5.1 m", "over 5000 mm"),
        ("3 3", "not a length"),
        ("1e9", "not a length"),
        ("nan", "not a length"),
    ],
)
def test_refuses_the_rest_and_says_why(text: str, says: str) -> None:
    with pytest.raises(InputError, match=says) as caught:
        parse_length(text, field="width")
    assert caught.value.field == "width"


def test_bounds_are_named() -> None:
    with pytest.raises(InputError, match="outside 6 mm to 150 mm"):
        parse_length("5", least=6, most=150)


@pytest.mark.parametrize(
    ("mm", "denominator", "shown"),
    [
        (44.45, 32, '1 3/4"'),
        (9.525, 16, '3/8"'),
        (25.4, 64, '1"'),
        # 30 mm is 37.795/32 in: nearest 38/32 = 30.1625 mm, so the true size is 0.16 mm less
        (30.0, 32, '1 3/16" shy'),
        # 45 mm is 28.346/16 in: nearest 28/16 = 44.45 mm, so the true size is 0.55 mm more
        (45.0, 16, '1 3/4" strong'),
        (0.0, 32, '0"'),
    ],
)
def test_inches_show_as_fractions(mm: float, denominator: int, shown: str) -> None:
    assert Lengths("in", denominator).show(mm) == shown


def test_millimetres_show_to_a_tenth() -> None:
    assert Lengths().show_size(414.04, 354.0, 38) == "414 × 354 × 38 mm"


@given(st.floats(0.01, LONGEST), st.sampled_from(["mm", "in"]))
def test_what_a_field_shows_reads_back(mm: float, system: str) -> None:
    shown = Lengths(system).field(mm)  # type: ignore[arg-type]
    if shown.strip('0."'):
        assert parse_length(shown, system) == pytest.approx(mm, abs=0.0051)  # type: ignore[arg-type]


def test_a_board_foot_is_144_cubic_inches() -> None:
    assert board_feet(144 * 25.4**3) == pytest.approx(1.0)


@given(st.floats(0.5, 2000))
def test_a_usual_length_is_near_and_one_that_a_rule_shows(mm: float) -> None:
    assert Lengths("mm").usual(mm) == mm
    usual = Lengths("in", 16).usual(mm)
    assert abs(usual - mm) <= 25.4 / 16 and usual > 0
    parts = 16 if mm >= 25.4 / 16 else 64
    assert usual / 25.4 * parts == pytest.approx(round(usual / 25.4 * parts))


def test_where_there_is_little_room_a_length_is_in_whole_eighths() -> None:
    """454 mm are 17.87 in; 3 mm are 0.118 in; 1 mm is 0.039 in, less than half an eighth."""
    assert [Lengths("in").about(mm) for mm in (454, 25.4, 3, 1)] == ["17⅞", "1", "⅛", "0"]
    assert Lengths().about(44.46) == "44.5"


def test_other_units_follow_the_lengths() -> None:
    """720 kg/m³ is 44.95 lb/ft³ (1 kg/m³ = 0.0624280 lb/ft³); a quart is 0.946353 litres, a board foot 2.359737."""
    inches, mm = Lengths("in", 16), Lengths()
    assert (mm.unit("kg/m³"), mm.scale("kg/m³")) == ("kg/m³", 1)
    assert 720 * inches.scale("kg/m³") == pytest.approx(44.948, abs=1e-3)
    assert inches.scale("a litre of it") == pytest.approx(0.946353, abs=1e-6)
    assert inches.scale("a litre") == pytest.approx(2.359737, abs=1e-6)
    assert inches.unit("min") == "min" and set(CUSTOMARY) > {"kg", "dm²"}
    assert parse_weight("18 lb") == parse_weight("18", "in") == pytest.approx(8.164663)
    assert parse_weight("8 kg", "in") == parse_weight("8") == 8
    # water freezes at 32 °F and boils at 212; at −40 both say the same
    assert [inches.warmth(celsius) for celsius in (0, 100, -40, 20.5)] == ["32 °F", "212 °F", "-40 °F", "68.9 °F"]
    assert mm.warmth(20.5) == "20.5 °C" and inches.back(212, "°C") == pytest.approx(100)


def test_halves_are_rounded_away_from_zero_whatever_the_last_bit_says() -> None:
    """A mitre for 32 sides is 180/32 = 5.625°; 1 3/4" are 44.45 mm, which binary numbers hold a hair under or over."""
    assert degrees(180 / 32) == "5.63°" and degrees(-5.625) == "-5.63°"
    assert (degrees(22.5), degrees(45.0), degrees(-1e-12)) == ("22.5°", "45°", "0°")
    assert {Lengths().show(mm) for mm in (44.45, 44.449999999999, 44.45 + 1e-12)} == {"44.5 mm"}
    assert Lengths().show(-0.04) == "0 mm"
