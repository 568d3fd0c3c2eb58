"""What the calendar goes by: hours of the week, days that differ, the shop's clock, and what matters most."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, tzinfo
from functools import cache
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from ..errors import InputError
from .hours import DAYS, USUAL, Week, read_apart, read_hours, write_apart, write_hours
from .model import AIMS, Aim

KEY = "calendar"
"""The preference that it is kept under."""


@dataclass(frozen=True, slots=True)
class Settings:
    """As they are kept. ``zone`` is the name of a time zone, or "" for that of this machine; ``secret`` stands in the
    address under which others read the calendar, and is "" where nobody may."""

    week: Week
    zone: str = ""
    aims: tuple[Aim, ...] = AIMS
    secret: str = ""

    @property
    def clock(self) -> tzinfo:
        """The shop's clock."""
        if self.zone:
            return ZoneInfo(self.zone)
        local = datetime.now().astimezone().tzinfo
        assert local is not None
        return local

    @property
    def typed(self) -> dict[str, str]:
        """Its fields as text."""
        days = {f"day-{at}": write_hours(hours) for at, hours in enumerate(self.week.days)}
        return {**days, "apart": write_apart(self.week.apart), "zone": self.zone, "first": self.aims[0].value}


def read_settings(typed: Mapping[str, Any], secret: str = "") -> Settings:
    """Settings from their fields as text, those that are missing as they usually are. Raises InputError naming the
    field."""
    days = tuple(
        read_hours(str(typed[f"day-{at}"]), f"day-{at}") if f"day-{at}" in typed else USUAL[at]
        for at in range(len(DAYS))
    )
    zone = str(typed.get("zone", "")).strip()
    if zone and zone not in zones():
        raise InputError(
            f"“{zone}” is no time zone. Write it like Europe/Oslo, or leave it empty for this machine's.", "zone"
        )
    first = str(typed.get("first", Aim.LATE.value))
    if first not in set(Aim):
        raise InputError("Choose what matters most.", "first")
    aims = (Aim(first), *(aim for aim in AIMS if aim.value != first))
    return Settings(Week(days, read_apart(str(typed.get("apart", "")))), zone, aims, secret)


@cache
def zones() -> frozenset[str]:
    """Names of time zones."""
    return frozenset(available_timezones())
