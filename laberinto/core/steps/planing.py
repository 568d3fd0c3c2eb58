"""Steps of flattening, jointing and trimming: how much comes off each side, which side first, and what is left."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..analysis.marks import these
from ..finish import flat
from ..finish.grits import LEFT_BY
from ..instructions import CutBack, Planed
from ..stages import Flatten, JointEdge, Method, Trim
from ..stages.flatten import FacePair, Only
from ..stages.trim import TrimSide
from ..units import degrees, plural
from . import cautions as say
from .model import Context, Step

_ENDS = (("left edge", "right edge"), ("near end", "far end"), ("underside", "upper face"))
_BOTH = ("each edge", "each end", "each face")
_MEASURE = ("width", "length", "thickness")

EVEN = 1e-6
"""Amounts that differ by no more than this, mm, are the same."""

FLATTEN_CAUTION = {
    Method.PLANER: say.JOINTER_PLANER,
    Method.DRUM_SANDER: say.DRUM,
    Method.ROUTER_SLED: say.ROUTER_SLED,
    Method.BELT_SANDER: say.BELT,
    Method.HAND_PLANE: say.HAND_PLANE,
    Method.CNC: say.CNC,
}

WAY = {
    Method.PLANER: "fed at a slant where the width allows, its ends level on the tables",
    Method.DRUM_SANDER: "turned end for end after each",
    Method.ROUTER_SLED: "along the longer side and against the bit's pull",
    Method.BELT_SANDER: "across, then on both diagonals, lifted at the edges",
    Method.HAND_PLANE: "over the shorter side at a slant, with a sharp iron set fine, from both edges inwards; chamfer the "
    "far edge first so that nothing breaks out",
    Method.CNC: "along the longer side, against the cutter's pull",
}
"""How a face is gone over."""

WASTE_ENDS = (
    "Glue waste wood as thick as the board to both ends first, fibres along the feed, so that the last fibres break out "
    "there; let that glue cure over 12 hours, chamfer all edges round, and saw the waste off afterwards."
)
"""For those who take end grain through a planer."""


def flatten(c: Context) -> Iterator[Step]:
    """Steps of flattening both faces, or both edges."""
    stage = c.result.stage
    assert isinstance(stage, Flatten)
    if not c.does:
        yield Step(f"{stage.id}.flatten", stage.id, "Flatten both faces", ("Nothing comes off.",), _cautions(c, stage))
        return
    (told,) = c.does
    assert isinstance(told, CutBack)
    edges = told.axis == 0
    lines = [*_several(told), *amounts(c, told, level=stage.level)]
    if edges and stage.only is Only.BOTH:
        lines.append("So the section stays square: what the other pair lost, this pair loses too.")
    if not edges:
        lines.append(_passes(c, stage.method, told.pieces[0]))
        if c.on_end and stage.method is Method.PLANER:
            lines.insert(0, WASTE_ENDS)
    if stage.only is not Only.BOTH:
        lines.append(f"The {_ENDS[told.axis][stage.only is Only.LOWER]} is the reference: nothing comes off it.")
    elif not edges:
        lines.append("Flatten one face until it lies without rocking, then bring the other to thickness from it.")
    if c.becomes_rows and not edges:
        lines.append("This thickness becomes the height of each row on the face. Stop exactly here.")
    to = {round(piece.to, 6) for piece in told.pieces}
    at = c.lengths.set_to(told.pieces[0].to, max(c.becomes_rows, len(told.pieces))) if len(to) == 1 else ""
    yield Step(
        f"{stage.id}.flatten", stage.id,
        _heading(stage),
        tuple(lines), _cautions(c, stage), at, "Finish at" if at else "", told.pieces[0].to if at else None,
        _MEASURE[told.axis], does=c.does,
    )  # fmt: skip


def _passes(c: Context, method: Method, piece: Planed) -> str:
    """Passes and tracks, which way, how long, what they leave and which grit takes it out."""
    width, length, _ = c.before.size
    one = flat.passes(method, width, length, max(piece.lower, piece.upper), c.shop, on_end=c.on_end)
    minutes = flat.minutes(method, width, length, (piece.lower, piece.upper), c.shop, on_end=c.on_end)
    each = f"{one.passes} pass{'es' if one.passes > 1 else ''} a face, {_fine(c, one.bite)} at most each"
    tracks = f"; {plural(one.side_by_side, 'track')} side by side" if one.side_by_side > 1 else ""
    long = f"about {plural(max(round(minutes), 1), 'minute')}{' a piece' if c.pieces > 1 else ''}"
    left, grit = LEFT_BY[method]
    lean = c.shop.sled_lean if method is Method.ROUTER_SLED else c.shop.cnc_lean
    ridges = (
        f" With the spindle {degrees(lean)} off upright ridges of {_fine(c, one.ridge)} stand between tracks."
        if one.ridge else ""
    )  # fmt: skip
    leaves = f" It leaves {left}; grit {grit} takes them out." if c.on_end else ""
    return f"{'' if method is Method.BELT_SANDER else each + tracks + ', '}{WAY[method]}: {long}.{ridges}{leaves}"


def _fine(c: Context, mm: float) -> str:
    """A bite or a ridge, which is less than what a rule is read to."""
    return f"{c.lengths.field(mm)}{' mm' if c.lengths.system == 'mm' else ''}"


def _heading(stage: Flatten) -> str:
    """What is flattened, and with what."""
    edges = stage.faces is FacePair.LEFT_RIGHT
    if stage.only is Only.BOTH:
        what = "Plane both edges" if edges else "Flatten both faces"
    else:
        what = f"Plane the {_ENDS[stage.faces.axis][stage.only is Only.UPPER]}"
    return f"{what} with the {stage.method.label}"


def _cautions(c: Context, stage: Flatten) -> tuple[str, ...]:
    on_end = c.on_end and stage.method is Method.PLANER
    return (say.PLANE_END_GRAIN if on_end else FLATTEN_CAUTION[stage.method],)


def _several(told: CutBack) -> Iterator[str]:
    if len(told.pieces) > 1:
        yield f"All {len(told.pieces)} at one setting, one after the other: {these(piece.name for piece in told.pieces)}."


def amounts(c: Context, told: CutBack, *, level: bool = False) -> Iterator[str]:
    """From what to what, and how much comes off either side; for pieces that differ, group by group."""
    times = max(c.becomes_rows, len(told.pieces))
    for group in alike(told.pieces):
        one = group[0]
        of = f"{these(piece.name for piece in group)}: from " if len(group) < len(told.pieces) else "From "
        before, measure = one.to + one.lower + one.upper, _MEASURE[told.axis]
        lower, upper = _ENDS[told.axis]
        if abs(one.lower - one.upper) <= EVEN:
            off = f"{c.mm(one.lower, times)} off {_BOTH[told.axis]}"
        else:
            ends = sorted([(one.lower, lower), (one.upper, upper)], reverse=True)
            off = ", then ".join(f"{c.mm(by, times)} off the {where}" for by, where in ends if by > EVEN)
        one_sided = min(one.lower, one.upper) <= EVEN < max(one.lower, one.upper)
        uneven = abs(one.lower - one.upper) > EVEN and not one_sided
        highest = ", measured from what stands out farthest" if level or uneven else ""
        yield f"{of}{c.lengths.show(before)} to {c.mm(one.to, times)} in {measure}: {off}{highest}."


def alike(pieces: Sequence[Planed]) -> list[list[Planed]]:
    """Pieces that lose the same and end alike, together."""
    groups: dict[tuple[float, ...], list[Planed]] = {}
    for piece in pieces:
        groups.setdefault(tuple(round(v, 6) for v in (piece.lower, piece.upper, piece.to)), []).append(piece)
    return list(groups.values())


def joint_edge(c: Context) -> Iterator[Step]:
    """Steps of making an edge straight."""
    stage = c.result.stage
    assert isinstance(stage, JointEdge)
    where = "start from the lowest spot" if stage.level else "measured from the highest spot"
    sides = [told for told in c.does if isinstance(told, CutBack)]
    yield Step(
        f"{stage.id}.joint", stage.id,
        f"Joint {stage.edges.label} edges" if "-" in stage.edges else f"Joint the {stage.edges.label} edge",
        (
            f"Take {c.mm(stage.off)} off, {where}. Leaves {c.lengths.show_size(*c.result.size)}.",
            *(line for told in sides for line in amounts(c, told, level=stage.level)),
            "Square to the face: try it with a square along its whole length.",
        ),
        (say.JOINTER_PLANER,), c.lengths.set_to(stage.off), "Cut", does=c.does,
    )  # fmt: skip


def trim(c: Context) -> Iterator[Step]:
    """Steps of cutting the edges square; an axis along which nothing comes off needs none."""
    stage = c.result.stage
    assert isinstance(stage, Trim)
    by_axis = {told.axis: told for told in c.does if isinstance(told, CutBack)}
    width, length, _ = c.result.size
    how = ("Joint or saw both long edges straight.", "Crosscut both ends square to the long edges.")
    if stage.only is not TrimSide.ALL:
        how = (f"Saw {stage.only.label} straight; the other is the reference.",) * 2
    for axis, size in enumerate((width, length)):
        told = by_axis.get(axis)
        if stage.only is not TrimSide.ALL and not any(stage.only.shares(axis)):
            continue
        lines = (
            [*_several(told), *amounts(c, told, level=stage.flush)]
            if told
            else ["Nothing comes off here; check that it is straight."]
        )
        yield Step(
            f"{stage.id}.{('edges', 'ends')[axis]}", stage.id,
            ("True the long edges and trim to width", "Trim to length")[axis],
            (
                how[axis], *lines,
                *(("Ragged ends come off whole: nothing of a step may stay.",) if stage.flush and told else ()),
                *(("Check square: both diagonals must measure the same.",) if axis else ()),
            ),
            (say.SAW, say.TRIM) if axis == 0 else (say.TRIM,), c.lengths.set_to(size), ("Fence", "Stop")[axis], size,
            _MEASURE[axis], does=(told,) if told else (),
        )  # fmt: skip
