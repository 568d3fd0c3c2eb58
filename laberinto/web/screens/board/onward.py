"""Who moves a figure by a step mostly moves it on: the next step is worked out while this one is looked at."""

from __future__ import annotations

from functools import partial
from math import inf

from flask import Flask, copy_current_request_context, current_app

from laberinto.core.edits.onward import once_more
from laberinto.core.plan.model import Plan
from laberinto.store import BoardView

from ...app import present
from ...app.ahead import Onward
from .looking import Looking
from .view import foresee

REST = 0.1
"""So long after an edit its page is painted, s."""

SMALL = 2
"""Who types a figure that differs by no more than so many steps of the arrow keys is trying one after the other."""


def init(app: Flask) -> None:
    """Look ahead from now on; without this every step is worked out when it is taken."""
    app.extensions["onward"] = Onward(REST)


def follow(before: Plan, board: BoardView, looking: Looking, *, stepped: bool) -> None:
    """Work out the step after the one that led from ``before`` to the board as it is, however large where it was
    ``stepped`` by keys."""
    onward: Onward | None = current_app.extensions.get("onward")
    plan = once_more(before, board.plan, inf if stepped else SMALL * present.lengths().nudge) if onward else None
    if onward and plan:
        onward.want(plan, copy_current_request_context(partial(foresee, board, looking)))


def drop(plan: Plan) -> None:
    """Nothing else is wanted any more than this plan, which somebody came to."""
    onward: Onward | None = current_app.extensions.get("onward")
    if onward:
        onward.drop(but=plan)
