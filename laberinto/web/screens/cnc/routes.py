"""The page, the program as a file, and the tool table."""

from __future__ import annotations

from typing import Any, cast

from flask import Response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.cnc.program import CAUTIONS, left_out, stages
from laberinto.core.cnc.tools import Tool, ToolKind
from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import face_of
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.units import parse_length, parse_number, parse_whole
from laberinto.drawing.cnc import COLOURS, ground, paths
from laberinto.drawing.skin import Flat
from laberinto.store import BoardView

from ...app import present
from ...app.drawn import kept
from ...app.lookup import find
from ..board.keeping import file_name
from .asked import CORNERS, SIDES, Asked, asked, keep_tools, tools
from .blueprint import bp
from .carving import state

FIELDS = ("number", "kind", "diameter", "corner", "angle", "flutes", "reach", "holder")
"""Of a row of the tool table."""

LENGTHS = frozenset({"diameter", "corner", "reach", "holder"})


def page(
    board: BoardView, sim: Simulation, it: Asked, *, rows: list[dict[str, str]] | None = None,
    errors: dict[str, str] | None = None,
) -> str:  # fmt: skip
    """The whole page."""
    side = SIDES[it.side]
    # what is carved first lies there as large as it is then
    lies = it.made.results[0] if it.made else sim.board
    face, finish = face_of(lies.pieces[0], side), present.preference("finish")
    under = kept(sim, "cnc", lies.wood_key, side, finish, draw=lambda: ground(face, Flat(sim, finish)))
    cuts = it.made.cuts if it.made else ()
    drawn = Markup(paths(face, under, cuts, it.clamps, label="The tools’ ways over the face"))
    order = list(dict.fromkeys(cut.tool.number for cut in cuts))
    return render_template(
        "cnc/page.html", board=board, it=it, drawn=drawn, sides=list(SIDES), corners=CORNERS, cautions=CAUTIONS,
        stages=stages(sim, side), without=left_out(sim), fields=FIELDS,
        rows=rows or [_row(tool) for tool in tools()], tool_errors=errors or {},
        kinds=list(ToolKind), titles={name: Tool.model_fields[name].title for name in FIELDS}, lengths=LENGTHS,
        colours={number: COLOURS[at % len(COLOURS)] for at, number in enumerate(order)}, carving=state(board, it),
    )  # fmt: skip


def _row(tool: Tool) -> dict[str, str]:
    how = present.lengths()
    return {
        name: how.show(getattr(tool, name), unit=how.system == "in") if name in LENGTHS else f"{getattr(tool, name):g}"
        if name != "kind" else tool.kind.value
        for name in FIELDS
    }  # fmt: skip


@bp.get("")
def plan(board_id: int) -> str:
    """What the machine is to do."""
    board = find(board_id)
    sim = simulate(board.plan)
    return page(board, sim, asked(sim, request.args))


@bp.get("/program.nc")
def gcode(board_id: int) -> Response | tuple[str, int]:
    """The program as G-code."""
    board = find(board_id)
    sim = simulate(board.plan)
    it = asked(sim, request.args)
    if it.made is None:
        return page(board, sim, it), 422
    response = Response(it.made.text, mimetype="text/plain; charset=us-ascii")
    response.headers["Content-Disposition"] = f'attachment; filename="{file_name(board.plan)}.nc"'
    return response


@bp.post("/tools")
def tool_table(board_id: int) -> Response | tuple[str, int]:
    """Keep the tool table; a row without a number is left out."""
    board = find(board_id)
    columns = {name: request.form.getlist(name) for name in FIELDS}
    typed = [dict(zip(FIELDS, values, strict=True)) for values in zip(*columns.values(), strict=False)]
    typed = [row for row in typed if row["number"].strip()]
    try:
        keep_tools([_read(row, at) for at, row in enumerate(typed)])
    except InputError as error:
        sim = simulate(board.plan)
        said = {error.field: error.say(present.lengths())}
        return page(board, sim, asked(sim, request.args), rows=typed, errors=said), 422
    return cast(Response, redirect(url_for("cnc.plan", board_id=board_id, **_kept()), 303))


def _kept() -> dict[str, Any]:
    """What else stood in the address."""
    return {name: request.args.getlist(name) for name in request.args}


def _read(row: dict[str, str], at: int) -> dict[str, Any]:
    how, kept = present.lengths(), {tool.number: tool for tool in tools()}
    number = parse_whole(row["number"], 1, 99, f"number-{at}")
    out: dict[str, Any] = {"number": number, "kind": row["kind"]}
    for name in ("diameter", "corner", "reach", "holder"):
        before = kept.get(number)
        if before is not None and row[name] == _row(before)[name]:
            out[name] = getattr(before, name)  # text left alone keeps the exact value behind it
        else:
            out[name] = parse_length(row[name], how.system, zero=name == "corner", most=300, field=f"{name}-{at}")
    out["angle"] = parse_number(row["angle"], f"angle-{at}")
    out["flutes"] = parse_whole(row["flutes"], 1, 8, f"flutes-{at}")
    return out
