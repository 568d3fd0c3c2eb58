"""Tables of a board for a sheet: its cut list and its log."""

from __future__ import annotations

from flask import Response, abort

from laberinto.core.analysis.figures import cut_list
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.core.woods import LIBRARY
from laberinto.files.dxf import cut_plan_dxf
from laberinto.files.table import table
from laberinto.store import in_utc

from ...app import present
from ...app.lookup import find
from .blueprint import bp

CUTS = (
    "name", "wood", "count", "width", "thickness", "length", "rough width", "rough thickness", "rough length",
)  # fmt: skip
LOG = ("when", "step", "what", "text", "quantity", "planned", "measured", "unit", "piece")


def as_file(text: str, name: str) -> Response:
    """A table to save."""
    response = Response(text, mimetype="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@bp.get("/cut-list.csv")
def cut_list_csv(board_id: int) -> Response:
    """Strips to mill, all boards of the plan together, mm."""
    board, shop = find(board_id), present.shop()
    sim = simulate(board.plan)
    rows = []
    for line in cut_list(sim, shop=shop):
        long, wide, thick = line.rough
        rows.append((
            line.name, LIBRARY[line.wood].name, line.count * board.plan.times, line.width, line.thickness, line.length,
            wide, thick, long,
        ))  # fmt: skip
    return as_file(table(CUTS, rows), f"laberinto-{board.id}-cut-list.csv")


@bp.get("/cut-plan.dxf")
def cut_plan(board_id: int) -> Response:
    """The planks that are held for the board with the strips in them; 404 where none are."""
    board = find(board_id)
    held = next(iter(present.store().timber.cuts(board_id)), None)
    if held is None or not held.plan.planks:
        abort(404)
    response = Response(cut_plan_dxf(held.plan.planks), mimetype="image/vnd.dxf")
    response.headers["Content-Disposition"] = f'attachment; filename="laberinto-{board.id}-cut-plan.dxf"'
    return response


@bp.get("/log.csv")
def log_csv(board_id: int) -> Response:
    """What was done, noticed and measured, the oldest first; times are UTC, pieces are counted from 1."""
    board = find(board_id)
    build = present.store().build(board_id)
    named = {step.key: step.heading for step in steps(simulate(board.plan), present.lengths(), present.shop())}
    rows: list[tuple[object, ...]] = [
        (in_utc(at), named.get(key, key), "done", "", "", None, None, "", None) for key, at in build.ticks().items()
    ]
    rows += [
        (
            in_utc(note.created), named.get(note.step, note.step), "measured" if note.measured is not None else "noted",
            note.text, note.quantity, note.planned, note.measured, note.unit if note.measured is not None else "",
            None if note.piece is None else note.piece + 1,
        )
        for note in build.notes()
    ]  # fmt: skip
    rows += [
        (in_utc(photo.created), named.get(photo.step, photo.step), "photo", "", "", None, None, "", None)
        for photo in build.photos()
    ]
    return as_file(table(LOG, sorted(rows, key=lambda row: str(row[0]))), f"laberinto-{board.id}-log.csv")
