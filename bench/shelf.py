"""A shop of years: 1,000 boards with 20,000 log entries, generated. How long its list takes to show and to search, and
what the boards say together."""

from __future__ import annotations

import random
import statistics
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlmodel import Session

from laberinto.core.patterns import Alternating
from laberinto.store import Store, open_database
from laberinto.store.plans import text_of
from laberinto.store.tables import Board, Note, Revision, Tick
from laberinto.web import create_app

BOARDS, ENTRIES, ROUNDS = 1000, 20_000, 9

SHELF = ("/", "/?find=plum", "/?find=board+77", "/?only=begun&sort=due")
"""The first view, two searches and a filter."""


def generate(folder: Path) -> None:
    """A shop like that; the same each time."""
    chance, today = random.Random(7), datetime(2026, 11, 1, tzinfo=UTC)
    plans = [
        Alternating(light=light, dark=dark, strips=strips, slices=8)
        for light, dark in (("hornbeam", "elm"), ("beech", "plum"), ("holly", "plum"), ("pear", "robinia"))
        for strips in (6, 8)
    ]
    with Session(open_database(folder / "laberinto.db")) as session:
        for number in range(1, BOARDS + 1):
            at = today - timedelta(days=chance.uniform(0, 1500))
            plan = chance.choice(plans).plan(f"Board {number}")
            board = Board(name=plan.name, order_for=f"Order {number % 90}", created=at, changed=at)
            session.add(board)
            session.flush()
            revision = Revision(board=board.id, plan=text_of(plan), words="started", created=at)
            session.add(revision)
            session.flush()
            board.head = revision.id
            if chance.random() < 0.6:
                session.add(Tick(board=board.id, step="strips.rip", done=at))
        for _ in range(ENTRIES):
            session.add(Note(board=chance.randint(1, BOARDS), step="panel-flat.flatten", text="Thinner than planned",
                             measured=29.8, planned=30.0, quantity="to", created=today))  # fmt: skip
        session.commit()


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        generate(folder)
        assert len(Store(open_database(folder / "laberinto.db")).boards()) == BOARDS
        client = create_app(folder).test_client()
        print(f"{f'a shelf of {BOARDS} boards, {ENTRIES} entries':48} {'first ms':>12} {'median ms':>9}")
        for path in SHELF:
            times, typed = [], {"HX-Request": "true"}  # a search asks with every letter
            for _ in range(ROUNDS):
                start = time.perf_counter()
                assert client.get(path, headers=typed if "find" in path else {}).status_code == 200
                times.append((time.perf_counter() - start) * 1000)
            print(f"{path:48} {times[0]:12.0f} {statistics.median(times[1:]):9.0f}")


if __name__ == "__main__":
    main()
