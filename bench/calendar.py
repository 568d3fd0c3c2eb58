"""A calendar of ten boards with some twenty-five jobs each over six weeks: how soon there is a plain one, how long the
best takes, and how far that is from what no calendar can beat."""

from __future__ import annotations

import time
from datetime import UTC, datetime, timedelta

from laberinto.core.calendar.assemble import Work, assemble
from laberinto.core.calendar.hours import Week, opened, read_hours
from laberinto.core.calendar.model import AIMS
from laberinto.core.calendar.solve import solve
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop

BOARDS = ("framed", "stairs", "weave", "blocks", "diamonds", "tumbling", "chaos", "nested", "rings", "alternating")
HOURS = tuple(read_hours(text) for text in ("8-12, 13-16",) * 4 + ("8-12", "9-12", ""))
MONDAY = datetime(2026, 11, 30, 6, tzinfo=UTC)


def main() -> None:
    works = [
        Work(at, name, simulate(FAMILIES[name]().plan(name)), {}, MONDAY + timedelta(days=18 + 2 * at))
        for at, name in enumerate(BOARDS, 1)
    ]
    hours = opened(Week(HOURS), MONDAY, 42, UTC)
    began = time.perf_counter()
    work = assemble(works, Shop(), hours)
    plain = time.perf_counter() - began
    found = solve(work.problem)
    took = time.perf_counter() - began - plain
    jobs = len(work.problem.jobs)
    print(f"{f'calendar: {len(works)} boards, {jobs} jobs, 42 days':48} {'plain s':>12} {'best s':>9}")
    print(f"{'':48} {plain:12.2f} {took:9.1f}")
    for aim in AIMS:
        best, low = found.values[aim], found.bounds[aim]
        off = (best - low) / low if low else float(best > 0)
        print(f"{f'calendar: {aim.words}':48} {best:12} {low:9} {off * 100:7.1f} % off its bound")
