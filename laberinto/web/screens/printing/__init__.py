"""How far a print or a backup is, and the file that came of it."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, send_file, url_for

from ...app import present
from ...app.jobs import Job
from ...app.printing import Made

bp = Blueprint("printing", __name__, url_prefix="/printing", template_folder="templates")


def _job(kind: str, number: int) -> Job:
    job = present.jobs().get((kind, number))
    if job is None or "name" not in job.asked:
        abort(404)
    return job


@bp.get("/<kind>/<int:number>")
def page(kind: str, number: int) -> Response | str:
    """How far it is; once it is done, the PDF, or where the file is to be had."""
    job, part = _job(kind, number), request.headers.get("HX-Target") == "making"
    running = job.running  # once for the whole page: it may end while that is written
    done = None if running else job.result
    there = url_for("printing.made", kind=kind, number=number, name=job.asked["name"])
    if done is not None and not isinstance(done, Made):
        return Response("", headers={"HX-Redirect": there}) if part else cast(Response, redirect(there, 303))
    template = "printing/progress.html" if part else "printing/page.html"
    return render_template(
        template, job=job, running=running, kind=kind, number=number, back=job.asked["back"], there=there,
        size=done.path.stat().st_size if done is not None else None,
    )  # fmt: skip


@bp.post("/<kind>/<int:number>/stop")
def stop(kind: str, number: int) -> Response:
    """Call it off."""
    job = _job(kind, number)
    present.jobs().drop((kind, number))
    return cast(Response, redirect(job.asked["back"], 303))


@bp.get("/<kind>/<int:number>/<name>")
def made(kind: str, number: int, name: str) -> Response:
    """What was made last; 404 where nothing was."""
    job = _job(kind, number)
    if job.result is None or name != job.asked["name"]:
        abort(404)
    if isinstance(job.result, Made):
        return send_file(job.result.path, as_attachment=True)
    response = Response(job.result, mimetype="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    return response
