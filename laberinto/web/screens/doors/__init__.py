"""The door: signing a device in with the passphrase or a code, and who is let in."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import cast

import segno
from flask import Blueprint, Flask, Response, abort, current_app, redirect, render_template, request, url_for
from flask_limiter import Limiter
from markupsafe import Markup
from werkzeug.wrappers import Response as Answer

from laberinto.core.errors import InputError
from laberinto.store.doors import May

from ...app import doors, errors, present, reading, tls

bp = Blueprint("doors", __name__, template_folder="templates")

GUESSES = "5 per minute; 30 per hour"
"""Wrong passphrases that are listened to, of one address."""

LONGEST = 60

MAY = {May.DESIGN: "may do everything", May.BENCH: "may tick, count and measure, not design"}
"""What devices may do, in words."""


def _address() -> str:
    return tls.address_of(request.remote_addr or "", request.environ.get("REMOTE_PORT", ""))


limiter = Limiter(_address, storage_uri="memory://")


def init(app: Flask) -> None:
    """Listen to a few guesses only."""
    limiter.init_app(app)

    @app.errorhandler(429)
    def _too_often(_error: Exception) -> tuple[str, int]:
        return errors.page(429, "Too many wrong passphrases", "Wait a minute, then try again.")


def _name() -> str:
    return reading.line(request.form.get("name", ""), LONGEST, "name") or "A device"


@bp.get("/sign-in")
def sign_in() -> str:
    """The door, for whoever is not let in."""
    return render_template("doors/sign_in.html", spans=doors.SPANS, then=request.args.get("then", "/"), error=None)


@bp.post("/sign-in")
@limiter.limit(GUESSES, deduct_when=lambda response: response.status_code == 422)
def enter() -> Answer | tuple[str, int]:
    """Let a device in that knows the passphrase."""
    then, span = request.form.get("then", "/"), request.form.get("span", "")
    try:
        if not doors.is_passphrase(current_app.config["DATA"], request.form.get("passphrase", "")[:400]):
            raise InputError("That is not the passphrase of this shop.", "passphrase")
        return doors.enter(_name(), May.DESIGN, span, then)
    except InputError as error:
        return render_template("doors/sign_in.html", spans=doors.SPANS, then=then, error=error), 422


@bp.post("/sign-out")
def sign_out() -> Answer:
    """Let go of this device."""
    found = present.store().doors.known(request.cookies.get(current_app.config["DEVICE_COOKIE"], ""))
    if found is not None:
        present.store().doors.shut_out(found.id)
    answer = redirect(url_for("doors.sign_in"), 303)
    answer.delete_cookie(current_app.config["DEVICE_COOKIE"])
    return answer


@bp.get("/join/<code>")
def join(code: str) -> str | tuple[str, int]:
    """A scanned code: what it lets this device do, before it does."""
    may = current_app.extensions["invitations"].look(code, datetime.now(UTC))
    if may is None:
        return errors.page(
            404, "This code lets nobody in", "It was used, or is older than a quarter of an hour. Ask for another."
        )
    return render_template("doors/join.html", code=code, may=MAY[may])


@bp.post("/join/<code>")
def joined(code: str) -> Answer | tuple[str, int]:
    """Let a device in that scanned a code."""
    name = _name()
    may = current_app.extensions["invitations"].take(code, datetime.now(UTC))
    if may is None:
        return redirect(url_for("doors.join", code=code), 303)
    return doors.enter(name, may, "ever", url_for("now.page"))


@bp.get("/devices")
def page() -> str:
    """Who is let in, and how another comes in."""
    return _page("")


@bp.post("/devices/code")
def invite() -> str:
    """A code to scan, for one device."""
    may = reading.must_be(May, request.form, "may")
    code = current_app.extensions["invitations"].make(may, datetime.now(UTC))
    where = current_app.config["SHOP_ADDRESS"] or request.host_url
    return _page(where.rstrip("/") + url_for("doors.join", code=code), may)


def _page(address: str, may: May | None = None) -> str:
    drawn = Markup(segno.make(address, error="m").svg_inline(scale=6, border=2)) if address else None
    return render_template(
        "doors/page.html", devices=present.store().doors.all(), kinds=MAY, address=address, drawn=drawn, invited=may,
        here=current_app.config["SHOP_ADDRESS"], minutes=round(doors.INVITED.total_seconds() / 60),
        now=datetime.now(UTC), locked=doors.has_passphrase(current_app.config["DATA"]),
    )  # fmt: skip


@bp.post("/devices/<int:number>")
def change(number: int) -> Response:
    """Let a device do more or less, or shut it out."""
    known = {each.id for each in present.store().doors.all()}
    if number not in known:
        abort(404)
    if request.form.get("out"):
        present.store().doors.shut_out(number)
    else:
        present.store().doors.change(number, reading.must_be(May, request.form, "may"))
    return cast(Response, redirect(url_for("doors.page"), 303))
