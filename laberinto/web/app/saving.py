"""Changes of a board as they are kept, and what is asked where its wood is cut already."""

from __future__ import annotations

from laberinto.core.asbuilt import SAID
from laberinto.core.edits import Edit
from laberinto.core.edits.cut import CUT, cut_otherwise, marked
from laberinto.core.edits.model import LEFT
from laberinto.core.plan.model import Plan
from laberinto.store import BoardView

from . import present
from .thread import begun

OTHERWISE = (SAID, LEFT)
"""Changes that begin so tell how the wood came out."""


def save(board: BoardView, edit: Edit, *, based_on: int, token: str = "") -> BoardView:
    """Keep an edit; the history says where it changes wood that is cut. Raises StaleError as the store does."""
    ticks = present.store().build(board.id).ticks()
    edit = marked(board.plan, edit, begun(board.plan, ticks), OTHERWISE) if ticks else edit
    return present.store().save(board.id, edit.plan, edit.words, based_on=based_on, token=token)


def cut_away(board: BoardView) -> tuple[Plan, tuple[str, ...]] | None:
    """The plan before the last changes of wood that is cut, and which stages of it they changed; None where the last
    change is none, or where what it changed was made anew."""
    if not board.words.endswith(CUT):
        return None
    before = present.store().revisions(board.id).before(lambda words: words.endswith(CUT))
    ticks = present.store().build(board.id).ticks()
    cut = cut_otherwise(before, board.plan, begun(before, ticks)) if before else ()
    return (before, cut) if before and cut else None
