"""Addresses of the timber store."""

from __future__ import annotations

from typing import Any, cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from laberinto.core.errors import InputError
from laberinto.core.fields import parse, shown
from laberinto.core.timber import Lot
from laberinto.core.timber.lines import LineError, Read, read_line, read_lines, written
from laberinto.files.timber import TableError, read_csv, write_csv
from laberinto.store import LotView, ShortageError
from laberinto.store.trash import LOT

from ...app import present
from ...app.fields import FieldView
from ...app.photos import small_jpeg
from .view import KINDS, longest, picture, shelves, store

bp = Blueprint("timber", __name__, url_prefix="/timber", template_folder="templates")

LONGEST_TEXT = 400_000


@bp.get("")
def page(text: str = "", reads: list[Read] | None = None, problem: str = "", table: str = "") -> str:
    """What lies there. ``problem`` is what is wrong with the lines, ``table`` with a file."""
    out = f"lot {request.args['removed']}:" if "removed" in request.args else ""
    newest = present.store().trash.newest(LOT) if out else None
    kind = request.args.get("kind", "")
    found = shelves(kind if kind in {k.value for k in KINDS} else "")
    return render_template(
        "timber/page.html", shelves=found, picture=picture, longest=longest(found), kinds=KINDS, kind=kind,
        text=text, reads=reads, problem=problem, table=table,
        woods_there=len(found), added=request.args.get("added", ""), cuts=store().cuts(),
        removed=newest if newest and newest.title.startswith(out) else None,
    )  # fmt: skip


@bp.post("/read")
def read() -> str:
    """The lines as they are typed: what each becomes, or the words that cannot be taken."""
    reads, problem = _reads(request.form.get("lines", ""))
    return render_template("timber/reads.html", reads=reads, problem=problem)


def _reads(text: str) -> tuple[list[Read], str]:
    try:
        return read_lines(text, present.lengths()), ""
    except InputError as error:
        return [], error.say(present.lengths())


@bp.post("/lines")
def add() -> Response | tuple[str, int]:
    """Put the lines' lots in, all or none."""
    text = request.form.get("lines", "")
    reads, problem = _reads(text)
    lots = [one.lot for one in reads if one.lot is not None]
    if problem or not reads or len(lots) < len(reads):
        return page(text, reads, problem or ("Type at least one line." if not reads else "")), 422
    store().add(lots)
    return _to_page(added=len(lots))


def _to_page(**arguments: Any) -> Response:
    return cast(Response, redirect(url_for("timber.page", **arguments), 303))


@bp.get("/lots.csv")
def table() -> Response:
    """The lots as a table to save."""
    response = Response(write_csv(view.lot for view in store().lots()), mimetype="text/csv")
    response.headers["Content-Disposition"] = 'attachment; filename="timber.csv"'
    return response


@bp.post("/csv")
def open_table() -> Response | tuple[str, int] | str:
    """A file of lots: kept at once where all rows are good, else shown with what is wrong and asked."""
    upload = request.files.get("table")
    data = upload.read() if upload else request.form.get("text", "").encode()
    if not data.strip() or len(data) > LONGEST_TEXT:
        what = (
            "No file was chosen, or it is empty." if not data.strip() else "That file is too large for a list of lots."
        )
        return page(table=what), 422
    try:
        rows = read_csv(data)
    except TableError as error:
        return page(table=str(error)), 422
    good, bad = [row.lot for row in rows if row.lot], [row for row in rows if not row.lot]
    there = {view.lot for view in store().lots()}
    known = [lot for lot in good if lot in there]
    keep = request.form.get("keep", "")
    if (bad or known) and keep not in ("all", "new"):
        return render_template("timber/table.html", good=good, bad=bad, known=known, text=data.decode("utf-8-sig"))
    if keep == "new":
        good = [lot for lot in good if lot not in there]
    if not good:
        return page(table="That file has no row that can be kept."), 422
    store().add(good)
    return _to_page(added=len(good))


@bp.get("/<int:lot_id>")
def lot(lot_id: int) -> str:
    """One lot, to change, draw on or remove."""
    return _lot_page(_find(lot_id), None, {})


def _find(lot_id: int) -> LotView:
    view = store().lot(lot_id)
    if view is None:
        abort(404)
    return view


def _lot_page(view: LotView, typed: dict[str, str] | None, errors: dict[str, str]) -> str:
    how = present.lengths()
    start = {spec.name: shown(spec, getattr(view.lot, spec.name), how) for spec in Lot.specs()}
    fields = [FieldView(s, (typed or start).get(s.name, ""), errors.get(s.name, "")) for s in Lot.specs()]
    faults = typed.get("defects", "") if typed else "\n".join(_fault_lines(view.lot))
    return render_template(
        "timber/lot.html", view=view, fields=fields, faults=faults, errors=errors,
        drawing=picture(view.lot, view.id, view.lot.length), line=written(view.lot, how),
        cuts=[cut for cut in store().cuts() if view.id in cut.took],
    )  # fmt: skip


def _fault_lines(lot: Lot) -> list[str]:
    how = present.lengths()
    return [
        f"{d.what} {how.field(d.start)} to {how.field(d.end)} x {how.field(d.low)} to {how.field(d.high)}"
        for d in lot.defects
    ]


@bp.post("/<int:lot_id>")
def change(lot_id: int) -> Response | tuple[str, int]:
    """All fields of a lot, or none."""
    view, how = _find(lot_id), present.lengths()
    typed, errors, values = request.form.to_dict(), {}, {}
    for spec in Lot.specs():
        text, kept = typed.get(spec.name, "").strip(), getattr(view.lot, spec.name)
        try:
            if spec.kind == "text":
                values[spec.name] = text
            else:  # text left alone keeps the exact value behind it
                values[spec.name] = kept if text == shown(spec, kept, how) else parse(spec, text, how)
        except InputError as error:
            errors[spec.name] = error.say(how)
    lines = [line.strip() for line in typed.get("defects", "").splitlines() if line.strip()]
    if not errors:
        try:
            # a lot's line knows how to read faults: they are read as part of one as large as can be
            far = how.field(4999.0), how.field(999.0), how.field(30.0)
            probe = read_line(", ".join([f"beech {' x '.join(far)}", *lines]), how)
            if len(probe.defects) != len(lines):
                raise InputError("A fault is written like: knot 300 to 360 x 40 to 80.", "defects")
            store().change(lot_id, Lot.of(**values, defects=probe.defects))
        except LineError as error:
            errors["defects"] = error.say(how)
        except InputError as error:
            errors[error.field or "defects"] = error.say(how)
        except ShortageError as error:
            errors["count"] = str(error)
    if errors:
        return _lot_page(view, typed, errors), 422
    return _to_page()


@bp.post("/<int:lot_id>/remove")
def remove(lot_id: int) -> Response | tuple[str, int]:
    """Put a lot into the trash, from which one press takes it back."""
    view = _find(lot_id)
    try:
        store().remove(lot_id)
    except ShortageError as error:
        return _lot_page(view, None, {"count": str(error)}), 422
    return _to_page(removed=lot_id)


@bp.get("/<int:lot_id>/photo.jpg")
def photo(lot_id: int) -> Response:
    """The photo of a lot."""
    jpeg = store().photo(lot_id)
    if jpeg is None:
        abort(404)
    return Response(jpeg, mimetype="image/jpeg", headers={"Cache-Control": "no-cache"})


@bp.post("/<int:lot_id>/photo")
def set_photo(lot_id: int) -> Response | tuple[str, int]:
    """Keep a photo, made small; ``remove`` lets go of it."""
    view = _find(lot_id)
    if request.form.get("remove"):
        store().set_photo(lot_id, None)
        return cast(Response, redirect(url_for("timber.lot", lot_id=lot_id), 303))
    try:
        store().set_photo(lot_id, small_jpeg(request.files.get("photo")))
    except InputError as error:
        return _lot_page(view, None, {"photo": str(error)}), 422
    return cast(Response, redirect(url_for("timber.lot", lot_id=lot_id), 303))
