"""Arrange the pieces of any glue-up: an order and turns in which one wood meets itself as little as can be found.

What the sides of the pieces show is sampled; then a seeded search goes on from how they lie: simulated annealing over
swapped, reversed and turned pieces, always the same for a seed. What comes of it is simulated, and taken only where
less of one wood meets itself than before.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely

from ...edits.model import Edit
from ...errors import InputError
from ...geometry.faces import Side, face_of
from ...geometry.rotations import Turn, turn_named
from ...plan.model import Plan
from ...plan.simulate import Simulation, simulate
from ...solid import Cells, Floats, Ints
from ...stages import Across, Glue

ALONG, UP = 48, 12
"""Samples of a side along the piece and across it."""

STEPS = 6000
"""Arrangements looked at."""

MOST = 120
"""More pieces than this are not arranged."""

WARM, COLD = 0.1, 0.001
"""How much worse an arrangement may become at the beginning and at the end, as a share of a joint."""

WAYS: tuple[Turn, ...] = (
    *(turn_named(name) for name in ("as it lies", "face over", "end for end")),
    turn_named("face over").then(turn_named("end for end")),
)
"""How a piece may be turned and still take the same room."""

_SIDES = {
    Across.WIDTH: (Side.LEFT, Side.RIGHT), Across.LENGTH: (Side.BACK, Side.FRONT),
    Across.THICKNESS: (Side.BOTTOM, Side.TOP),
}  # fmt: skip
"""The side of a piece that meets the one before it, and the one behind it."""

Place = tuple[int, int]
"""Which piece, from 0 as they come, and which of WAYS it is turned."""


def same_wood(sim: Simulation, stage_id: str) -> float:
    """Area of a glue-up's joints over which one wood meets itself, mm²."""
    total = 0.0
    for joint in sim[stage_id].outcome.joints:
        woods = [[sim.strips[number].wood for number in pair] for pair in joint.strips.tolist()]
        total += sum(area for (one, other), area in zip(woods, joint.areas.tolist(), strict=True) if one == other)
    return total


def arrange_pieces(plan: Plan, stage_id: str, seed: int = 1) -> Edit:
    """The pieces in another order, turned as need be. Dry joints stay where they are, shifts too. Raises InputError
    where there are too few or too many, or no better arrangement was found."""
    stage, before = plan.stage(stage_id), simulate(plan)
    if not isinstance(stage, Glue):
        raise InputError(f"Stage “{stage_id}” glues no loose pieces.", "pieces")
    counts = dict(zip(stage.sources, before.slices(stage_id), strict=True))
    bare = stage.model_copy(update={"order": (), "shuffle": None, "reverse": False})
    laid = bare.positions(counts)
    if not 3 <= len(laid) <= MOST:
        raise InputError(f"From 3 to {MOST} pieces can be arranged; here are {len(laid)}.", "pieces")
    row = stage.arranged(len(laid))
    lies = {number: stage.turn_at(at) for at, number in enumerate(row)}  # each is turned further from how it lies now
    cells = [
        before.taken(source)[k].turned(lies[number].matrix) for number, (source, k) in enumerate(laid)
    ]  # fmt: skip
    cost = _costs(before, cells, stage.across)
    start = [(number, 0) for number in row]
    found = _search(cost, start, stage.dry, seed)
    changed = stage.model_copy(update={
        "order": tuple(number + 1 for number, _ in found), "shuffle": None, "reverse": False, "turns": (),
        "turned": {
            at + 1: turn.name
            for at, (number, way) in enumerate(found)
            if (turn := lies[number].then(WAYS[way])) != Turn()
        },
    })  # fmt: skip
    better = plan.with_stage(changed)
    now, then = same_wood(simulate(better), stage_id), same_wood(before, stage_id)
    if now >= then - 1e-6:
        raise InputError(
            f"No better order was found: one wood meets itself over {then / 100:.0f} cm² of joints here.", "pieces"
        )
    return Edit(better, f"arranged: one wood meets itself over {now / 100:.0f} cm² of joints, before {then / 100:.0f}")


def _costs(sim: Simulation, pieces: Sequence[Cells], across: Across) -> Floats:
    """Share of a side over which one wood would meet itself, where a piece in a way is followed by another in another:
    (n, 4, n, 4)."""
    near, far = _SIDES[across]
    sizes = np.array([piece.size() for piece in pieces])
    room = sizes.max(axis=0)
    turned = [[piece.turned(way.matrix).at_origin() for way in WAYS] for piece in pieces]
    shown = [
        np.stack([_woods(sim, cells, side, room) for ways in turned for cells in ways]) for side in (far, near)
    ]  # behind, before: what the first shows to the second, and the second to the first
    woods = range(int(max(show.max() for show in shown)) + 1)
    behind, before = (np.concatenate([(show == wood) for wood in woods], axis=1).astype(float) for show in shown)
    n = len(pieces)
    return np.asarray(behind @ before.T).reshape(n, len(WAYS), n, len(WAYS)) / (ALONG * UP)


def _woods(sim: Simulation, cells: Cells, side: Side, room: Floats) -> Ints:
    """Which wood a side shows at each sample, -1 for none: (ALONG × UP,). Both sides of a joint are sampled at the same
    points of the world."""
    face = face_of(cells, side)
    right, down, _ = side.frame
    wide, high = (float(np.abs(axis) @ room) for axis in (right, down))
    u, v = (np.arange(count) + 0.5 for count in (ALONG, UP))
    x, y = (grid.ravel() for grid in np.meshgrid(u * wide / ALONG, v * high / UP, indexing="ij"))
    size = face.size
    # the picture runs right and down from its corner: samples are counted from the world's origin
    px = x if right.sum() > 0 else float(size[0]) - x
    py = y if down.sum() > 0 else float(size[1]) - y
    out = np.full(len(x), -1)
    known = sorted(sim.woods)
    for polygon, strip in zip(face.polygons(), face.strip.tolist(), strict=True):
        out[shapely.contains_xy(polygon, px, py)] = known.index(sim.strips[strip].wood)
    return out


def _search(cost: Floats, start: list[Place], dry: Sequence[int], seed: int) -> list[Place]:
    """The best arrangement found. Joints behind places in ``dry`` (from 1) cost nothing."""
    rng, n = np.random.default_rng(seed), len(start)
    counts = np.array([at + 1 not in dry for at in range(n - 1)], float)

    def total(row: list[Place]) -> float:
        i, a = np.array(row).T
        return float(cost[i[:-1], a[:-1], i[1:], a[1:]] @ counts)

    row, now = list(start), total(start)
    best, least = list(row), now
    for step in range(STEPS):
        if least <= 1e-12:
            break
        heat = WARM * (COLD / WARM) ** (step / STEPS)
        trial, (one, other) = list(row), sorted(rng.choice(n, 2, replace=False).tolist())
        kind = int(rng.integers(3))
        if kind == 0:
            trial[one], trial[other] = trial[other], trial[one]
        elif kind == 1:
            trial[one] = (trial[one][0], int(rng.integers(len(WAYS))))
        else:
            trial[one : other + 1] = trial[one : other + 1][::-1]
        cost_now = total(trial)
        if cost_now <= now or rng.random() < math.exp((now - cost_now) / heat):
            row, now = trial, cost_now
            if now < least - 1e-12:
                best, least = list(row), now
    return best
