"""How this shop likes things shown: units, theme, raw or oiled."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Blueprint, Response, abort, redirect, request

from ..present import FINISHES, THEMES, UNITS, store

bp = Blueprint("shop", __name__)

_ALLOWED = {"units": tuple(UNITS), "theme": THEMES, "finish": FINISHES}


@bp.post("/preference")
def prefer() -> Response:
    key, value = request.form.get("key", ""), request.form.get("value", "")
    if value not in _ALLOWED.get(key, ()):
        abort(400)
    store().prefer(key, value)
    back = urlsplit(request.form.get("back", "/"))
    # only ever back to a page of ours
    path = back.path if back.path.startswith("/") and not back.path.startswith("//") else "/"
    return redirect(path + (f"?{back.query}" if back.query else ""))  # type: ignore[return-value]
