"""Pictures and data of the wood at a board's stages. Addresses name the wood, so browsers may keep what they get."""

from __future__ import annotations

from flask import Response, abort, jsonify, render_template, request

from laberinto.core.faces import Side, face_of
from laberinto.core.simulate import Simulation, attempt, simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.canvas import painting
from laberinto.drawing.knots import knot as draw_knot
from laberinto.drawing.replay import scene as draw_scene
from laberinto.drawing.skin import Flat, Painted
from laberinto.drawing.svg import document
from laberinto.files.mesh import glb

from .. import present, wood
from ..lookup import find
from .answer import bp
from .view import good

MOST_PAINTED = 260
"""A scene of more cells than this is acted out in flat colours."""

FOR_EVER = "private, max-age=31536000, immutable"


def _finish() -> str:
    finish = request.args.get("finish", "raw")
    if finish not in present.FINISHES:
        abort(404)
    return finish


def _kept(response: Response, wood_key: str) -> Response:
    """Kept for good where the address names the wood that is shown."""
    if request.args.get("wood") == wood_key:
        response.headers["Cache-Control"] = FOR_EVER
    return response


def _shown(board_id: int, stage: str) -> Simulation:
    """The board as it is drawn, if it has this stage."""
    sim, _, _ = good(find(board_id))
    if stage not in {s.id for s in sim.plan.stages}:
        abort(404)
    return sim


@bp.get("/knots/<stage>.svg")
def knot(board_id: int, stage: str) -> Response:
    """The wood at one knot of the thread."""
    finish = _finish()
    board = find(board_id)
    sim, results, error = good(board)
    result = next((r for r in results if r.stage.id == stage), None)
    if result is None:
        abort(404)
    if error is not None:  # only what can be done; its strips come from its own results
        strips = tuple(strip for r in results for strip in r.outcome.strips)
        sim = Simulation(board.plan, sim.woods, strips, results)
    return _kept(Response(draw_knot(sim, result, finish), mimetype="image/svg+xml"), result.wood_key)


@bp.get("/face/<stage>")
def face(board_id: int, stage: str) -> Response:
    """A side of the wood as data for a canvas."""
    sim = _shown(board_id, stage)
    side = request.args.get("side", "top")
    if side not in {s.value for s in Side}:
        abort(404)
    skin = Painted(sim, "c", wood.address, _finish())
    result = sim[stage]
    return _kept(jsonify(painting(face_of(result.pieces[0], Side(side)), skin)), result.wood_key)


@bp.get("/solid/<stage>")
def solid(board_id: int, stage: str) -> Response:
    """The wood as GLB, a part for each wood, for the turntable."""
    sim = _shown(board_id, stage)
    result = sim[stage]
    return _kept(Response(glb(sim, result.pieces[0], closed=False), mimetype="model/gltf-binary"), result.wood_key)


@bp.get("/strips/<stage>")
def strips(board_id: int, stage: str) -> Response:
    """The end of every strip: address of its bitmap and its size in mm, in the order of their numbers."""
    sim, finish = _shown(board_id, stage), _finish()
    sheets = []
    for strip in sim.strips:
        patch = wood.Patch("end", 0.0, 0.0, 0.0, strip.width, strip.thickness, 5.0)
        sheets.append([wood.address(strip, patch, finish), strip.width, strip.thickness])
    return _kept(jsonify({"strips": sheets}), sim[stage].wood_key)


@bp.get("/revisions/<int:revision>.svg")
def revision(board_id: int, revision: int) -> Response:
    """The face as it was at a revision, small. Revisions never change, so it is drawn once for ever."""
    find(board_id)
    plan = present.store().plan_at(board_id, revision)
    if plan is None:
        abort(404)
    _, error = attempt(plan)
    if error is None:
        sim = simulate(plan)
        svg = thumbnail(face_of(sim.board.pieces[0], Side.TOP), Flat(sim, "oiled"), label="")
    else:
        svg = document("", 10, 10, label="cannot be built")
    response = Response(svg, mimetype="image/svg+xml")
    response.headers["Cache-Control"] = FOR_EVER
    return response


@bp.get("/replay")
def replay(board_id: int) -> str:
    """The frame in which the plan is acted out; scenes are fetched one by one."""
    board = find(board_id)
    sim, _, _ = good(board)
    return render_template("board/replay.html", board=board, sim=sim)


@bp.get("/replay/<stage>.svg")
def scene(board_id: int, stage: str) -> Response:
    """One stage as a scene to act out."""
    sim, finish = _shown(board_id, stage), _finish()
    result = sim[stage]
    few = len(result.pieces.cells) <= MOST_PAINTED
    skin = Painted(sim, "s", wood.address, finish) if few else Flat(sim, finish)
    label = f"{sim.plan.stage(stage).verb}"
    return _kept(Response(draw_scene(sim, result, skin, label), mimetype="image/svg+xml"), result.wood_key)
