"""All that the checks say of a board, as one list to work through: settle it, go there, or let it stand and say why."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, redirect, render_template, request, url_for

from laberinto.core.edits.parameters import settle
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Check, Severity
from laberinto.core.steps import DEFER
from laberinto.store import BoardView, StaleError

from ...app import present
from ...app.findings import Said, findings, said
from ...app.lookup import find
from ...app.saving import save
from ...app.thread import begun

bp = Blueprint("checks", __name__, url_prefix="/boards/<int:board_id>/checks", template_folder="templates")

LONGEST = 200
"""Longest reason, characters."""


def _page(board: BoardView, wrong: dict[str, str] | None = None, typed: str = "", status: int = 200) -> tuple[str, int]:
    found: list[Check] = []
    broken = ""
    try:
        found = findings(board.id, simulate(board.plan))
    except LaberintoError as error:
        broken = error.say(present.lengths())
    open_ = [c for c in found if not c.let_stand]
    return render_template(
        "checks/page.html", board=board, open=[c for c in open_ if c.severity is not Severity.NOTE], broken=broken,
        notes=[c for c in open_ if c.severity is Severity.NOTE], stand=[c for c in found if c.let_stand],
        wrong=wrong or {}, typed=typed, defer=DEFER,
        begun=begun(board.plan, present.store().build(board.id).ticks()),
    ), status  # fmt: skip


@bp.get("")
def page(board_id: int) -> tuple[str, int]:
    """All findings of a board, and what is let stand."""
    return _page(find(board_id))


def _finding(board: BoardView) -> Said | None:
    key = request.form.get("key", "")
    return next((one for one in said(board.id, simulate(board.plan)) if one.check.key == key), None)


def _back(board_id: int) -> Response:
    return cast(Response, redirect(url_for("checks.page", board_id=board_id), 303))


@bp.post("/settle")
def settle_it(board_id: int) -> Response | tuple[str, int]:
    """Make the one change that settles a finding; what no longer speaks is settled already."""
    board = find(board_id)
    finding = _finding(board)
    remedy = finding.check.remedy_at(request.form.get("which", "")) if finding else None
    if finding is None or remedy is None:
        return _back(board_id)
    try:
        edit = settle(board.plan, remedy, present.lengths())
        if edit.words:
            save(board, edit, based_on=board.revision)
    except StaleError:
        pass  # someone was quicker: the page shows the board as it is now
    except LaberintoError as error:
        return _page(board, {finding.check.key: error.say(present.lengths())}, status=422)
    return _back(board_id)


@bp.post("/stand")
def let_stand(board_id: int) -> Response | tuple[str, int]:
    """Let a finding stand, with a reason; ``again`` lets it speak once more."""
    board = find(board_id)
    store = present.store().acknowledged(board_id)
    key = request.form.get("key", "")
    if request.form.get("again"):
        store.remove(key)
        return _back(board_id)
    finding = _finding(board)
    reason = " ".join(request.form.get("reason", "").split())
    if finding is None:
        return _back(board_id)
    if not reason or len(reason) > LONGEST:
        why = "Say in a few words why it may stand." if not reason else f"Keep it under {LONGEST} characters."
        return _page(board, {key: why}, reason, 422)
    store.put(key, finding.plain, reason)
    return _back(board_id)
