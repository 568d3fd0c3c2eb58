"""Where things live: the pages of a board, grouped as the work goes, and those of the shop. The line at the top, the
command palette and the tests read them from here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Flask, url_for


@dataclass(frozen=True, slots=True)
class Place:
    """A page: its key, what it is called, what it is for, and where. ``names`` says by which name a board's number goes
    in its address."""

    key: str
    words: str
    about: str
    endpoint: str
    names: str = "board_id"

    def address(self, board_id: int | None = None) -> str:
        """Where it is, of a board where one is given."""
        values: dict[str, Any] = {} if board_id is None else {self.names: board_id}
        return url_for(self.endpoint, **values)


@dataclass(frozen=True, slots=True)
class Group:
    """Pages of a board that belong to one part of the work."""

    words: str
    places: tuple[Place, ...]

    def holds(self, key: str) -> bool:
        """Whether a page is among them."""
        return any(place.key == key for place in self.places)


OF_BOARD: tuple[Group, ...] = (
    Group("Design", (
        Place("board", "Drawing", "Strips, stages, rows and the face they make", "board.page"),
        Place("judge", "Judge", "Scores, another order, and whether to cut it again", "judge.page"),
        Place("size", "Size", "A finished size, and what it takes", "sizing.size"),
        Place("compare", "Compare", "Beside another board or an earlier state", "compare.page", "one"),
    )),
    Group("Ready", (
        Place("checks", "Checks", "What to settle before the first cut", "checks.page"),
        Place("wood", "Wood", "Which planks it comes from, and how they are cut", "wood.page"),
        Place("cost", "Cost", "Wood, hours, glue and finish", "cost.page"),
        Place("paper", "Paper", "What is printed or saved as a file", "paper.page"),
    )),
    Group("Build", (
        Place("steps", "Steps", "Cut list and every step", "steps.page"),
        Place("bench", "Bench", "One step, large, at arm's length", "bench.page"),
        Place("build", "Build log", "One step at a time, ticked and measured", "build.page"),
        Place("faults", "Faults", "What was found on its faces and edges, and how it was mended", "faults.page"),
    )),
    Group("Kept", (Place("kept", "Record", "What the board became", "kept.page"),)),
)  # fmt: skip
"""In the order in which a board is made."""

OF_SHOP: tuple[Place, ...] = (
    Place("now", "Now", "What waits, what is next, what is due", "now.page"),
    Place("calendar", "Calendar", "The weeks of all boards, and what is done today", "calendar.page"),
    Place("boards", "Boards", "All boards", "boards.index"),
    Place("timber", "Timber", "The wood in store", "timber.page"),
    Place("shop", "Shop", "Machines, allowances, prices", "shop.page"),
)
"""What belongs to the shop, whichever board is open."""

BESIDE: tuple[Place, ...] = (
    Place("patterns", "New board", "Choose a pattern and woods", "patterns.gallery"),
    Place("today", "Today", "What to do today, in order", "calendar.today"),
    Place("orders", "Orders", "What is promised to whom, by when and at what price", "orders.index"),
    Place("reckoners", "Reckoners", "Sums with their drawings", "reckoners.page"),
    Place("from-wood", "From the wood I have", "What a heap of strips can become", "sizing.from_wood"),
    Place("which", "Which board?", "Plank, edge grain or end grain", "learn.which"),
    Place("lessons", "Lessons", "What earlier boards taught, and when it is said again", "lessons.page"),
    Place("together", "All boards together", "Hours, money, waste, woods and faults of every board", "together.page"),
    Place("woods", "Woods", "The library, and woods of your own with how they look", "woods.page"),
    Place("trash", "Trash", "Lots and photos that were removed, for a month", "trash.page"),
    Place("safe", "Safe keeping", "Backups, and how the data are", "safe.page"),
    Place("devices", "Devices", "Tablets and phones that are let in", "doors.page"),
    Place("glossary", "Words", "What the trade's words mean", "learn.glossary"),
    Place("start", "First minutes", "Three questions, and a board in eight presses", "learn.start"),
)
"""What stands in no line, but where it is needed and in the palette."""


def init(app: Flask) -> None:
    """Tell templates."""
    app.jinja_env.globals.update(of_board=OF_BOARD, of_shop=OF_SHOP)
