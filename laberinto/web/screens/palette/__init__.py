"""What the command palette knows: every board, page, pattern and stage. What can be done on the page it is opened on,
it
reads off that page's buttons."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

from flask import Blueprint, Response, jsonify, request, url_for

from laberinto.core.patterns import FAMILIES
from laberinto.store import BoardView

from ...app import places, present, reading

bp = Blueprint("palette", __name__)

Entry = dict[str, str]


def _entry(words: str, about: str, href: str) -> Entry:
    return {"words": words, "about": about, "href": href}


def _of(board: BoardView) -> Iterator[Entry]:
    """Pages and stages of the board that is open."""
    for group in places.OF_BOARD:
        for place in group.places:
            yield _entry(place.words, f"{board.name}, {group.words.lower()}", place.address(board.id))
    yield _entry("What if", f"{board.name}, another blade, strip or wood", url_for("whatif.page", board_id=board.id))
    for number, stage in enumerate(board.plan.stages, 1):
        to = url_for("board.page", board_id=board.id, stage=stage.id)
        yield _entry(stage.heading, f"{board.name}, stage {number}", to)


def _everywhere() -> Iterator[Entry]:
    for place in (*places.OF_SHOP, *places.BESIDE):
        yield _entry(place.words, place.about, place.address())
    for board in present.store().boards():
        to = url_for("board.page", board_id=board.id)
        yield _entry(board.name, " ".join(filter(None, ("Board", board.order_for and f"for {board.order_for}"))), to)
    for key, family in FAMILIES.items():
        yield _entry(family.title, "New board with this pattern", url_for("patterns.form", key=key))


@bp.get("/palette.json")
def index() -> Response:
    """Where one can go, the open board's own places first."""
    board_id = reading.whole(request.args.get("board"))
    board = present.store().board(board_id) if board_id is not None else None
    return jsonify(list(chain(_of(board) if board else (), _everywhere())))
