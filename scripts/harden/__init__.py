"""Attacks on a throw-away shop, for some minutes: ``make harden MINUTES=20``.

Each part has its share of the time and a number that is enough: random requests, plans that were changed at random,
damaged uploads, a server that is killed while it saves, fifty visitors at once, pages beside two searches, a year's
edits in fast motion. What is wrong is printed as it is found, with what found it; the run ends with 1 then.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import click

from .damaged import plans, uploads
from .fuzzed import requests
from .keeping import edits, kills
from .report import Bounds, Report
from .visitors import beside, visitors

Part = Callable[[Bounds, Path, random.Random], Report]

PARTS: dict[Part, tuple[float, int]] = {
    requests: (0.35, 20_000), plans: (0.2, 2000), uploads: (0.1, 2000), kills: (0.15, 500), visitors: (0.1, 100_000),
    beside: (0.03, 1000), edits: (0.07, 100_000),
}  # fmt: skip
"""Each with its share of the time, and what is enough."""


def attack(seconds: float, seed: int, most: int | None = None) -> list[Report]:
    """All parts; ``most`` of each, if it is given, instead of what is enough."""
    reports = []
    for part, (share, enough) in PARTS.items():
        with TemporaryDirectory(prefix="harden-") as folder:
            click.echo(f"{part.__name__} …")
            bounds = Bounds(seconds * share, min(enough, most) if most else enough)
            reports.append(part(bounds, Path(folder), random.Random(seed)))
    return reports
