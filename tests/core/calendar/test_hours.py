"""Hours as they are typed, and what becomes of them on days when the clock is changed."""

from __future__ import annotations

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.calendar.hours import Week, opened, read_apart, read_hours, write_apart, write_hours
from laberinto.core.calendar.settings import read_settings
from laberinto.core.errors import InputError

OSLO = ZoneInfo("Europe/Oslo")


@given(st.lists(st.integers(0, 96), min_size=0, max_size=8, unique=True).map(sorted))
def test_what_is_written_reads_the_same(quarters: list[int]) -> None:
    spans = zip(quarters[::2], quarters[1::2], strict=False)
    text = ", ".join(f"{a // 4}:{a % 4 * 15:02}-{b // 4}:{b % 4 * 15:02}" for a, b in spans)
    assert read_hours(write_hours(read_hours(text))) == read_hours(text)


@pytest.mark.parametrize(("text", "said"), [
    ("evening", "“evening” is no span"), ("18-17", "ends before it begins"), ("25-26", "no 25:00"),
    ("9-12, 11-13", "overlap at 11:00"), ("9:75-10", "no 9:75"), ("9-9", "ends before"), ("1-2," * 40, "at most 80"),
])  # fmt: skip
def test_what_cannot_be_read_is_said_with_its_field(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said) as refused:
        read_settings({"day-2": text})
    assert refused.value.field == "day-2"


def test_days_that_differ() -> None:
    read = read_apart("2026-12-24 to 2026-12-26 away\n\n2026-12-31: 9-12")
    assert list(read) == [date(2026, 12, day) for day in (24, 25, 26, 31)]
    assert not read[date(2026, 12, 25)] and write_hours(read[date(2026, 12, 31)]) == "9–12"
    assert read_apart(write_apart(read)) == read
    for text, said in (("tomorrow", "is no day"), ("2026-02-30 away", "no day 2026-02-30"),
                       ("2026-12-26 to 2026-12-24 away", "earlier day first"),
                       ("2026-01-01 to 2030-01-01 away", "At most 400")):  # fmt: skip
        with pytest.raises(InputError, match=said):
            read_apart(text)


def test_the_rest_of_today_then_the_week() -> None:
    """Wednesday 2 December, 19:32 by the clock in Oslo: today's evening has 85 minutes left, Friday is off."""
    hours = opened(Week(), datetime(2026, 12, 2, 18, 32, tzinfo=UTC), 5, OSLO)
    assert hours.origin == datetime(2026, 12, 1, 23, tzinfo=UTC)
    shown = [(hours.moment(low).strftime("%a %H:%M"), high - low) for low, high in hours.windows]
    assert shown == [("Wed 19:35", 85), ("Thu 18:00", 180), ("Sat 09:00", 180), ("Sat 13:00", 240)]
    assert hours.days == (0, 1, 3, 3)


@pytest.mark.parametrize(
    ("day", "minutes"), [(date(2027, 3, 28), 120), (date(2026, 10, 25), 240), (date(2026, 11, 1), 180)]
)
def test_a_night_in_which_the_clock_is_changed_is_as_long_as_it_is(day: date, minutes: int) -> None:
    """Clocks go from 2 to 3 on 28 March 2027, and from 3 to 2 on 25 October 2026 (EU directive 2000/84)."""
    week = Week(apart={day: read_hours("1-4")})
    hours = opened(week, datetime.combine(day, datetime.min.time(), OSLO), 1, OSLO)
    assert [high - low for low, high in hours.windows] == [minutes]
    assert [hours.moment(edge).strftime("%H:%M") for edge in hours.windows[0]] == ["01:00", "04:00"]


def test_hours_that_the_clock_leaps_over_are_said() -> None:
    day = date(2027, 3, 28)
    hours = opened(Week(apart={day: read_hours("2-3")}), datetime.combine(day, datetime.min.time(), OSLO), 1, OSLO)
    assert not hours.windows and "Sunday 28 March" in hours.said[0] and "02:00 to 03:00" in hours.said[0]
