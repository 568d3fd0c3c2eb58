"""``make bench``: how long an edit of the first-walk board takes, part by part, as a table.

The baseline is a cold simulation of the whole plan with nothing remembered. Chaos boards show how it grows.
"""

from __future__ import annotations

import re
import statistics
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from bench.chaos import chaos
from laberinto.core.patterns import Alternating
from laberinto.core.plan import Plan
from laberinto.core.simulate import simulate
from laberinto.store import Store
from laberinto.web import create_app

BOARD = Alternating("Bench", strips=12, slices=14)


def timed(action: Callable[[int], object], rounds: int = 25) -> tuple[float, float]:
    """Median and 95th percentile of ``action(round)``, ms, after two rounds to warm up."""
    spent = []
    for number in range(rounds + 2):
        start = time.perf_counter()
        action(number)
        spent.append((time.perf_counter() - start) * 1000)
    kept = sorted(spent[2:])
    return statistics.median(kept), kept[int(len(kept) * 0.95)]


def cold(plan: Plan, _number: int) -> None:
    """Act out a plan with nothing remembered."""
    simulate(plan, remember=False)


def main() -> None:
    app = create_app(Path(tempfile.mkdtemp()))
    store: Store = app.extensions["store"]
    board = store.create(BOARD.plan())
    client = app.test_client()
    token = re.search(r'name="csrf_token" value="([^"]+)"', client.get("/").get_data(as_text=True))
    assert token

    def edit(op: str, stage: str, **values: object) -> None:
        view = store.board(board)
        assert view is not None
        form = {"op": op, "stage": stage, "revision": view.revision, "csrf_token": token[1], **values}
        answer = client.post(f"/boards/{board}/edit", data=form, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.get_data(as_text=True)

    plan = BOARD.plan()
    rows: dict[str, Callable[[int], object]] = {
        "cold simulation, 12 strips × 14 slices (baseline)": lambda n: simulate(plan, remember=False),
        "edit in the first stage: a strip's width": lambda n: edit(
            "strip-width", "strips", at=1, **{"width-1": 24 + n / 10}
        ),
        "edit in the middle: a row flipped": lambda n: edit("row-flip", "rows", at=n % 14),
        "edit in the last cut: the chamfer": lambda n: edit("parameters", "eased", size=1 + n / 10, edited="size"),
        "page of the board": lambda n: client.get(f"/boards/{board}"),
        "list of boards": lambda n: client.get("/"),
    }
    for strips in (20, 60):
        cells = len(simulate(chaos(strips)).board.pieces[0])
        rows[f"cold simulation, chaos board of {cells} cells"] = partial(cold, chaos(strips))
    base = 0.0
    print(f"{'':52} {'median ms':>10} {'p95 ms':>8} {'to baseline':>12}")
    for name, action in rows.items():
        median, p95 = timed(action, 5 if "chaos" in name else 25)
        base = base or median
        print(f"{name:52} {median:10.1f} {p95:8.1f} {median / base:11.2f}×")


if __name__ == "__main__":
    main()
