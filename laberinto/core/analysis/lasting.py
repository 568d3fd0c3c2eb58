"""Which marks outlive what is done next: where a mark is written, what takes it off or covers it, and which side of the
pieces keeps one until they are marked anew. Followed on the simulated wood, spot by spot."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..geometry.faces import Side
from ..geometry.polygons import areas, corners, middles
from ..plan.model import OFFCUT
from ..plan.simulate import Simulation
from ..solid import Bools, Cells, Floats, cross, dot, pick
from ..stages import Crosscut, Mill, Resaw, Rip, Stage
from .names import names

WRITTEN: dict[type[Stage], Side] = {Mill: Side.FRONT, Rip: Side.FRONT, Resaw: Side.FRONT, Crosscut: Side.TOP}
"""Where a mark is written: on the near end of what is milled or ripped, on the upper side of a slice."""

SIDE_NAMES = {
    Side.FRONT: "near end", Side.BACK: "far end", Side.TOP: "upper side", Side.BOTTOM: "lower side",
    Side.LEFT: "left side", Side.RIGHT: "right side",
}  # fmt: skip

LOOKED_AT = 24
"""Of more pieces than these a selection is followed."""

ROOM = 2.0
"""A mark wants so much wood about its middle, mm."""

_ON, _LEVEL, _OUT = 1e-4, 0.999, 0.05
"""How near (mm) a spot lies to its face, how parallel that stays, and how far outside one looks for wood over it."""


@dataclass(frozen=True, slots=True)
class Lasting:
    """Of the marks of a stage: where they are written, the stages they must outlive until the next are written, the
    first of these that takes them (or ""), and a side that keeps one through all of them, if any does."""

    stage: str
    side: Side
    through: tuple[str, ...]
    lost: str
    instead: Side | None


@dataclass(frozen=True, slots=True)
class _Spot:
    """The middle of a mark in its strip's own coordinates, and the way its face looks there."""

    strip: int
    at: Floats
    normal: Floats


def lasting(sim: Simulation) -> list[Lasting]:
    """For every stage whose several pieces are marked, in the order of the plan."""
    return sim.memo.once(_lasting, sim)


def _lasting(sim: Simulation) -> list[Lasting]:
    out = []
    for result in sim.results:
        side = WRITTEN.get(type(result.stage))
        if side is None or len(result.pieces) < 2:
            continue
        through = tuple(_until_marked_anew(sim, result.stage.id))
        pieces = [
            result.pieces[n]
            for n in np.linspace(0, len(result.pieces) - 1, min(len(result.pieces), LOOKED_AT)).astype(int)
        ]
        lost, instead = _followed(sim, pieces, side, through), None
        if lost:
            kept = (other for other in Side if other is not side and not _followed(sim, pieces, other, through))
            instead = next(kept, None)
        out.append(Lasting(result.stage.id, side, through, lost, instead))
    return out


def _until_marked_anew(sim: Simulation, stage: str) -> Iterator[str]:
    """The stages that take these pieces on, as long as they keep their names."""
    known, mine = names(sim), set(names(sim)[stage])
    at = stage
    for result in sim.results[sim.plan.index(stage) + 1 :]:
        if at not in {name.removesuffix(OFFCUT) for name in result.stage.sources}:
            continue
        if not set(known[result.stage.id]) <= mine:
            return
        yield result.stage.id
        at = result.stage.id


def _followed(sim: Simulation, pieces: list[Cells], side: Side, through: tuple[str, ...]) -> str:
    """The first stage after which a mark on this side is not read on every piece any more, "" where there is none; a
    piece that has no room for a mark there loses it at once."""
    spots = [_spot(piece, side) for piece in pieces]
    for name in through:
        cells = sim[name].pieces.cells
        for piece, spot in zip(pieces, spots, strict=True):
            if spot is None or (_there(cells, piece) and not _read(cells, spot)):
                return name
    return ""


def _spot(piece: Cells, side: Side) -> _Spot | None:
    """The middle of the largest face that looks this way and lies outermost; None without one large enough."""
    towards = side.frame[2]
    normals, offsets = piece.world_planes()
    outermost = float((piece.world() @ towards).max())
    here = np.flatnonzero((normals @ towards > _LEVEL) & (np.abs(offsets - outermost) < 0.01))
    if not len(here):
        return None
    face = here[int(np.argmax(areas(piece, *corners(piece, here))))]
    cell = int(piece.cell_of_face()[face])
    planes = pick(piece.faces, np.array([face]))[:, 0]
    spot = _Spot(int(piece.strip[cell]), middles(piece)[face], np.asarray(planes[:3]))
    return spot if _read(piece, spot) else None


def _read(cells: Cells, spot: _Spot) -> bool:
    """Whether a mark there is still on wood, with room about it, and in the open."""
    for cell in np.flatnonzero(cells.strip == spot.strip).tolist():
        planes = cells.faces[:, cells.fptr[cell] : cells.fptr[cell + 1]]
        inside = spot.at @ planes[:3] - planes[3]
        if inside.max() < _ON and ((inside > -_ON) & (spot.normal @ planes[:3] > _LEVEL)).any():
            middle, out = cells.rot[cell] @ spot.at + cells.move[cell], cells.rot[cell] @ spot.normal
            points = middle + ROOM * _about(out)
            piece = cells.of_piece(int(cells.piece[cell]))
            within = _within(piece, np.concatenate([points - _OUT * out, points + _OUT * out]))
            if within[: len(points)].all() and not within[len(points) :].any():
                return True
    return False


def _about(out: Floats) -> Floats:
    """A point and four round it, at a distance of 1 and square to ``out``, (5, 3)."""
    normal = out[:, None]
    across = cross(normal, np.eye(3)[:, [int(np.argmin(np.abs(out)))]])
    across /= np.sqrt(dot(across, across))
    along = cross(normal, across)
    return np.concatenate([np.zeros((3, 1)), across, -across, along, -along], axis=1).T


def _within(cells: Cells, points: Floats) -> Bools:
    """Which of some points (k, 3) lie in the wood, (k,)."""
    normals, offsets = cells.world_planes()
    inside = np.ones((len(cells), len(points)), bool)
    np.logical_and.at(inside, cells.cell_of_face(), normals @ points.T - offsets[:, None] < 0)
    return np.asarray(inside.any(axis=0))


def _there(cells: Cells, piece: Cells) -> bool:
    """Whether a piece is still among these: the middle of its first cell lies in one of them."""
    first = slice(int(piece.vptr[0]), int(piece.vptr[1]))
    at = piece.verts[:, first].mean(axis=1)
    mine = cells.take(cells.strip == piece.strip[0])
    if not len(mine):
        return False
    within = np.ones(len(mine), bool)
    np.logical_and.at(within, mine.cell_of_face(), mine.faces[:3].T @ at - mine.faces[3] < 1e-6)
    return bool(within.any())
