"""Whether pieces meet as they should: gaps in a face, woods that should run on across a joint or change in it."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

import numpy as np
import shapely

from ..geometry.faces import Side, face_of
from ..geometry.joints import Joint
from ..geometry.polygons import closed_union
from ..plan.simulate import Simulation
from .model import Truth

EDGE = 0.5
"""What comes no nearer to the edge of a face (mm) ends within it."""

LEAST_CHANGE = 0.1
"""Two rows of which less than this share differs look alike."""

ON_LINE = 1e-4
"""An edge this near a line (mm) lies on it."""


def gap(sim: Simulation, stage: str = "trimmed") -> Truth:
    """How much of the trimmed board is not wood, mm³; its box less the volume of its cells."""
    result = sim[stage]
    width, length, thickness = result.size
    return Truth("gaps between the pieces", width * length * thickness - result.volume, "mm³")


def _other_wood(sim: Simulation, joint: Joint) -> float:
    """Area of a joint on which two woods meet that are not the same, mm²."""
    pairs = zip(joint.strips.tolist(), joint.areas.tolist(), strict=True)
    return float(sum(area for (a, b), area in pairs if sim.strips[a].wood != sim.strips[b].wood))


def own_wood(sim: Simulation, *stages: str) -> Truth:
    """How much of the joints of these glue-ups joins a wood to itself, mm²."""
    joints = [joint for stage in stages for joint in sim[stage].outcome.joints]
    off = sum(joint.area - _other_wood(sim, joint) for joint in joints)
    return Truth("cells that meet their own wood", off, "mm²")


def still_rows(sim: Simulation, stage: str) -> Truth:
    """Joints of a glue-up of rows across which less than ``LEAST_CHANGE`` of the wood changes."""
    still = [joint for joint in sim[stage].outcome.joints if _other_wood(sim, joint) < LEAST_CHANGE * joint.area]
    return Truth("rows that look like their neighbour", float(len(still)), "rows")


def crossings(sim: Simulation, stage: str, side: Side, lines: Iterable[float], axis: int) -> float:
    """The worst distance (mm) between a change of wood on one side of a joint and the nearest on the other.

    ``lines`` are the joints' places in the picture of ``side``, across ``axis`` (0: upright joints, 1: level ones).
    """
    face = face_of(sim[stage].pieces[0], side)
    owner = face.owners()
    following = face.following()
    middle = np.add.reduceat(face.points[:, axis], face.ptr[:-1]) / np.diff(face.ptr)
    woods = [sim.strips[int(number)].wood for number in face.strip]
    start, end = face.points, face.points[following]
    worst = 0.0
    for line in lines:
        on = (np.abs(start[:, axis] - line) < ON_LINE) & (np.abs(end[:, axis] - line) < ON_LINE)
        changes = []
        for beyond in (False, True):
            edges = np.flatnonzero(on & ((middle[owner] > line) == beyond))
            runs = sorted((*sorted((start[e, 1 - axis], end[e, 1 - axis])), woods[owner[e]]) for e in edges)
            changes.append([a[1] for a, b in pairwise(runs) if a[2] != b[2]])
        for here, there in (changes, changes[::-1]):
            for at in here:
                worst = max(worst, min((abs(at - other) for other in there), default=float("inf")))
    return float(worst)


def broken_flights(sim: Simulation, stage: str) -> Truth:
    """Patches of one wood on the face that end in the middle of it: a flight of stairs goes on to an edge."""
    piece = sim[stage].pieces[0]
    face = face_of(piece, Side.TOP)
    woods = np.array([sim.strips[number].wood for number in face.strip.tolist()])
    inner = shapely.box(EDGE, EDGE, float(face.size[0]) - EDGE, float(face.size[1]) - EDGE)
    broken = 0
    for wood in dict.fromkeys(woods.tolist()):
        polygons = [shapely.Polygon(face.points[face.ptr[k] : face.ptr[k + 1]]) for k in np.flatnonzero(woods == wood)]
        patches = shapely.get_parts(closed_union(np.array(polygons, object)))
        broken += int(shapely.within(patches, inner).sum())
    return Truth("flights run on from row to row to an edge", float(broken), "broken off")
