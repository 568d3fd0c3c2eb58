"""How work on edges and faces reads at the bench: outlines, routed shapes, borders, inlays."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..stages import (
    Border,
    Cause,
    Cove,
    Feet,
    Fill,
    Groove,
    Hollow,
    Inlay,
    JointEdge,
    Notch,
    Rabbet,
    Rest,
    Shape,
    Well,
)
from ..stages.groove import Corners, Path
from ..stages.hollow import Form
from ..stages.pause import Filler
from ..stages.shape import Outline
from . import cautions as say
from .model import Context, Map, Step
from .parts import capital, glue_line


def joint_edge(c: Context) -> Iterator[Step]:
    """Steps of making an edge straight."""
    stage = c.result.stage
    assert isinstance(stage, JointEdge)
    where = "start from the lowest spot" if stage.level else "measured from the highest spot"
    yield Step(
        f"{stage.id}.joint", stage.id, f"Joint {stage.edges.label} edges" if "-" in stage.edges else f"Joint the {stage.edges.label} edge",
        (f"Take {c.mm(stage.off)} off, {where}. Leaves {c.lengths.show_size(*c.result.size)}.", "Square to the face: try it with a square along its whole length."),
        (say.JOINTER_PLANER,), c.mm(stage.off), "Cut",
    )  # fmt: skip


def border(c: Context) -> Iterator[Step]:
    """Steps of framing a board."""
    stage = c.result.stage
    assert isinstance(stage, Border)
    goes = stage.first.label, "front and back" if stage.first.axes[0] == 0 else "left and right"
    yield Step(
        f"{stage.id}.parts", stage.id, "Prepare the border",
        (
            "The border must be end grain like the core, or the core tears it off when it moves.",
            "Plane or sand its pieces to one thickness now, while they still fit a machine.",
            *(("Seams of opposite sides are staggered: every other side begins with half a piece.",) if stage.stagger else ()),
        ),
        (say.THIN_END_GRAIN,),
    )  # fmt: skip
    for number, sides in enumerate(goes, 1):
        yield Step(
            f"{stage.id}.go-{number}", stage.id, f"Glue on {sides}",
            (
                glue_line(c, stage),
                f"Clamp across both sides at once. When it is out of the clamps, saw the ends flush{' before the other two go on' if number == 1 else ''}.",
                *(("Cut the groove for the spline first, half way up; dry fit with the spline in it.",) if stage.spline else ()),
            ),
            (say.GLUE, *((say.ROUTER,) if stage.spline else ())), wait_hours=stage.clamp_hours, map=Map.FACE if number == 2 else Map.NONE,
        )  # fmt: skip


def inlay(c: Context) -> Iterator[Step]:
    """Steps of laying strips into a face."""
    stage = c.result.stage
    assert isinstance(stage, Inlay)
    edge = "left" if stage.along.value == "length" else "near"
    yield Step(
        f"{stage.id}.channel", stage.id, "Rout the channels",
        (f"{c.mm(stage.depth)} deep, middles at {', '.join(c.mm(at) for at in stage.at)} from the {edge} edge.", "Fit each to its strip: it must slide in by hand, without light beside it."),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "channel depth",
    )  # fmt: skip
    yield Step(
        f"{stage.id}.let-in", stage.id, "Let in the strips",
        (glue_line(c, stage), "Press with a caul along the whole strip. Scrape flush when dry, and saw the ends off."),
        (say.GLUE,), wait_hours=stage.clamp_hours, map=Map.FACE,
    )  # fmt: skip


def shape(c: Context) -> Iterator[Step]:
    """Steps of cutting the outline."""
    stage = c.result.stage
    assert isinstance(stage, Shape)
    size = c.lengths.show_size(*c.result.size)
    how = {
        Outline.ROUNDED: f"Draw the corners with a radius of {c.mm(stage.radius)}, saw outside the line, then sand or rout to a template.",
        Outline.CIRCLE: f"Find the middle by the diagonals and rout round it on a trammel, {c.mm(c.result.size[0] / 2)} from pivot to the bit's near side.",
        Outline.OWN: "Saw outside the line and rout to a template with a bearing bit.",
    }[stage.outline]
    yield Step(
        f"{stage.id}.outline", stage.id, f"Cut to {stage.outline.label}",
        (how, f"Leaves {size}.", "Do everything that needs square reference edges before this."),
        (say.ROUTER,), "", "", c.result.size[0], "width", map=Map.FACE,
    )  # fmt: skip


def groove(c: Context) -> Iterator[Step]:
    """Steps of routing a juice groove."""
    stage = c.result.stage
    assert isinstance(stage, Groove)
    where = (
        f"Its middle runs {c.mm(stage.inset)} inside the edges, {stage.corners.label}"
        + (f" of {c.mm(stage.corner_radius)}" if stage.corners is Corners.OUTSIDE else "")
        if stage.path is Path.RING
        else f"A circle, its middle {c.mm(stage.inset)} inside the edge"
        if stage.path is Path.CIRCLE
        else f"{len(stage.runs)} open run{'s' if len(stage.runs) != 1 else ''}, as drawn"
    )
    holds = c.result.outcome.waste.get(Cause.SHAPING, 0.0) / 1000
    yield Step(
        f"{stage.id}.rout", stage.id, f"Rout the groove in {stage.face.label}",
        (
            f"{where}; {c.mm(stage.top_width)} wide at the surface, {c.mm(stage.depth)} deep.",
            "Go down in three passes, the last one a hair. Stop and lift; never dwell, end grain burns.",
            f"It holds {c.lengths.amount(holds, 'ml')} to the brim.",
        ),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "groove depth", map=Map.FACE,
    )  # fmt: skip


def well(c: Context) -> Iterator[Step]:
    """Steps of routing a well."""
    stage = c.result.stage
    assert isinstance(stage, Well)
    yield Step(
        f"{stage.id}.rout", stage.id, f"Rout the well in {stage.face.label}",
        (
            f"{c.mm(stage.width)} × {c.mm(stage.length)} with corners of {c.mm(stage.radius)}, {stage.place.label}, {c.mm(stage.inset)} from the edges.",
            f"{c.mm(stage.depth)} deep: lower than the groove that drains into it. Clear the middle first, then the walls to a template.",
        ),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "well depth", map=Map.FACE,
    )  # fmt: skip


def hollow(c: Context) -> Iterator[Step]:
    """Steps of hollowing a face."""
    stage = c.result.stage
    assert isinstance(stage, Hollow)
    what = "sphere" if stage.form is Form.SPHERE else "cylinder"
    yield Step(
        f"{stage.id}.rout", stage.id, f"Hollow {stage.face.label}",
        (
            f"Part of a {what} of radius {c.mm(stage.radius)}, {c.mm(stage.depth)} deep; {c.mm(stage.across)} across at the rim.",
            "Router on a rocking sled or an arc jig, from the rim inwards; sand with a former of the same radius.",
            "Try the knife: its curve must be tighter than the hollow's.",
        ),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "depth", map=Map.FACE,
    )  # fmt: skip


def cove(c: Context) -> Iterator[Step]:
    """Steps of routing finger coves."""
    stage = c.result.stage
    assert isinstance(stage, Cove)
    thickness = c.result.size[2]
    deep = stage.depth > thickness / 2
    yield Step(
        f"{stage.id}.rout", stage.id, "Rout the finger coves",
        (
            f"{capital(stage.sides.label)}, {stage.at.label}: {c.mm(stage.length)} long, radius {c.mm(stage.radius)}, {c.mm(stage.depth)} in.",
            "Stops at both ends; enter against a pivot, and go over the whole length again at each depth.",
            *((f"Deeper than half the thickness of {c.mm(thickness)}: the lip above it is weak.",) if deep else ()),
        ),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "cove depth",
    )  # fmt: skip


def notch(c: Context) -> Iterator[Step]:
    """Steps of cutting a notch."""
    stage = c.result.stage
    assert isinstance(stage, Notch)
    yield Step(
        f"{stage.id}.cut", stage.id, "Cut the notches",
        (
            f"{capital(stage.sides.label)}: {c.mm(stage.width)} wide, {c.mm(stage.depth)} deep, inner corners of {c.mm(stage.radius)}.",
            "Saw short of the line, then rout to a template. A bearing will fall into it later: ease the long edges first.",
        ),
        (say.ROUTER,), map=Map.FACE,
    )  # fmt: skip


def rabbet(c: Context) -> Iterator[Step]:
    """Steps of cutting a rabbet."""
    stage = c.result.stage
    assert isinstance(stage, Rabbet)
    yield Step(
        f"{stage.id}.cut", stage.id, f"Cut the rabbet in {stage.face.label}",
        (f"{capital(stage.sides.label)}: {c.mm(stage.width)} in from the edge, {c.mm(stage.depth)} deep.", "Try it on the sink before going to depth."),
        (say.ROUTER,), c.mm(stage.depth), "Depth", stage.depth, "rabbet depth",
    )  # fmt: skip


def feet(c: Context) -> Iterator[Step]:
    """Steps of drilling for feet."""
    stage = c.result.stage
    assert isinstance(stage, Feet)
    yield Step(
        f"{stage.id}.drill", stage.id, "Drill for the feet",
        (
            f"Four pilot holes of {c.mm(stage.pilot)}, {c.mm(stage.depth)} deep, {c.mm(stage.inset)} in from both edges; tape on the drill as a stop.",
            "Screw the feet on after oiling, with stainless screws and by hand; a driver splits the foot.",
        ),
        (say.DRILL,), c.mm(stage.depth), "Drill stop",
    )  # fmt: skip


def rest(c: Context) -> Iterator[Step]:
    """The step of leaving it alone."""
    stage = c.result.stage
    assert isinstance(stage, Rest)
    days = f"{stage.days:g} day{'s' if not math.isclose(stage.days, 1) else ''}"
    yield Step(
        f"{stage.id}.rest", stage.id, "Let it rest off the clamps",
        (f"{days}, standing on edge with air on both faces.", "Glue moisture leaves, and any warp shows before it is flattened away."),
        wait_hours=stage.days * 24,
    )  # fmt: skip


def fill(c: Context) -> Iterator[Step]:
    """The step of filling voids."""
    stage = c.result.stage
    assert isinstance(stage, Fill)
    how = {
        Filler.THIN_GLUE: "Let it run into hairlines and wipe at once: it stains end grain. Seal round them first with a drop of finish.",
        Filler.PASTE: "Dust of the same wood and glue to a stiff paste, pressed in proud; it shrinks.",
        Filler.PLUG: "Drill the void clean and glue in an end-grain plug with its rings turned like those round it.",
    }[stage.filler]
    yield Step(
        f"{stage.id}.fill", stage.id, f"Fill: {stage.filler.label}", (how, "Fill before sanding, and look over both faces and all edges."),
        (say.FUMES,), wait_hours=stage.hours,
    )  # fmt: skip
