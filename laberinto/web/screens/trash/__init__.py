"""The trash: lots and photos that were removed, put back or let go of for good."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, url_for

from laberinto.core.errors import InputError
from laberinto.store import KEPT, Shelf, Trash

from ...app import present

bp = Blueprint("trash", __name__, url_prefix="/trash", template_folder="templates")


def store() -> Trash:
    """The trash of this shop."""
    return present.store().trash


@bp.get("")
def page() -> str:
    """What lies there, the last removed first."""
    boards = present.store().counts()[Shelf.REMOVED]
    return render_template("trash/page.html", things=store().all(), days=KEPT.days, kept=KEPT, boards=boards)


@bp.post("/<int:number>/back")
def back(number: int) -> Response:
    """Put a thing back, and go where it is."""
    thing = store().put_back(number)
    if thing is None:
        raise InputError(
            "That can no longer be put back: it was put back or deleted meanwhile, or what it belonged to is gone."
        )
    if thing.board is not None:
        return cast(Response, redirect(url_for("build.page", board_id=thing.board), 303))
    return cast(Response, redirect(url_for("timber.page"), 303))


@bp.post("/<int:number>/delete")
def delete(number: int) -> Response:
    """Let go of a thing for good."""
    store().let_go(number)
    return cast(Response, redirect(url_for("trash.page"), 303))


@bp.get("/<int:number>/photo.jpg")
def photo(number: int) -> Response:
    """Its photo."""
    jpeg = store().picture(number)
    if jpeg is None:
        abort(404)
    return Response(jpeg, mimetype="image/jpeg", headers={"Cache-Control": "no-cache"})
