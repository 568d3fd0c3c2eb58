"""When hands work: a week's pattern, days that differ from it, and the spans of time that come of both.

Hours are those of the clock on the wall. In the night in which clocks are put on an hour is missing, in the one in
which they are put back there is one more: a span is as long as it really is, and waits run on as if nothing had
happened.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from itertools import pairwise

from ..errors import InputError
from .model import STEP, Span

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

Hours = tuple[tuple[time, time], ...]
"""Spans of one day, in order, by the clock."""

MIDNIGHT = time(23, 59)
"""What "24:00" is kept as; a span that ends there runs to the day's end."""

MOST_TEXT = 80

_SPAN = re.compile(r"(\d{1,2})(?:[:.](\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d{2}))?")


def read_hours(text: str, name: str = "hours") -> Hours:
    """Typed hours of a day, like "18-21:30" or "9 to 12, 13:30-17"; nothing is a day off. Raises InputError."""
    text = text.strip().lower()
    if text in ("", "-", "–", "off", "away", "closed"):
        return ()
    if len(text) > MOST_TEXT:
        raise InputError(f"Hours of a day are at most {MOST_TEXT} characters.", name)
    spans: list[tuple[time, time]] = []
    for part in re.split(r"[,;]", text):
        found = _SPAN.fullmatch(part.strip())
        if found is None:
            raise InputError(
                f"“{part.strip()}” is no span of time. Write it like 18-21:30, more of them with commas.", name
            )
        spans.append((_clock(found[1], found[2], name), _clock(found[3], found[4], name)))
    for start, end in spans:
        if end <= start:
            raise InputError(
                f"{start:%H:%M} to {end:%H:%M} ends before it begins. What goes on past midnight is two days' hours.",
                name,
            )
    spans.sort()
    for (_, end), (start, _) in pairwise(spans):
        if start < end:
            raise InputError(f"Two spans overlap at {start:%H:%M}. Write them as one.", name)
    return tuple(spans)


def _clock(hours: str, minutes: str | None, name: str) -> time:
    h, m = int(hours), int(minutes or 0)
    if (h, m) == (24, 0):
        return MIDNIGHT
    if h > 23 or m > 59:
        raise InputError(f"There is no {h}:{m:02} on a clock; hours go to 24, minutes to 59.", name)
    return time(h, m)


def write_hours(hours: Hours) -> str:
    """As ``read_hours`` reads them."""
    return ", ".join(f"{_written(start)}–{'24' if end == MIDNIGHT else _written(end)}" for start, end in hours)


def _written(clock: time) -> str:
    return f"{clock.hour}:{clock.minute:02}" if clock.minute else f"{clock.hour}"


USUAL: tuple[Hours, ...] = (*(read_hours("18-21"),) * 4, (), read_hours("9-12, 13-17"), ())
"""Four evenings and a Saturday: what is set before somebody sets their own."""


@dataclass(frozen=True, slots=True)
class Week:
    """Hours of each day from Monday on, and of single days that differ."""

    days: tuple[Hours, ...] = USUAL
    apart: Mapping[date, Hours] = field(default_factory=dict)

    def on(self, day: date) -> Hours:
        """The hours of a day."""
        return self.apart.get(day, self.days[day.weekday()])


@dataclass(frozen=True, slots=True)
class Open:
    """Spans in which hands work, minutes from ``origin``, to which day each belongs, and what is to be said of them."""

    origin: datetime
    zone: tzinfo
    windows: tuple[Span, ...]
    days: tuple[int, ...]
    dates: tuple[date, ...]
    said: tuple[str, ...] = ()

    def minute(self, moment: datetime) -> int:
        """A moment as minutes from the origin, rounded down."""
        return int((moment - self.origin).total_seconds() // 60)

    def moment(self, minute: int) -> datetime:
        """Minutes from the origin as a moment on the clock of the shop."""
        return (self.origin + timedelta(minutes=minute)).astimezone(self.zone)


def opened(week: Week, now: datetime, days: int, zone: tzinfo) -> Open:
    """The open hours from ``now`` (with its zone) on for so many days, counted from midnight of today by the shop's
    clock. What of today is over is left out."""
    today = now.astimezone(zone).date()
    origin = datetime.combine(today, time(), zone).astimezone(UTC)
    windows: list[Span] = []
    of_day: list[int] = []
    said: list[str] = []
    dates = tuple(today + timedelta(days=at) for at in range(days))
    began = -int(-(now - origin).total_seconds() // 60)
    began += -began % STEP
    for at, day in enumerate(dates):
        for low, high in _spans(week.on(day), day, zone, origin, said):
            if max(low, began) < high:
                windows.append((max(low, began), high))
                of_day.append(at)
    return Open(origin, zone, tuple(windows), tuple(of_day), dates, tuple(said))


def _spans(hours: Hours, day: date, zone: tzinfo, origin: datetime, said: list[str]) -> Iterator[Span]:
    for start, end in hours:
        closing = (
            datetime.combine(day + timedelta(days=1), time(), zone)
            if end == MIDNIGHT
            else datetime.combine(day, end, zone)
        )
        low, high = (
            int((moment.astimezone(UTC) - origin).total_seconds() // 60)
            for moment in (datetime.combine(day, start, zone), closing)
        )
        low, high = low + -low % STEP, high - high % STEP
        if high > low:
            yield low, high
        else:
            said.append(
                f"On {day:%A} {day.day} {day:%B} the clock is put on: nothing is left of {start:%H:%M} to {end:%H:%M}."
            )


MOST_APART = 400
"""Days that may differ from the week."""

_DAYS_APART = re.compile(r"(\d{4}-\d{2}-\d{2})(?:\s*(?:to|–|\.\.)\s*(\d{4}-\d{2}-\d{2}))?\s*:?\s*(.*)")


def read_apart(text: str, name: str = "apart") -> dict[date, Hours]:
    """Days that differ, one line each: a date, or two with "to" between them, and the hours then, or "away". Raises
    InputError."""
    found: dict[date, Hours] = {}
    for line in text.splitlines():
        if not line.strip():
            continue
        read = _DAYS_APART.fullmatch(line.strip().lower())
        if read is None:
            raise InputError(
                f"“{line.strip()}” is no day. Write it like 2026-12-24 away, or 2026-12-24 to 2026-12-27 away.", name
            )
        first = _date(read[1], name)
        last = _date(read[2], name) if read[2] else first
        if last < first:
            raise InputError(f"{last} comes before {first}. Write the earlier day first.", name)
        if len(found) + (last - first).days >= MOST_APART:
            raise InputError(f"At most {MOST_APART} days can differ from the week.", name)
        hours = read_hours(read[3], name)
        found |= {first + timedelta(days=at): hours for at in range((last - first).days + 1)}
    return found


def _date(text: str, name: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise InputError(f"There is no day {text}. Write year, month and day, like 2026-12-24.", name) from None


def write_apart(apart: Mapping[date, Hours]) -> str:
    """As ``read_apart`` reads it."""
    return "\n".join(f"{day.isoformat()} {write_hours(hours) or 'away'}" for day, hours in sorted(apart.items()))
