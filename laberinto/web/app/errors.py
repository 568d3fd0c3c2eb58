"""What a person sees when something is not there or went wrong: a plain page, never a trace."""

from __future__ import annotations

import logging
from typing import cast

from flask import Flask, Response, current_app, redirect, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from laberinto.core.errors import GeometryError, InputError, LaberintoError, PlanError
from laberinto.store import trouble

from . import asked, present

log = logging.getLogger(__name__)

_PAGES = {
    404: ("There is nothing at this address", "It may have been removed, or the address was mistyped."),
    405: ("This address does not take that", "Go back and use the buttons on the page."),
    413: ("That file is too large", "A plan file is well under 4 MB. Check that it is the right file."),
}


def page(status: int, heading: str, text: str, problems: list[tuple[str, str]] | None = None) -> tuple[str, int]:
    """A plain page with one message and the way back."""
    return render_template("error.html", heading=heading, text=text, problems=problems or []), status


def _nearest(path: str) -> str:
    """The nearest address above a path that is a page; that of all boards where there is none."""
    adapter = current_app.url_map.bind("")
    while path.count("/") > 1:
        path = path.rpartition("/")[0]
        try:
            adapter.match(path, method="GET")
        except HTTPException:
            continue
        return path
    return "/"


def init(app: Flask) -> None:
    @app.errorhandler(CSRFError)
    def _csrf(_error: CSRFError) -> tuple[str, int]:
        return page(400, "This form is too old", "Nothing was changed. Reload the page and try again.")

    @app.errorhandler(MethodNotAllowed)
    def _reloaded(error: MethodNotAllowed) -> Response | tuple[str, int]:
        """A page that answered a form stands at the form's address; loaded again, it is the page the form is on."""
        if request.method == "GET":
            return cast(Response, redirect(_nearest(request.path), 303))
        return _http(error)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> tuple[str, int]:
        code = error.code or 500
        heading, text = _PAGES.get(code, ("That did not work", "Nothing was changed. Go back and try again."))
        return page(code, heading, text)

    @app.errorhandler(PlanError)
    def _plan(error: PlanError) -> tuple[str, int]:
        return page(
            422, "This plan cannot be read", "Nothing was kept. What is wrong, and where in the file:", error.problems
        )

    @app.errorhandler(LaberintoError)
    def _known(error: LaberintoError) -> tuple[str, int]:
        if isinstance(error, GeometryError):
            log.error("kernel contradiction at %s", request.path, exc_info=error)
        heading = "That did not work" if isinstance(error, InputError) else "This plan cannot be built as it stands"
        return page(422, heading, error.say(present.lengths()))

    @app.errorhandler(Exception)
    def _unknown(error: Exception) -> tuple[str, int]:
        if (told := trouble(error)) is not None:
            log.error("%s at %s", error, request.path)
            return page(503, "That could not be saved", told)
        log.error("unexpected error at %s", request.path, exc_info=error)
        return page(
            500,
            "Something went wrong on our side",
            f"What was saved is safe. Reload; the server's log says more, under {asked.number()}.",
        )
