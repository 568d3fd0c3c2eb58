"""Finding a board for an address."""

from __future__ import annotations

from flask import abort

from laberinto.store import BoardView

from .present import store


def find(board_id: int) -> BoardView:
    """The board, or a page that says there is none."""
    board = store().board(board_id)
    if board is None:
        abort(404)
    return board
