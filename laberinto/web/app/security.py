"""Who is answered, and headers that keep a page to itself: nothing inline, nothing from elsewhere.

A request must name a host that this server goes by. Otherwise any website could have its own name point here and then
read and change boards from a visitor's browser, since to the browser both would be one place (DNS rebinding).
"""

from __future__ import annotations

import re
from collections.abc import Collection
from urllib.parse import urlsplit

from flask import Flask, Response, request

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)


LOOPBACK = frozenset({"localhost", "127.0.0.1", "[::1]"})
"""Names of this very machine, which no website can go by."""

_HOST = re.compile(r"(\[[0-9a-f:.]+\]|[a-z0-9._-]+)(?::\d{1,5})?", re.ASCII)


def host_name(host: str) -> str:
    """The name in a Host header, without its port, in small letters; "" where it is none."""
    found = _HOST.fullmatch(host.strip().lower())
    return found[1].removesuffix(".") if found else ""


def _own(site: str | None, origin: str | None) -> bool:
    """Whether a browser says that a request was sent from a page of this server; a program that says nothing has the
    form's token to show."""
    if site is not None and site not in ("same-origin", "none"):
        return False
    return origin is None or (origin != "null" and urlsplit(origin).netloc == request.host)


def init(app: Flask, hosts: Collection[str] = ()) -> None:
    """Answer requests for this machine's own names and for ``hosts`` only."""
    served = LOOPBACK | {host_name(host) or host.lower() for host in hosts}

    @app.before_request
    def _for_us() -> Response | None:
        asked = request.environ.get("HTTP_HOST", "")
        if host_name(asked) in served:
            return None
        text = "This server does not go by that name. If it should, start it with --allow-host and the name.\n"
        return Response(text, 421, mimetype="text/plain")

    @app.before_request
    def _from_here() -> Response | None:
        """A browser says where a request was sent from. A form of our own pages comes from our own pages; and a page
        may be gone to from elsewhere, but not be fetched from there as a picture or a script, which could set us to
        work without anybody seeing it."""
        site, looked = request.headers.get("Sec-Fetch-Site"), request.method in ("GET", "HEAD", "OPTIONS")
        if looked and (site != "cross-site" or request.headers.get("Sec-Fetch-Mode") == "navigate"):
            return None
        if not looked and _own(site, request.origin):
            return None
        text = "That was asked by another website. Nothing was changed.\n"
        return Response(text, 403, mimetype="text/plain")

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        if response.mimetype == "text/html":
            response.headers.setdefault("Cache-Control", "no-store")
        return response
