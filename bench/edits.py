"""How long the server takes to answer an edit of the first-walk board."""

from __future__ import annotations

import re
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from laberinto.core.faces import Side, face_of
from laberinto.core.patterns import Alternating
from laberinto.core.simulate import simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Ringed
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


def picture(_number: int) -> None:
    """From the plan to the face as SVG, nothing remembered."""
    sim = simulate(BOARD.plan(), remember=False)
    thumbnail(face_of(sim.board.pieces[0], Side.TOP), Ringed(sim, "b"), label="bench")


def rows() -> dict[str, Callable[[int], object]]:
    """What is measured, by name; the first is the baseline."""
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
    return {
        "12 strips × 14 slices, cold simulation (baseline)": lambda n: simulate(plan, remember=False),
        "the same from the plan to the face as SVG": picture,
        "edit in the first stage: a strip's width": lambda n: edit(
            "strip-width", "strips", at=1, **{"width-1": 24 + n / 10}
        ),
        "edit in the middle: a row flipped": lambda n: edit("row-flip", "rows", at=n % 14),
        "edit in the last cut: the chamfer": lambda n: edit("parameters", "eased", size=1 + n / 10, edited="size"),
        "page of the board": lambda n: client.get(f"/boards/{board}"),
        "list of boards": lambda n: client.get("/"),
    }
