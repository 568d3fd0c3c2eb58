"""A change of wood that is cut already: what is meant by it."""

from __future__ import annotations

from typing import cast

from flask import Response, abort, redirect, request, url_for

from laberinto.core.edits.cut import anew, from_here
from laberinto.core.plan.simulate import attempt
from laberinto.store import StaleError

from ...app import present, reading
from ...app.lookup import find
from ...app.saving import cut_away
from ...app.thread import begun
from .answer import answer, bp, done
from .keeping import another_name, copied
from .looking import Fault, Looking


@bp.post("/cut")
def cut(board_id: int) -> Response:
    """Plan only from here on, make it anew, or take the change to a board of its own. All of it can be undone, but for
    ticks that are taken back."""
    board, store = find(board_id), present.store()
    choice, found = request.form.get("choice"), cut_away(board)
    looking = Looking.at(board, request.form)
    if choice not in ("anew", "from-here", "copy"):
        abort(400)
    if found is None:
        return done(board, looking)
    before, changed = found
    build = store.build(board_id)
    if choice == "anew":
        again = anew(board.plan, changed)
        for key in build.ticks():
            if key.partition(".")[0] in again:
                build.untick(key)
        return done(find(board_id), looking)
    asked, name = board, another_name(board.name)
    if choice == "copy":
        kept, words = before, f"taken to a board of its own, {name}"
    else:
        kept = from_here(before, board.plan, begun(before, build.ticks()))
        if attempt(kept)[1] is not None and attempt(board.plan)[1] is None:
            kept = before  # what is left of the change cannot be built on the wood as it is
        words = "what is cut stays as it was"
    revision = reading.whole(request.form.get("revision"))
    try:
        board = store.save(board_id, kept, words, based_on=board.revision if revision is None else revision)
    except StaleError as stale:
        return answer(find(board_id), looking, Fault("", f"{stale} Nothing was changed.", {}), 409)
    if choice == "copy":
        target = url_for("board.page", board_id=copied(asked, name))
        if request.headers.get("HX-Request"):
            return Response("", 200, {"HX-Redirect": target})
        return cast(Response, redirect(target, 303))
    return done(board, Looking.at(board, request.form))
