"""Tables as CSV: UTF-8, commas, a heading row, times as ISO 8601; text that a sheet would run as a formula is held back
by an apostrophe, which reading takes off again."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from datetime import date

RISKY = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


def guarded(text: str) -> str:
    """Text that no sheet runs."""
    return "'" + text if text.startswith((*RISKY, "'")) else text


def unguarded(text: str) -> str:
    """The same as it was."""
    return text[1:] if text.startswith("'") and text[1:].startswith((*RISKY, "'")) else text


def table(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """The file's text. What is not known is an empty cell; numbers keep ten digits."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows([[_cell(value) for value in row] for row in rows])
    return out.getvalue()


def rows_of(text: str) -> list[dict[str, str]]:
    """The rows of such a file, by its columns."""
    return [{key: unguarded(value) for key, value in row.items()} for row in csv.DictReader(io.StringIO(text))]


def _cell(value: object) -> object:
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.10g}"
    if isinstance(value, date):
        return value.isoformat()
    return guarded(value) if isinstance(value, str) else value
