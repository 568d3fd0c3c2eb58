"""The timber store as a CSV file, one lot a line, lengths in mm; reading tells good rows from bad ones."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass

from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.timber import Defect, Lot
from laberinto.core.timber.lines import MOST_COUNT
from laberinto.core.units import parse_number, parse_whole

from .table import guarded, unguarded

COLUMNS = (
    "kind", "wood", "count", "length", "width", "thickness", "moisture", "price", "radius", "place", "note", "defects",
)  # fmt: skip
_LENGTHS = frozenset({"length", "width", "thickness", "radius"})
_NUMBERS = _LENGTHS | {"moisture", "price"}
_MUST = ("wood", "length", "width", "thickness")

MOST_ROWS = 5000


class TableError(LaberintoError):
    """The file is no such table at all."""


@dataclass(frozen=True, slots=True)
class Row:
    """A row of a file: its line, its text, and the lot it makes or what is wrong."""

    line: int
    text: str
    lot: Lot | None
    problem: str = ""


def write_csv(lots: Iterable[Lot]) -> str:
    """All lots, under a heading row."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for lot in lots:
        values = [getattr(lot, name) for name in COLUMNS[:-1]]
        faults = "; ".join(f"{d.what} {d.start:g} {d.end:g} {d.low:g} {d.high:g}" for d in lot.defects)
        table.writerow(
            [*("" if v is None else f"{v:.10g}" if isinstance(v, float) else guarded(str(v)) for v in values), faults]
        )
    return out.getvalue()


def read_csv(data: bytes) -> list[Row]:
    """Every row of a file; commas or semicolons between. Raises TableError where it has no heading that we know."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise TableError("This file is not text in UTF-8. Save it as CSV in UTF-8 and try again.") from None
    first = text.partition("\n")[0]
    lines = csv.reader(io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ",", strict=True)
    try:
        heading = [name.strip().lower() for name in next(lines, [])]
        missing = [name for name in _MUST if name not in heading]
        if missing:
            raise TableError(
                f"The first row must name the columns; {', '.join(missing)} is missing. Known are {', '.join(COLUMNS)}."
            )
        unknown = [name for name in heading if name and name not in COLUMNS]
        if unknown:
            raise TableError(f"There is no column “{unknown[0]}”. Known are {', '.join(COLUMNS)}.")
        rows = []
        for cells in lines:
            if any(cell.strip() for cell in cells):
                rows.append(_row(lines.line_num, heading, cells))
            if len(rows) > MOST_ROWS:
                raise TableError(f"The file has more than {MOST_ROWS} rows; split it.")
        return rows
    except csv.Error as error:
        raise TableError(f"Line {lines.line_num} is not CSV: {error}.") from None


def _row(line: int, heading: list[str], cells: list[str]) -> Row:
    text = ", ".join(cell.strip() for cell in cells if cell.strip())
    if len(cells) > len(heading):
        return Row(line, text, None, f"It has {len(cells)} cells under {len(heading)} columns.")
    values: dict[str, object] = {}
    try:
        for name, cell in zip(heading, cells, strict=False):
            if cell.strip():
                values[name] = _value(name, cell.strip())
        return Row(line, text, Lot.of(**values))
    except InputError as error:
        said = error.say()
        if error.field and error.field not in said:
            said = f"{error.field}: {said}"
        # a length that is a number but cannot be is most likely in metres or inches
        return Row(line, text, None, f"{said} Lengths are in mm." if error.field in _LENGTHS & set(values) else said)


def _value(name: str, cell: str) -> object:
    if name == "defects":
        return tuple(_fault(part) for part in cell.split(";") if part.strip())
    if name not in _NUMBERS and name != "count":
        return cell.lower() if name in ("kind", "wood") else unguarded(cell)
    return parse_whole(cell, 1, MOST_COUNT, name) if name == "count" else parse_number(cell, name)


def _fault(text: str) -> Defect:
    *what, start, end, low, high = text.split() if len(text.split()) > 4 else [text, "", "", "", ""]
    try:
        x0, x1, y0, y1 = (parse_number(part) for part in (start, end, low, high))
        return Defect(what=" ".join(what), start=x0, end=x1, low=y0, high=y1)
    except (InputError, ValueError):
        raise InputError(
            f"“{text.strip()}” is not a fault. Write what it is and four lengths: knot 300 360 40 80.", "defects"
        ) from None
