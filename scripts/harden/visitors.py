"""Fifty who look and edit at once, and one who looks while searches are at work."""

from __future__ import annotations

import random
import time
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPException
from pathlib import Path

from laberinto.core.patterns import Alternating, Chaos
from laberinto.store import DATABASE, Store, open_database

from .report import Bounds, Report, spread
from .served import Guest, served

MANY = 50

READS = (1.0, 5.0)
"""Seconds that somebody looks at a page before the next, at least and at most: quicker than anybody works."""

LATE = 1.0
"""Seconds that 95 % of the answers are under, on a quiet machine with two cores."""


def visitors(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Fifty who each look at a page or edit a board, read for a moment and go on: nobody gets an error."""
    report, store = Report("visitors"), Store(open_database(folder / DATABASE))
    boards = [store.create(Alternating(strips=6, slices=6).plan(f"Shoal {k}")) for k in range(5)]
    pages = ["/", "/now", "/timber", "/shop"]
    pages += [f"/boards/{board}{page}" for board in boards for page in ("", "/steps", "/bench")]
    took: list[float] = []
    seeds = [chance.random() for _ in range(MANY)]

    def visit(number: int) -> None:
        guest, own, board = Guest(port), random.Random(seeds[number]), boards[number % len(boards)]
        time.sleep(own.uniform(0, READS[1]))  # they do not all come at the same moment
        guest.renew()
        for turn in bounds.rounds():
            time.sleep(own.uniform(*READS))
            begun = time.monotonic()
            try:
                asked, status = _look(guest, own.choice(pages)) if turn % 4 else _edit(guest, store, board, own)
            except (OSError, HTTPException) as error:
                report.fail(repr(error))
                continue
            took.append(time.monotonic() - begun)
            # somebody else was quicker: that is told, and no error
            if status >= 400 and status != 409:
                report.fail(f"{asked}: {status}")

    with served(folder) as server:
        port = server.port
        for page in pages:
            Guest(port).get(page)  # a shop that is at work was looked at before
        with ThreadPoolExecutor(MANY) as pool:
            list(pool.map(visit, range(MANY)))
    store.engine.dispose()
    report.done = len(took)
    report.said = f"{spread(took)}, while each reads {READS[0]:g} to {READS[1]:g} s"
    return report


def _look(guest: Guest, page: str) -> tuple[str, int]:
    return page, guest.get(page)


def _edit(guest: Guest, store: Store, board: int, own: random.Random) -> tuple[str, int]:
    """Change the width of a strip; the revision is the one a page would show now."""
    view, at = store.board(board), own.randrange(6)
    return "an edit", guest.post(f"/boards/{board}/edit", {
        "op": "strip-width", "stage": "strips", "at": at, f"width-{at}": own.choice(["24", "31.5", "40"]),
        "revision": view.revision if view else 0,
    })  # fmt: skip


def beside(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """One who looks at pages while two searches are at work: they stand back."""
    report, store = Report("beside"), Store(open_database(folder / DATABASE))
    searched = [store.create(Chaos.of(passes=2).plan(f"Wrack {k}")) for k in range(2)]
    board = store.create(Alternating(strips=6, slices=6).plan("Shoal"))
    store.engine.dispose()
    pages = ["/", "/now", "/timber", f"/boards/{board}", f"/boards/{board}/steps", f"/boards/{board}/bench"]
    took: list[float] = []
    with served(folder) as server:
        guest = Guest(server.port)
        for page in [*pages, *(f"/boards/{number}/judge" for number in searched)]:
            guest.get(page)
        for turn in bounds.rounds():
            if turn % 20 == 0:
                for number in searched:  # the same again where it is done: a search ends sooner or later
                    guest.post(f"/boards/{number}/judge/arrange", {"wish-repetition": "avoid", "seed": turn + 1})
            begun, page = time.monotonic(), chance.choice(pages)
            status = guest.get(page)
            took.append(time.monotonic() - begun)
            if status >= 400:
                report.fail(f"{page}: {status}")
    report.done, report.said = len(took), spread(took)
    return report
