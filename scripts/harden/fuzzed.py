"""Random values to every address there is."""

from __future__ import annotations

import random
import re
import time
from collections.abc import Iterable, Mapping
from http.client import HTTPException
from pathlib import Path
from typing import Protocol

from werkzeug.routing import Rule

from laberinto.core.patterns import FAMILIES
from laberinto.store import DATABASE, Store, open_database
from laberinto.web import create_app

from .report import Bounds, Report, spread
from .served import Guest, served

SLOW = 2.0
"""Seconds after which an answer is too late, on a quiet machine."""

MOST_HELD = 600.0
"""MB that a server holds after all of it, at most."""

FEW = 5000
"""So many requests must be done before what the server holds tells anything."""

VALUES = (
    "", "0", "-1", "1", "3", "1e309", "nan", "9" * 19, "9" * 400, "x", "'", "<b>x</b>", "../../etc/passwd", "\0",
    "é" * 50, "beech", "a4", "top", "strips", "rows", "2026-02-30", "1,2,3", "{}", "[[]]", "12 1/2", "%s%n", "yes",
)  # fmt: skip
"""What is typed where it does not belong, and some of what does."""

NAMES = (
    "op", "stage", "piece", "revision", "to", "letter", "name", "key", "value", "lines", "width", "height", "from",
    "find", "sort", "paper", "part", "at", "step", "measured", "text", "kind", "aim", "seed", "family", "picture",
)  # fmt: skip


class Asker(Protocol):
    """Whoever asks: the status of a page, and of a form that is sent."""

    def get(self, path: str, values: Mapping[str, object] = ...) -> int: ...
    def post(self, path: str, values: Mapping[str, object]) -> int: ...
    def renew(self) -> None: ...


def requests(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Random values to every address of a server: no answer is a fault of ours, none takes long, and what the server
    holds in memory stays level."""
    rules = [rule for rule in create_app(folder).url_map.iter_rules() if rule.endpoint != "static"]
    store = Store(open_database(folder / DATABASE))
    for family in list(FAMILIES.values())[:3]:
        store.create(family().plan(family.title))
    store.engine.dispose()
    with served(folder) as server:
        report = fuzz(bounds, Guest(server.port), rules, chance)
        held = server.held()
    report.said += f"; the server holds {held:.0f} MB"
    if report.done >= FEW and held > MOST_HELD:
        report.fail(f"the server holds {held:.0f} MB")
    return report


def fuzz(bounds: Bounds, guest: Asker, rules: Iterable[Rule], chance: random.Random) -> Report:
    """Send random values to the addresses of some rules."""
    report, took, every = Report("requests"), [], list(rules)
    for number in bounds.rounds():
        rule = chance.choice(every)
        path = re.sub(r"<(?:(\w+):)?\w+>", lambda found: _part(found[1], chance), rule.rule)
        form = {chance.choice(NAMES): chance.choice(VALUES) for _ in range(chance.randint(0, 5))}
        try:
            if number % 200 == 0:
                guest.renew()
            begun = time.monotonic()
            status = guest.post(path, form) if "POST" in (rule.methods or ()) else guest.get(path, form)
        except (OSError, HTTPException, UnicodeError) as error:  # it should have been a page
            report.fail(f"{path} {form}: {error!r}")
            continue
        took.append(time.monotonic() - begun)
        if status >= 500 and status != 503:
            report.fail(f"{path} {form}: {status}")
        report.done += 1
    report.said = f"{sum(one > SLOW for one in took)} over {SLOW:g} s; {spread(took)}"
    return report


def _part(kind: str | None, chance: random.Random) -> str:
    if kind == "int":
        return chance.choice(["1", "1", "2", "3", "0", "999", "9" * 18])
    return chance.choice(["strips", "rows", "board", "alternating", "beech", "top", "x", "end", "1", "a" * 200, "%00"])
