"""Safe keeping: backups, where they lie, and whether the data are well."""

from __future__ import annotations

from datetime import UTC, date, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import cast

from flask import Blueprint, Response, abort, current_app, redirect, render_template, request, send_file, url_for

from laberinto import __version__
from laberinto.core.errors import InputError
from laberinto.store import DATABASE, checkpoint
from laberinto.store.backup import DAILY, FOLDER, PREFERENCE, WEEKLY, backup_folder, backups, write_backup
from laberinto.store.health import State, look

from ...app import present
from ...app.jobs import Job
from ...app.printing import Made, begin_making

bp = Blueprint("safe", __name__, url_prefix="/safe", template_folder="templates")

STATES = {State.WELL: ("well", "Well"), State.LOOK: ("look", "Look at it"), State.BAD: ("bad", "Bad")}
"""How something is: in a class of the page, and in words."""

LONGEST = 400


def _data() -> Path:
    return Path(current_app.config["DATA"])


@bp.get("")
def page(typed: str | None = None, error: InputError | None = None) -> str:
    """What is backed up, and how the data are."""
    folder = backup_folder(present.store(), _data())
    checkpoint(present.store().engine)  # what waits beside the database is no trouble while this runs
    return render_template(
        "safe/page.html", archives=backups(folder), folder=folder, typed=typed, error=error, states=STATES,
        found=look(_data(), folder), daily=DAILY, weekly=WEEKLY, own=folder != _data() / FOLDER,
    )  # fmt: skip


@bp.post("/backup")
def make() -> Response:
    """Everything in one archive, made now, to save elsewhere."""
    now, data = datetime.now(UTC), _data()
    name = f"laberinto-{now:%Y-%m-%d-%H%M}.zip"

    def work(job: Job) -> Made:
        made = Made(data, name)
        job.apart(write_backup, data / DATABASE, made.path, __version__, now)
        return made

    return begin_making("Backing up into", name, 0, work)


@bp.get("/<day>.zip")
def download(day: str) -> Response:
    """The backup of a day."""
    try:
        wanted = date.fromisoformat(day)
    except ValueError:
        abort(404)
    there = {archive.day: archive.path for archive in backups(backup_folder(present.store(), _data()))}
    if wanted not in there:
        abort(404)
    return send_file(there[wanted], as_attachment=True)


@bp.post("/folder")
def choose() -> Response | tuple[str, int]:
    """Where the daily backups lie: on another disk, say; none is the usual place."""
    typed = request.form.get("folder", "").strip()
    try:
        if typed:
            _must_be_writable(typed)
    except InputError as error:
        return page(typed, error), 422
    present.store().prefer(PREFERENCE, typed)
    return cast(Response, redirect(url_for("safe.page"), 303))


def _must_be_writable(typed: str) -> None:
    """Raise InputError where no backup can be written into a folder."""
    folder = Path(typed)
    if len(typed) > LONGEST or "\0" in typed or not folder.is_absolute():
        raise InputError("Write the whole path of a folder of the shop's machine, as /media/disk/shop.", "folder")
    try:
        if not folder.is_dir():
            raise InputError(f"There is no folder {typed} on the shop's machine. Make it first.", "folder")
        with TemporaryDirectory(dir=folder):
            pass
    except OSError as error:
        raise InputError(f"Nothing can be written into {typed}: {error.strerror}. Choose another.", "folder") from None
