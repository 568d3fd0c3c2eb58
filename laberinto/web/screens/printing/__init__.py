"""How far a print is, and the PDF that came of it."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from ...app import present
from ...app.jobs import Job

bp = Blueprint("printing", __name__, url_prefix="/printing", template_folder="templates")


def _job(kind: str, number: int) -> Job:
    job = present.jobs().get((kind, number))
    if job is None or "name" not in job.asked:
        abort(404)
    return job


@bp.get("/<kind>/<int:number>")
def page(kind: str, number: int) -> Response | str:
    """How far it is; once it is done, the PDF."""
    job, part = _job(kind, number), request.headers.get("HX-Target") == "making"
    running = job.running  # once for the whole page: it may end while that is written
    if not running and job.result is not None:
        there = url_for("printing.made", kind=kind, number=number, name=job.asked["name"])
        return Response("", headers={"HX-Redirect": there}) if part else cast(Response, redirect(there, 303))
    template = "printing/progress.html" if part else "printing/page.html"
    return render_template(template, job=job, running=running, kind=kind, number=number, back=job.asked["back"])


@bp.post("/<kind>/<int:number>/stop")
def stop(kind: str, number: int) -> Response:
    """Call it off."""
    job = _job(kind, number)
    present.jobs().drop((kind, number))
    return cast(Response, redirect(job.asked["back"], 303))


@bp.get("/<kind>/<int:number>/<name>.pdf")
def made(kind: str, number: int, name: str) -> Response:
    """The PDF that was printed last; 404 where none was."""
    job = _job(kind, number)
    if job.result is None or name != job.asked["name"]:
        abort(404)
    response = Response(job.result, mimetype="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return response
