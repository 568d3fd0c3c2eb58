"""The plan format read once more, from docs/plan-format.md alone, by a general solid modeller (manifold3d): what the
engine makes of a plan is held against it. A piece is a list of parts, each of one wood."""

from __future__ import annotations

import math
from typing import Any

import manifold3d
import numpy as np

Part = tuple[str, manifold3d.Manifold]
Piece = list[Part]
Rotation = np.ndarray[Any, np.dtype[np.float64]]


def read(plan: dict[str, Any]) -> dict[str, list[Piece]]:
    """The pieces after each stage, by its id."""
    out: dict[str, list[Piece]] = {}
    for stage in plan["stages"]:
        sources = [stage["from"], *stage.get("with", [])] if "from" in stage else []
        out[stage["id"]] = [_settled(p) for p in KINDS[stage["kind"]](stage, [out[name] for name in sources])]
    return out


def by_wood(piece: Piece) -> dict[str, list[manifold3d.Manifold]]:
    """All parts of each wood."""
    woods: dict[str, list[manifold3d.Manifold]] = {}
    for wood, body in piece:
        woods.setdefault(wood, []).append(body)
    return woods


def box(piece: Piece) -> Rotation:
    """Lowest and highest corner (2, 3), mm."""
    boxes = np.array([body.bounding_box() for _, body in piece])
    return np.stack([boxes[:, :3].min(axis=0), boxes[:, 3:].max(axis=0)])


def _mapped(piece: Piece, rotation: Rotation, move: Rotation | None = None) -> Piece:
    matrix = np.column_stack([rotation, np.zeros(3) if move is None else move])
    return [(wood, body.transform(matrix)) for wood, body in piece]


def _moved(piece: Piece, move: Rotation) -> Piece:
    return [(wood, body.translate(tuple(move))) for wood, body in piece]


def _settled(piece: Piece) -> Piece:
    return _moved(piece, -box(piece)[0])


def _between(piece: Piece, normal: Rotation, low: float, high: float) -> Piece:
    """What lies between two planes square to ``normal``."""
    kept = []
    for wood, body in piece:
        part = body.trim_by_plane(tuple(normal), low).trim_by_plane(tuple(-normal), -high)
        if part.volume() > 1e-6:
            kept.append((wood, part))
    return kept


# strips


def _mill(stage: dict[str, Any], _: list[list[Piece]]) -> list[Piece]:
    size = stage["length"], stage["thickness"]
    strips = [s for s in stage["strips"] for _ in range(s.get("count", 1))]
    return [[(s["wood"], manifold3d.Manifold.cube((s["width"], *size)))] for s in strips]


# turns: a pose, then a spin anticlockwise seen from above


def _rotation(**to: tuple[int, int, int]) -> Rotation:
    """The rotation that brings x, y and z where it says."""
    return np.array([to["x"], to["y"], to["z"]], float).T


POSES = {
    "as it lies": np.eye(3),
    "quarter roll": _rotation(x=(0, 0, -1), y=(0, 1, 0), z=(1, 0, 0)),  # left side up, top to the right
    "face over": _rotation(x=(-1, 0, 0), y=(0, 1, 0), z=(0, 0, -1)),
    "three-quarter roll": _rotation(x=(0, 0, 1), y=(0, 1, 0), z=(-1, 0, 0)),
    "stand up": _rotation(x=(1, 0, 0), y=(0, 0, 1), z=(0, -1, 0)),  # far end up, top towards you
    "stand on its head": _rotation(x=(1, 0, 0), y=(0, 0, -1), z=(0, 1, 0)),
}
QUARTER = _rotation(x=(0, 1, 0), y=(-1, 0, 0), z=(0, 0, 1))
SPINS = {"quarter turn": QUARTER, "end for end": QUARTER @ QUARTER, "three-quarter turn": QUARTER.T}


def _turn(words: str) -> Rotation:
    turned = np.eye(3)
    for word in words.split(", "):
        turned = (POSES.get(word) if word in POSES else SPINS[word]) @ turned
    return turned


# glue

AXES = {"width": 0, "length": 1, "thickness": 2}


def _glue(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    pieces = _in_sequence(stage, sources)
    n = len(pieces)
    order = stage.get("order") or range(1, n + 1)
    pieces = [pieces[k - 1] for k in order]
    if stage.get("reverse"):
        pieces.reverse()
    turns, single = stage.get("turns") or ["as it lies"], stage.get("turned", {})
    pieces = [
        _settled(_mapped(p, _turn(single.get(str(at + 1), turns[at % len(turns)])))) for at, p in enumerate(pieces)
    ]
    axis = AXES[stage.get("across", "width")]
    shifts = stage.get("shifts") or [0.0]
    along = 1 if axis == 0 else 0
    way = np.zeros(3)
    way[axis] = -1.0 if axis == 1 else 1.0  # rows come from the far side towards you
    laid: list[Piece] = []
    for at, piece in enumerate(pieces):
        by = shifts[at % len(shifts)] + at * stage.get("stagger", 0.0)
        move = np.zeros(3)
        move[along] = stage.get("shifted", {}).get(str(at + 1), by)
        piece = _moved(piece, move)
        laid.append(_moved(piece, way * _gap(laid, piece, way)) if laid else piece)
    return [[part for piece in laid for part in piece]]


def _in_sequence(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    if "sequence" not in stage:
        return [piece for pieces in sources for piece in pieces]
    names = [stage["from"], *stage.get("with", [])]
    left = {name: iter(pieces) for name, pieces in zip(names, sources, strict=True)}
    out: list[Piece] = []
    while True:
        for name in stage["sequence"]:
            piece = next(left[name], None)
            if piece is None:
                return out
            out.append(piece)


def _gap(laid: list[Piece], piece: Piece, way: Rotation) -> float:
    """How far a piece must go along ``way`` from where it is until it just touches all that is laid."""
    there = [part for one in laid for part in one]
    axis = int(np.argmax(np.abs(way)))
    old, new = box(there), box(piece)
    # beyond everything that is laid it touches nothing; from there back, until it would meet
    out = (old[1] - new[0])[axis] if way[axis] > 0 else (new[1] - old[0])[axis]
    solid = manifold3d.Manifold.batch_boolean([b for _, b in there], manifold3d.OpType.Add)
    mine = manifold3d.Manifold.batch_boolean([b for _, b in piece], manifold3d.OpType.Add)
    high = out
    while not _meet(solid, mine, way * (high - STEP)):
        high -= STEP
    low = high - STEP
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (middle, high) if _meet(solid, mine, way * middle) else (low, middle)
    return high


STEP = 0.25
"""Next to no wedge is thinner than this, so none is passed by."""


def _meet(one: manifold3d.Manifold, other: manifold3d.Manifold, move: Rotation) -> bool:
    return float((one ^ other.translate(tuple(move))).volume()) > 1e-6


# saws


def _normal(axis: int, skew: float, bevel: float) -> Rotation:
    s, b = math.radians(skew), math.radians(bevel)
    level = (math.cos(s), math.sin(s)) if axis == 0 else (math.sin(s), math.cos(s))
    return np.array([level[0] * math.cos(b), level[1] * math.cos(b), math.sin(b)])


def _sawn(piece: Piece, axis: int, normal: Rotation, widths: list[float] | float, kerf: float, squaring: float,
          count: int | None) -> list[Piece]:  # fmt: skip
    low, high = box(piece)
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    near = corners[:, axis] == low[axis]
    at, end = float((corners[near] @ normal).max()) + squaring, float((corners[~near] @ normal).min())
    if isinstance(widths, float):
        fit = int((end - at + kerf + 1e-9) // (widths + kerf))
        widths = [widths] * (count or fit)
    out = []
    for width in widths:
        out.append(_between(piece, normal, at, at + width))
        at += width + kerf
    return out


def _rip(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    axis = 2 if stage["kind"] == "resaw" else 0
    normal = np.array([0.0, 0, 1]) if axis == 2 else _normal(0, stage.get("skew", 0), stage.get("bevel", 0))
    widths = stage.get("widths") or float(stage["width"])
    kerf, squaring = stage.get("kerf", 3), stage.get("squaring", 0)
    s = math.radians(-stage.get("skew", 0))  # sawn sides are laid along the length again
    back = np.array([[math.cos(s), -math.sin(s), 0], [math.sin(s), math.cos(s), 0], [0, 0, 1]])
    parts = [p for piece in sources[0] for p in _sawn(piece, axis, normal, widths, kerf, squaring, stage.get("count"))]
    return [_mapped(part, back) for part in parts]


def _crosscut(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    skew, bevel = stage.get("skew", 0), stage.get("bevel", 0)
    normal = _normal(1, skew, bevel)
    out = []
    for piece in sources[0]:
        out += _sawn(
            piece, 1, normal, float(stage["slice"]), stage.get("kerf", 3), stage.get("squaring", 0), stage["count"]
        )
    s, b = math.radians(skew), math.radians(-bevel)
    level = np.array([[math.cos(s), -math.sin(s), 0], [math.sin(s), math.cos(s), 0], [0, 0, 1]])
    upright = np.array([[1, 0, 0], [0, math.cos(b), -math.sin(b)], [0, math.sin(b), math.cos(b)]])
    assert np.allclose(upright @ level @ normal, [0, 1, 0])  # slices are laid square again
    return [_mapped(piece, upright @ level) for piece in out]


# planes, rows, edges


def _flatten(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    axis = 0 if stage.get("faces") == "left-right" else 2
    normal = np.eye(3)[axis]
    out = []
    for piece in sources[0]:
        low, high = box(piece)[:, axis]
        off = stage["each_face"] if stage.get("each_face") is not None else (high - low - stage["to"]) / 2
        out.append(_between(piece, normal, low + off, high - off))
    return out


LIES = {
    "as-cut": np.eye(3), "end-for-end": SPINS["end for end"], "flip": POSES["face over"],
    "other-end-up": SPINS["end for end"] @ POSES["face over"],
}  # fmt: skip
RULES = {
    "as-cut": ["as-cut"], "flip-every-other": ["as-cut", "flip"], "end-for-end-every-other": ["as-cut", "end-for-end"],
    "book-matched": ["as-cut", "other-end-up"], "mirrored-pairs": ["as-cut", "flip", "flip", "as-cut"],
}  # fmt: skip


def _arrange(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    (slices,) = sources
    order = [n for n in stage.get("order", []) if n <= len(slices)]
    order += [n for n in range(1, len(slices) + 1) if n not in order]
    rule, single = RULES[stage.get("rule", "flip-every-other")], stage.get("turned", {})
    return [
        _mapped(slices[n - 1], LIES[single.get(str(n), rule[row % len(rule)])] @ POSES["stand up"])
        for row, n in enumerate(order)
    ]


def _trim(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    out = []
    for piece in sources[0]:
        for axis, name in enumerate(("width", "length")):
            low, high = box(piece)[:, axis]
            wanted = stage.get(name)
            off = (high - low - wanted) / 2 if wanted is not None else stage.get("edge", 3)
            piece = _between(piece, np.eye(3)[axis], low + off, high - off)
        out.append(piece)
    return out


def _turned(stage: dict[str, Any], sources: list[list[Piece]]) -> list[Piece]:
    turns = stage["turns"]
    return [_mapped(piece, _turn(turns[at % len(turns)])) for at, piece in enumerate(sources[0])]


KINDS = {
    "mill": _mill, "glue": _glue, "rip": _rip, "resaw": _rip, "crosscut": _crosscut, "flatten": _flatten,
    "arrange": _arrange, "trim": _trim, "turn": _turned,
}  # fmt: skip

__all__ = ["box", "by_wood", "read"]
