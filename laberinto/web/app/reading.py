"""Whole numbers, numbers and ids out of addresses and forms: read here and nowhere else.

A person's typed lengths are read by ``core.units``. What is read here is what our own pages send, so a value that
cannot be is a mistyped address or a form that lost its place, never a reason for an error page of the server's.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from datetime import UTC, date, datetime, time
from enum import StrEnum
from typing import TypeVar

from flask import Flask
from werkzeug.routing import IntegerConverter, ValidationError

from laberinto.core.errors import InputError

E = TypeVar("E", bound=StrEnum)

LARGEST_ID = 2**63 - 1
"""SQLite keeps no larger whole number."""

_WHOLE = re.compile(r"\d{1,19}", re.ASCII)
_NUMBER = re.compile(r"[-+]?\d{1,15}(?:\.\d{0,20})?(?:e[-+]?\d{1,2})?", re.ASCII | re.IGNORECASE)

LOST = "That button lost its place; reload the page."


class Id(IntegerConverter):
    """``<int:…>`` in an address: what no database can hold is no address of ours."""

    regex = r"\d{1,19}"

    def to_python(self, value: str) -> int:
        number = whole(value)
        if number is None:
            raise ValidationError
        return number


def whole(text: str | None, most: int = LARGEST_ID) -> int | None:
    """A whole number from 0 to ``most``, or None where the text is none."""
    text = (text or "").strip()
    if not _WHOLE.fullmatch(text):
        return None
    number = int(text)
    return number if number <= most else None


def number(text: str | None) -> float | None:
    """A finite number, or None where the text is none."""
    text = (text or "").strip()
    if not _NUMBER.fullmatch(text):
        return None
    value = float(text)
    return value if math.isfinite(value) else None


def wholes(text: str | None, apart: str = ",") -> list[int] | None:
    """Whole numbers with commas between, or None where one is none."""
    found = [whole(part) for part in (text or "").split(apart)]
    return None if None in found else [part for part in found if part is not None]


def numbers(text: str | None, apart: str = ",") -> list[float] | None:
    """Finite numbers with commas between, or None where one is none."""
    found = [number(part) for part in (text or "").split(apart)]
    return None if None in found else [part for part in found if part is not None]


def day(text: str, name: str) -> datetime | None:
    """A typed day, until whose end there is time; None where none is given. Raises InputError."""
    if not text.strip():
        return None
    try:
        return datetime.combine(date.fromisoformat(text.strip()), time(23, 59), UTC)
    except ValueError:
        raise InputError(
            f"“{text.strip()[:40]}” is no day. Write it like 2027-03-14, or leave it empty.", name
        ) from None


def line(text: str, most: int, name: str) -> str:
    """A line as it was typed, spaces put right. Raises InputError where it is longer than ``most`` characters."""
    found = " ".join(text.split())
    if len(found) > most:
        raise InputError(f"That is {len(found)} characters; {most} fit here.", name)
    return found


def own_path(text: str) -> str:
    """An address of this server to go on to, whatever was sent as one; the first page where it leads elsewhere."""
    ours = text.startswith("/") and not text.startswith("//") and "\\" not in text
    return text if ours else "/"


def must_whole(form: Mapping[str, str], name: str) -> int:
    """A whole number that a button of ours sends; raises InputError where it is none."""
    found = whole(form.get(name))
    if found is None:
        raise InputError(LOST)
    return found


def must_number(form: Mapping[str, str], name: str) -> float:
    """A number that a drag of ours sends; raises InputError where it is none."""
    found = number(form.get(name))
    if found is None:
        raise InputError("That drag lost its place; reload the page.")
    return found


def must_wholes(form: Mapping[str, str], name: str) -> list[int]:
    """The pieces an edit is for, as positions with commas between; raises InputError where they are none."""
    found = wholes(form.get(name))
    if found is None:
        raise InputError(LOST)
    return found


def must_be(kind: type[E], form: Mapping[str, str], name: str) -> E:
    """One of a few words that a button of ours sends; raises InputError where it is none."""
    try:
        return kind(form.get(name, ""))
    except ValueError:
        raise InputError(LOST) from None


def init(app: Flask) -> None:
    app.url_map.converters["int"] = Id
