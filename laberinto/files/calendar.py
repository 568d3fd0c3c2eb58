"""The calendar as iCalendar (RFC 5545)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from icalendar import Calendar, Event


@dataclass(frozen=True, slots=True)
class Entry:
    """One event: a name that stays the same when it moves, from when to when (with their zone), what, and more
    words."""

    uid: str
    begins: datetime
    ends: datetime
    summary: str
    words: str
    url: str = ""


def ics(entries: Iterable[Entry], name: str, stamp: datetime) -> bytes:
    """A calendar called ``name``; ``stamp`` is when it was worked out. A program that read it before moves an event of
    the same name instead of adding one."""
    calendar = Calendar()
    calendar.add("prodid", "-//Laberinto//Calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", stamp)
        event.add("dtstart", entry.begins)
        event.add("dtend", entry.ends)
        event.add("summary", entry.summary)
        event.add("description", entry.words)
        if entry.url:
            event.add("url", entry.url)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
