"""When the demo's shop is open: its week, and a day away in the next one."""

from __future__ import annotations

from datetime import date, timedelta

from laberinto.core.calendar.hours import Week, read_hours

_DAYS = ("8-12, 13-16", "8-12, 13-16", "8-12, 13-16", "8-12, 13-16, 18-20", "8-12", "9-12", "")


def week(today: date) -> Week:
    """Its hours. On the second Wednesday from now the ferry takes everybody to the timber yard."""
    wednesday = today + timedelta(days=(2 - today.weekday()) % 7 + 7)
    return Week(tuple(read_hours(text) for text in _DAYS), {wednesday: ()})
