"""Pictures and data of the wood at a board's stages. Addresses name the wood, so browsers may keep what they get."""

from __future__ import annotations

from flask import Response, abort, jsonify, render_template, request

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.drawing import atlas
from laberinto.drawing.board import thumbnail
from laberinto.drawing.knots import knot as draw_knot
from laberinto.drawing.knots import strand
from laberinto.drawing.replay import scene as draw_scene
from laberinto.drawing.skin import Flat, Painted
from laberinto.drawing.svg import document
from laberinto.files.mesh import glb
from laberinto.store import BoardView

from ...app import bitmaps, present, reading
from ...app.caching import for_good
from ...app.lookup import find
from ...app.thread import finishes, wood_of
from ...app.turns import Rank, between
from .answer import bp
from .view import good
from .views import Scene, draw

MOST_PAINTED = 260
"""A scene of more cells than this is acted out in flat colours."""

TURNED_PPM = 4.0
"""Pixels a mm of the wood that is turned."""


def _finish() -> str:
    finish = request.args.get("finish", "raw")
    if finish not in present.FINISHES:
        abort(404)
    return finish


def _kept(response: Response, wood_key: str) -> Response:
    """Kept for good where the address names the wood that is shown."""
    return for_good(response, private=True) if request.args.get("wood") == wood_key else response


def _shown(board_id: int, stage: str) -> Simulation:
    """The board as it is drawn, if it has this stage."""
    sim, _, _ = good(find(board_id))
    if stage not in {s.id for s in sim.plan.stages}:
        abort(404)
    return sim


@bp.get("/knots.webp")
def knots(board_id: int) -> Response:
    """The wood at every knot of the thread, as far as the plan can be done, below each other."""
    board = find(board_id)
    sim, results, error = good(board)
    if error is not None:  # only what can be done; its strips come from its own results
        strips = tuple(strip for result in results for strip in result.outcome.strips)
        sim = Simulation(board.plan, sim.woods, strips, results)
    shown = zip(between(results, Rank.SMALL), finishes(results), strict=True)
    drawn = [draw_knot(sim, result, finish) for result, finish in shown]
    return _kept(Response(strand(drawn), mimetype="image/webp"), wood_of(results))


def warm_bitmaps(board: BoardView) -> None:
    """Paint what a board's page shows first. Raises LaberintoError where it cannot be drawn at all."""
    finish = present.preference("finish")
    sim, results, _ = good(board)
    for result, look in zip(results, finishes(results), strict=True):
        draw_knot(sim, result, look)
    for view in ("face", "edges"):
        scene = Scene.of(board.id, sim, sim.plan.stages[0].id, finish)
        if address := draw(scene, view).atlas:
            atlas.jpeg(bitmaps.token_of(address), finish, 1, between)


@bp.get("/solid/<stage>")
def solid(board_id: int, stage: str) -> Response:
    """The wood as GLB, a part for each wood, for the turntable."""
    sim = _shown(board_id, stage)
    result = sim[stage]
    piece = reading.whole(request.args.get("piece"), len(result.pieces) - 1) or 0
    return _kept(Response(glb(sim, result.pieces[piece], closed=False), mimetype="model/gltf-binary"), result.wood_key)


@bp.get("/strips/<stage>")
def strips(board_id: int, stage: str) -> Response:
    """The ends of all strips as one bitmap, and for each, in the order of their numbers, where in it its end lies
    (x, y, width and height in pixels) and its size in mm."""
    sim, finish = _shown(board_id, stage), _finish()
    found = bitmaps.ends(sim.strips, finish, TURNED_PPM)
    sizes = [(strip.width, strip.thickness) for strip in sim.strips]
    ends = [[*place, *size] for place, size in zip(found.places, sizes, strict=True)]
    return _kept(jsonify({"atlas": found.href, "strips": ends}), sim[stage].wood_key)


@bp.get("/revisions/<int:revision>.svg")
def revision(board_id: int, revision: int) -> Response:
    """The face as it was at a revision, small. Revisions never change, so it is drawn once for ever."""
    find(board_id)
    plan = present.store().revisions(board_id).plan_at(revision)
    if plan is None:
        abort(404)
    _, error = attempt(plan)
    if error is None:
        sim = simulate(plan)
        svg = thumbnail(face_of(sim.whole(), Side.TOP), Flat(sim, "oiled"), label="")
    else:
        svg = document("", 10, 10, label="cannot be built")
    response = Response(svg, mimetype="image/svg+xml")
    return for_good(response, private=True)


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
    skin = Painted(sim, "s", bitmaps.atlas_address, finish) if few else Flat(sim, finish)
    label = f"{sim.plan.stage(stage).heading}"
    return _kept(Response(draw_scene(sim, result, skin, label), mimetype="image/svg+xml"), result.wood_key)
