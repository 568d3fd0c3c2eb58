"""Requests: each has a number, which the log and the page of an error name; and whether the server is well."""

from __future__ import annotations

import logging
import secrets
from time import perf_counter

from flask import Flask, Response, g, has_request_context, jsonify, request

from laberinto.core.errors import DataError

from . import present

log = logging.getLogger(__name__)

SLOW = 2.0
"""Seconds after which an answer is told in the log."""

NONE = "-"


def number() -> str:
    """The number of the request that is being answered."""
    return g.get("asked", NONE) if has_request_context() else NONE


def init(app: Flask) -> None:
    """Number requests, tell those that took long, and say how it is at ``/healthz``."""

    @app.before_request
    def _begun() -> None:
        g.asked, g.begun = secrets.token_hex(4), perf_counter()

    @app.after_request
    def _ended(response: Response) -> Response:
        took = perf_counter() - g.get("begun", perf_counter())
        level = logging.WARNING if took > SLOW else logging.DEBUG
        log.log(level, "%s %s %d in %.0f ms", request.method, request.path, response.status_code, took * 1000)
        response.headers["X-Request-Id"] = number()
        return response

    @app.get("/healthz")
    def _well() -> tuple[Response, int]:
        try:
            present.store().answers()
        except DataError as error:
            log.error("not well: %s", error)
            return jsonify(state="bad"), 503
        return jsonify(state="well"), 200
