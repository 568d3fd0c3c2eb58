"""How work on edges and faces reads at the bench: outlines, routed shapes, borders, inlays."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ..analysis.marks import these
from ..instructions import Edging, Frame, LetIn
from ..stages import (
    Cause,
    Cove,
    Ease,
    Feet,
    Groove,
    Hollow,
    Notch,
    Rabbet,
    Shape,
    Well,
)
from ..stages.ease import Edge
from ..stages.groove import Bit, Corners, Path
from ..stages.hollow import Form
from ..stages.shape import Outline
from ..stages.well import Place
from ..units import degrees, plural
from . import cautions as say
from . import clamping
from .laying import in_turn
from .model import Context, Map, Step
from .parts import capital, glue_line


def border(c: Context) -> Iterator[Step]:
    """Steps of framing a board, each go with its own pieces, joints and glue."""
    goes = [told for told in c.does if isinstance(told, Frame)]
    key, splined = goes[0].stage, bool(goes[0].splines)
    pieces = [name for told in goes for side in told.sides for name in side.pieces]
    yield Step(
        f"{key}.parts", key, "Prepare the border",
        (
            f"Pieces: {these(pieces)}.",
            "The border must be end grain like the core, or the core tears it off when it moves.",
            "Plane or sand its pieces to one thickness now, while they still fit a machine.",
            *((f"Left over: {these(goes[-1].spare)}.",) if goes[-1].spare else ()),
        ),
        (say.THIN_END_GRAIN,),
    )  # fmt: skip
    for number, told in enumerate(goes, 1):
        words = [side.side for side in told.sides]
        run = 1 - told.sides[0].axis
        yield Step(
            f"{key}.go-{number}", key, f"Glue on the {' and the '.join(words)} side",
            (
                *(_edging(c, side, run) for side in told.sides),
                glue_line(c, told.spread, told.joints, told.grams),
                *(_spline(told),) * bool(told.splines),
                "Clamp across both sides at once, a caul along each.",
                *clamping.told(c, told.clamping, "near" if run == 1 else "left"),
                clamping.squeeze(c),
                f"When it is out of the clamps, saw the ends flush{' before the other two go on' if number == 1 else ''}.",
            ),
            (say.GLUE, say.TRIM, *((say.ROUTER,) if splined else ())), wait_hours=told.hours,
            map=Map.FRAME, does=(told,),
        )  # fmt: skip


def _edging(c: Context, side: Edging, run: int) -> str:
    """One side of a border: its pieces in order, and how far the first stands over."""
    begin = "the near end" if run == 1 else "the left"
    over = f", the first standing {c.mm(-side.begins)} over, so that seams are staggered" if side.begins else ""
    many = f" from {begin}, end to end" if len(side.pieces) > 1 else ""
    return f"{capital(side.side)} side: {in_turn(side.pieces)}{many}, longer side along the edge{over}."


def _spline(told: Frame) -> str:
    return (
        f"Once dry and flush, rout a groove over each new joint, half way up and as wide and high as its spline, half to "
        f"either side of the joint, and glue in {in_turn(told.splines)} ({' and '.join(side.side for side in told.sides)}); saw them flush."
    )


def inlay(c: Context) -> Iterator[Step]:
    """Steps of laying strips into a face."""
    (told,) = c.does
    assert isinstance(told, LetIn)
    edge, run = ("left", "from front to back") if told.axis == 1 else ("near", "from left to right")
    places = ", ".join(f"{c.mm(channel.at)} for {channel.strip}" for channel in told.channels)
    yield Step(
        f"{told.stage}.channel", told.stage, "Rout the channels",
        (
            f"{c.mm(told.depth)} deep, running {run}; middles from the {edge} edge: {places}.",
            "Each as wide as its strip: it must slide in by hand, without light beside it.",
        ),
        (say.ROUTER,), c.lengths.set_to(told.depth), "Depth", told.depth, "channel depth",
    )  # fmt: skip
    yield Step(
        f"{told.stage}.let-in", told.stage, "Let in the strips",
        (
            glue_line(c, told.spread, told.joints, told.grams),
            "Press with a caul along the whole strip. Scrape flush when dry, and saw the ends off.",
            *((f"Left over: {these(told.spare)}.",) if told.spare else ()),
        ),
        (say.GLUE,), wait_hours=told.hours, map=Map.FACE, does=c.does,
    )  # fmt: skip


def shape(c: Context) -> Iterator[Step]:
    """Steps of cutting the outline."""
    stage = c.result.stage
    assert isinstance(stage, Shape)
    size = c.lengths.show_size(*c.result.size)
    how = {
        Outline.ROUNDED: f"Draw the corners with a radius of {c.mm(stage.radius)}, saw outside the line, then sand or rout to a template.",
        Outline.CIRCLE: f"Find the middle by the diagonals and rout round it on a trammel, {c.mm(c.result.size[0] / 2)} from pivot to the bit's near side.",
        Outline.OWN: f"Draw its corners, across × away from the near left corner: {_points(c, stage.points)}"
        + (f"; those that bulge outwards take a radius of {c.mm(stage.radius)}" if stage.radius else "")
        + ". Saw outside the line and rout to a template with a bearing bit.",
    }[stage.outline]
    yield Step(
        f"{stage.id}.outline", stage.id, f"Cut to {stage.outline.label}",
        (how, f"Leaves {size}.", "Do everything that needs square reference edges before this."),
        (say.ROUTER,), "", "", c.result.size[0], "width", map=Map.FACE, does=c.does,
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
        else f"{plural(len(stage.runs), 'open run')}, across × away from the near left corner: "
        + "; ".join(f"run {number} through {_points(c, run)}" for number, run in enumerate(stage.runs, 1))
    )
    bit = f"a round nose of {c.mm(stage.width)}" if stage.bit is Bit.ROUND else f"a vee bit of {degrees(stage.angle)}"
    holds = c.result.outcome.waste.get(Cause.SHAPING, 0.0) / 1000
    yield Step(
        f"{stage.id}.rout", stage.id, f"Rout the groove in {stage.face.label}",
        (
            f"{where}; {c.lengths.show(stage.top_width)} wide at the surface, {c.mm(stage.depth)} deep, with {bit}.",
            "Go down in three passes, the last one a hair. Stop and lift; never dwell, end grain burns.",
            f"It holds {c.lengths.amount(holds, 'ml')} to the brim.",
        ),
        (say.ROUTER,), c.lengths.set_to(stage.depth), "Depth", stage.depth, "groove depth", map=Map.FACE, does=c.does,
    )  # fmt: skip


def well(c: Context) -> Iterator[Step]:
    """Steps of routing a well."""
    stage = c.result.stage
    assert isinstance(stage, Well)
    yield Step(
        f"{stage.id}.rout", stage.id, f"Rout the well in {stage.face.label}",
        (
            f"{c.lengths.exact_size(stage.width, stage.length)} (across × along) with corners of {c.mm(stage.radius)}, {stage.place.label}, {c.mm(stage.inset)} from the edges."
            if stage.place is not Place.MIDDLE
            else f"{c.lengths.exact_size(stage.width, stage.length)} (across × along) with corners of {c.mm(stage.radius)}, in the middle, at least {c.mm(stage.inset)} from the edges.",
            f"{c.mm(stage.depth)} deep: lower than the groove that drains into it. Clear the middle first, then the walls to a template.",
        ),
        (say.ROUTER,), c.lengths.set_to(stage.depth), "Depth", stage.depth, "well depth", map=Map.FACE, does=c.does,
    )  # fmt: skip


def _points(c: Context, points: Iterable[tuple[float, float]]) -> str:
    """Points from the near left corner."""
    return ", ".join(c.lengths.exact_size(*point) for point in points)


def _middle(c: Context, stage: Hollow) -> str:
    """Where the middle of a hollow lies."""
    x, y = stage.offset
    if not (x or y):
        return "Its deepest point lies in the middle of the board."
    across = f"{c.mm(abs(x))} to the {'right' if x > 0 else 'left'}" if x else ""
    along = f"{c.mm(abs(y))} {'away from you' if y > 0 else 'towards you'}" if y else ""
    return f"Its deepest point lies {' and '.join(filter(None, (across, along)))} from the middle of the board."


def _beside(c: Context, stage: Notch) -> str:
    """Where along its edge a notch lies."""
    if not stage.shift:
        return "in the middle of the edge."
    right, far = ("right", "far end") if stage.shift > 0 else ("left", "near end")
    on_side, on_end = (any(side.axis == axis for side in stage.sides.each) for axis in (0, 1))
    to = " or the ".join(filter(None, (far if on_side else "", f"{right}" if on_end else "")))
    return f"{c.mm(abs(stage.shift))} from the middle of the edge, towards the {to}."


def hollow(c: Context) -> Iterator[Step]:
    """Steps of hollowing a face."""
    stage = c.result.stage
    assert isinstance(stage, Hollow)
    what = {
        Form.SPHERE: "sphere", Form.CYLINDER_ALONG: "cylinder along the length",
        Form.CYLINDER_ACROSS: "cylinder across the width",
    }[stage.form]  # fmt: skip
    yield Step(
        f"{stage.id}.rout", stage.id, f"Hollow {stage.face.label}",
        (
            f"Part of a {what} of radius {c.mm(stage.radius)}, {c.mm(stage.depth)} deep; {c.lengths.show(stage.across)} across at the rim.",
            _middle(c, stage),
            "Router on a rocking sled or an arc jig, from the rim inwards; sand with a former of the same radius.",
            "Try the knife: its curve must be tighter than the hollow's.",
        ),
        (say.ROUTER,), c.lengths.set_to(stage.depth), "Depth", stage.depth, "depth", map=Map.FACE, does=c.does,
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
            f"{capital(stage.sides.label)}, {stage.at.label}: {_cove_length(c, stage)}, radius {c.mm(stage.radius)}, "
            f"{c.mm(stage.depth)} in.",
            "Stops at both ends; enter against a pivot, and go over the whole length again at each depth.",
            *((f"Deeper than half the thickness of {c.mm(thickness)}: the lip above it is weak.",) if deep else ()),
        ),
        (say.ROUTER,), c.lengths.set_to(stage.depth), "Depth", stage.depth, "cove depth", does=c.does,
    )  # fmt: skip


def _cove_length(c: Context, stage: Cove) -> str:
    return f"{c.mm(stage.length)} long" if stage.ends is None else f"from {c.mm(stage.ends)} off both ends of the edge"


def notch(c: Context) -> Iterator[Step]:
    """Steps of cutting a notch."""
    stage = c.result.stage
    assert isinstance(stage, Notch)
    yield Step(
        f"{stage.id}.cut", stage.id, "Cut the notches",
        (
            f"{capital(stage.sides.label)}: {c.mm(stage.width)} wide, {c.mm(stage.depth)} deep, inner corners of {c.mm(stage.radius)}; "
            + _beside(c, stage),
            "Saw short of the line, then rout to a template. A bearing will fall into it later: ease the long edges first.",
        ),
        (say.ROUTER,), map=Map.FACE, does=c.does,
    )  # fmt: skip


def rabbet(c: Context) -> Iterator[Step]:
    """Steps of cutting a rabbet."""
    stage = c.result.stage
    assert isinstance(stage, Rabbet)
    yield Step(
        f"{stage.id}.cut", stage.id, f"Cut the rabbet in {stage.face.label}",
        (f"{capital(stage.sides.label)}: {c.mm(stage.width)} in from the edge, {c.mm(stage.depth)} deep.", "Try it on the sink before going to depth."),
        (say.ROUTER,), c.lengths.set_to(stage.depth), "Depth", stage.depth, "rabbet depth", does=c.does,
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
        (say.DRILL,), c.lengths.set_to(stage.depth), "Drill stop", does=c.does,
    )  # fmt: skip


def ease(c: Context) -> Iterator[Step]:
    """Steps of breaking the edges."""
    stage = c.result.stage
    assert isinstance(stage, Ease)
    parts = [("top edges", stage.top), ("bottom edges", stage.bottom), ("upright corners", stage.corners)]
    where = " and ".join(name for name, on in parts if on) or "no edges"
    yield Step(
        f"{stage.id}.ease", stage.id, "Ease the edges",
        (
            f"Chamfer {c.mm(stage.size)} at 45° on the {where}."
            if stage.form is Edge.CHAMFER
            else f"Round over with a radius of {c.mm(stage.size)} on the {where}.",
        ),
        (say.CHAMFER,), c.lengths.set_to(stage.size), stage.form.value.capitalize(), does=c.does,
    )  # fmt: skip
