"""How long the server takes to answer an edit, and how much it sends: boards of 168, 504 and 5,258 cells."""

from __future__ import annotations

import gzip
import re
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from bench.chaos import chaos
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Ringed
from laberinto.store import Store
from laberinto.web import create_app
from laberinto.web.serving import set_aside

BOARD = Alternating(strips=12, slices=14)


def timed(action: Callable[[int], object], rounds: int = 25) -> tuple[float, float]:
    """Median and 95th percentile of ``action(round)``, ms, after two rounds to warm up."""
    spent = []
    for number in range(rounds + 2):
        start = time.perf_counter()
        action(number)
        spent.append((time.perf_counter() - start) * 1000)
    kept = sorted(spent[2:])
    return statistics.median(kept), kept[int(len(kept) * 0.95)]


def picture(*, remember: bool) -> None:
    """From the plan to the face as SVG; ``remember`` takes what was cut before."""
    sim = simulate(BOARD.plan("Bench"), remember=remember)
    thumbnail(face_of(sim.board.pieces[0], Side.TOP), Ringed(sim, "b"), label="bench")


@dataclass
class Page:
    """A board on a server of its own, edited as its page does."""

    plan: Plan

    def __post_init__(self) -> None:
        app = create_app(Path(tempfile.mkdtemp()))
        self.store: Store = app.extensions["store"]
        self.board = self.store.create(self.plan)
        self.client = app.test_client()
        view = self.store.board(self.board)
        assert view is not None
        self.revision = str(view.revision)
        found = re.search(
            r'name="csrf_token" value="([^"]+)"', self.client.get("/boards/new/alternating").get_data(as_text=True)
        )
        assert found
        self.token = found[1]

    def edit(self, op: str, stage: str, **values: Any) -> None:
        form = {"op": op, "stage": stage, "revision": self.revision, "csrf_token": self.token, **values}
        answer = self.client.post(f"/boards/{self.board}/edit", data=form, headers={"HX-Request": "true"})
        page = answer.get_data(as_text=True)
        found = re.search(r'name="revision" value="(\d+)"', page)
        assert answer.status_code == 200 and found, page
        self.revision = found[1]  # the next edit says what it was made on, as a page does

    def slice_thinner(self, number: int) -> None:
        """Slices a little thinner: everything after them is cut again."""
        self.edit("parameters", "slices", slice=41.9 - number / 50, edited="slice")

    def weight(self) -> float:
        """kB that a browser gets to show the face: the page, and the face as data where a canvas paints it."""
        page = self.client.get(f"/boards/{self.board}?view=face").get_data(as_text=True)
        sent = len(gzip.compress(page.encode()))
        source = re.search(r'data-paint="([^"]+)"', page)
        if source:
            sent += len(gzip.compress(self.client.get(source[1].replace("&amp;", "&")).data))
        return sent / 1000


def rows() -> dict[str, Callable[[int], object]]:
    """What is measured, by name; the first is the baseline."""
    plan = BOARD.plan("Bench")
    page, few, many = Page(plan), Page(chaos(20)), Page(chaos(120))
    set_aside()  # as the server does when it starts
    arrange = next(s.id for s in few.plan.stages if s.kind == "arrange")
    return {
        "12 strips × 14 slices, cold simulation (baseline)": lambda n: simulate(plan, remember=False),
        "the same from the plan to the face as SVG": lambda n: picture(remember=False),
        "the same where it was cut before": lambda n: picture(remember=True),
        "168 cells: a strip's width": lambda n: page.edit("strip-width", "strips", at=1, **{"width-1": 24 + n / 10}),
        "168 cells: a row flipped": lambda n: page.edit("row-flip", "rows", at=n % 14),
        "168 cells: the chamfer": lambda n: page.edit("parameters", "eased", size=1 + n / 10, edited="size"),
        "504 cells: a row flipped": lambda n: few.edit("row-flip", arrange, at=n % 7),
        "504 cells: slices thinner": few.slice_thinner,
        "5,258 cells: a row flipped": lambda n: many.edit("row-flip", arrange, at=n % 12),
        "5,258 cells: slices thinner": many.slice_thinner,
        "page of the board": lambda n: page.client.get(f"/boards/{page.board}"),
        "list of boards": lambda n: page.client.get("/"),
    }


def weights() -> dict[str, float]:
    """kB compressed to show a face, by board."""
    return {f"{name}: the face, compressed": Page(plan).weight() for name, plan in
            (("168 cells", BOARD.plan("Bench")), ("504 cells", chaos(20)), ("5,258 cells", chaos(120)))}  # fmt: skip
