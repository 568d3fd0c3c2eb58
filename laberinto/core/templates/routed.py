"""Templates that a router runs along: outline, groove, well, notch, channels for strips.

Where a bush leads a bit, the template's edge lies beside the cut by half of what the bush is wider than the bit, and
beside the middle of the bit by half the bush: both follow from the bush running along the edge with the bit in its
middle. A bush cannot turn sharper than its own round, which every template says where it matters.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.outlines import rounded_rectangle
from ..shop.guides import Guided
from ..solid import Floats
from ..stages import Groove, Inlay, Notch, Shape, Well
from ..stages.carving import BoardEdge, Surface
from ..stages.groove import Bit, Corners, Path
from ..stages.shape import Outline
from .model import Label, Line, Making, Stroke, Template, closed, rectangle

ROUND = 48
"""Segments of a quarter circle where an outline is widened: of 100 mm they lie 0.014 mm off the arc at most."""

BEYOND = 40.0
"""A template reaches so far past the end of what it guides, mm, for the router to stand on."""

NEAR = 80.0
"""From an edge up to which a template is laid by the corner there, mm."""

LAID = "The underside is worked: it is drawn as seen from below, so lay it on the underside as it is."


def beside(ring: Floats, by: float, *, square: bool = False) -> BaseGeometry:
    """What a ring encloses, wider all round by ``by`` mm (less where that is below 0); corners become round, or stay
    ``square``."""
    return shapely.Polygon(ring).buffer(by, quad_segs=ROUND, join_style="mitre" if square else "round")


def _seen(made: Making, points: Floats, surface: Surface) -> Floats:
    """Points of the board as the worked face shows them, from its near left corner."""
    flat = np.asarray(points - made.low[:2], float)
    if surface is Surface.BOTTOM:
        flat = flat * [-1.0, 1.0] + [float(made.size[0]), 0.0]
    return flat


def _led(made: Making) -> str:
    """How far the edge lies from the cut, in words."""
    guide = made.guide
    if guide.way is Guided.BEARING:
        return "Its edge is the line of the cut: the bearing must be exactly as wide as the bit."
    return (
        f"For a bush of {made.mm(guide.bush)} and a bit of {made.mm(guide.bit)} its edge lies {made.mm(guide.offset)} "
        f"beside the cut: ({made.mm(guide.bush)} − {made.mm(guide.bit)}) ÷ 2."
    )


def outline(made: Making) -> Iterator[Template]:
    """Of a board that gets a shape: what lies within it is kept."""
    stage = made.stage
    assert isinstance(stage, Shape)
    ring = _seen(made, stage.corners(made.low, made.high), Surface.TOP)
    guide = made.guide
    says = [_led(made), "Saw a hair outside the line first, then rout to the template."]
    if stage.outline is Outline.ROUNDED and stage.radius:
        says.append(f"Corners of {made.mm(stage.radius)}.")
    edge = beside(ring, -guide.offset, square=True)
    inner = beside(ring, guide.bit / 2).buffer(-guide.bit / 2, quad_segs=ROUND)
    if inner.area - shapely.Polygon(ring).area > 1:
        says.append(
            f"Where it bulges inwards sharper than the bit, a round of {made.mm(guide.bit / 2)} is left: finish it by "
            "hand, or take a smaller bit."
        )
    middle = beside(ring, guide.bit / 2)
    yield Template(
        f"{stage.id}.outline", stage.id, "Outline",
        (*closed(Line.CUT, edge), Stroke(Line.MADE, ring), *closed(Line.BIT, middle), made.board()), tuple(says),
    )  # fmt: skip


def groove(made: Making) -> Iterator[Template]:
    """Of a groove: a plate within it and a frame round it, or slots for open runs."""
    stage = made.stage
    assert isinstance(stage, Groove)
    half, wide = made.guide.bush / 2, stage.top_width if stage.bit is Bit.VEE else stage.width
    what = f"The groove is {made.mm(stage.top_width)} wide and {made.mm(stage.depth)} deep."
    says = [what, LAID] if stage.face is Surface.BOTTOM else [what]
    if not made.guide.passes(wide):
        says.append(
            f"Its bit is {made.mm(wide)} wide and does not go through the bush of {made.mm(made.guide.bush)}: enter a "
            "wider bush for a template; these lines show the groove alone."
        )
    if stage.path is Path.RUNS:
        yield _runs(made, stage, wide, says)
        return
    ring = stage.ring(made.low, made.high)
    middle = _seen(made, ring, stage.face)
    shown = (
        *closed(Line.MADE, beside(middle, stage.top_width / 2)),
        *closed(Line.MADE, beside(middle, -stage.top_width / 2, square=True)),
        Stroke(Line.BIT, middle), made.board(),
    )  # fmt: skip
    says.append(f"Its middle runs {made.mm(stage.inset)} inside the edges.")
    if not made.guide.passes(wide):
        yield Template(f"{stage.id}.groove", stage.id, "Groove", shown, tuple(says))
        return
    radius = stage.bend(made.low, made.high)
    for key, title, way, words in (
        ("inner", "Groove, plate within it", -1.0, "inside"), ("outer", "Groove, frame round it", 1.0, "outside"),
    ):  # fmt: skip
        sharp = stage.path is Path.RING and stage.corners is Corners.INSIDE
        edge = beside(middle, way * half, square=way < 0 or sharp)
        mine = [*says, f"The bush of {made.mm(made.guide.bush)} runs along it, so its edge lies {made.mm(half)} "
                       f"{words} the middle of the groove."]  # fmt: skip
        if way < 0 and radius < half - 1e-6:
            mine.append(
                f"Round this plate the corners come out with {made.mm(half)}, half the bush, where the plan has "
                f"{made.mm(radius)}: use the frame, or a smaller bush."
            )
        if edge.is_empty:
            continue
        yield Template(f"{stage.id}.{key}", stage.id, title, (*closed(Line.CUT, edge), *shown), tuple(mine))


def _runs(made: Making, stage: Groove, wide: float, says: list[str]) -> Template:
    half = made.guide.bush / 2
    middles = [_seen(made, np.array(run) + made.low[:2], stage.face) for run in stage.runs]
    lines = shapely.MultiLineString([run.tolist() for run in middles])
    made_ = closed(Line.MADE, lines.buffer(stage.top_width / 2, quad_segs=ROUND))
    cut = closed(Line.CUT, lines.buffer(half, quad_segs=ROUND)) if made.guide.passes(wide) else ()
    if cut:
        says = [*says, f"Slots as wide as the bush, {made.mm(2 * half)}; their ends stop it."]
    bits = tuple(Stroke(Line.BIT, run, closed=False) for run in middles)
    return Template(f"{stage.id}.runs", stage.id, "Groove, slots", (*cut, *made_, *bits, made.board()), tuple(says))


def well(made: Making) -> Iterator[Template]:
    """Of a pocket: an opening round it."""
    stage = made.stage
    assert isinstance(stage, Well)
    ring = _seen(made, stage.outline(made.low, made.high), stage.face)
    yield _opening(
        made, ring, "Well", f"{made.mm(stage.depth)} deep.", stage.radius, under=stage.face is Surface.BOTTOM
    )


def _opening(made: Making, ring: Floats, title: str, what: str, radius: float, *, under: bool = False) -> Template:
    guide, says = made.guide, [what, _led(made)]
    if under:
        says.append(LAID)
    if radius < guide.bit / 2 - 1e-6:
        says.append(
            f"Its corners of {made.mm(radius)} want a bit of {made.mm(2 * radius)} or less; this one leaves them at "
            f"{made.mm(guide.bit / 2)}."
        )
    middle = beside(ring, -guide.bit / 2, square=True)
    cut = beside(ring, guide.offset)
    strokes = (*closed(Line.CUT, cut), Stroke(Line.MADE, ring), *closed(Line.BIT, middle), *_near(made, cut))
    return Template(f"{made.stage.id}.opening", made.stage.id, title, strokes, tuple(says))


def _near(made: Making, cut: BaseGeometry) -> tuple[Stroke, ...]:
    """Of the board's edges only the corner that a template is laid by, where one is near; else all of them."""
    wide, long = (float(v) for v in made.size[:2])
    left, low, right, high = cut.bounds
    if min(left, wide - right) > NEAR or min(low, long - high) > NEAR:
        return (made.board(),)
    x = 0.0 if left < wide - right else wide
    y = 0.0 if low < long - high else long
    far_x, far_y = (right + BEYOND if not x else left - BEYOND), (high + BEYOND if not y else low - BEYOND)
    corner = np.array([[min(max(far_x, 0.0), wide), y], [x, y], [x, min(max(far_y, 0.0), long)]])
    return (Stroke(Line.BOARD, corner, closed=False),)


def notch(made: Making) -> Iterator[Template]:
    """Of a notch, seen from above with its edge at the bottom: the same for every edge that gets one."""
    stage = made.stage
    assert isinstance(stage, Notch)
    run = 1 - stage.sides.each[0].axis
    long = float(made.size[run])
    middle = long / 2 + stage.shift
    left, right = middle - stage.width / 2, middle + stage.width / 2
    radius = min(stage.radius, stage.width / 2, stage.depth)
    ring = rounded_rectangle(np.array([left, -radius - BEYOND]), np.array([right, stage.depth]), radius)
    shape = shapely.Polygon(ring)
    below = shapely.box(left - 500, -BEYOND, right + 500, 0)
    guide = made.guide
    yield Template(
        f"{stage.id}.notch", stage.id, "Notch",
        (
            *closed(Line.CUT, shape.buffer(guide.offset, quad_segs=ROUND).difference(below)),
            *closed(Line.MADE, shape.difference(below)),
            Stroke(Line.BOARD, np.array([[0.0, 0.0], [long, 0.0]]), closed=False),
            Stroke(Line.BOARD, np.array([[middle, -5.0], [middle, stage.depth]]), closed=False),
        ),
        (
            f"Into the {_edges(stage.sides.each)}, {made.mm(stage.width)} wide and {made.mm(stage.depth)} deep; the "
            f"board’s edge is the line at the bottom, {made.mm(middle)} from its left end to the middle.",
            _led(made), "Saw short of the line first.",
        ),
    )  # fmt: skip


def _edges(edges: tuple[BoardEdge, ...]) -> str:
    names = [edge.value for edge in edges]
    return f"{', '.join(names[:-1])} and {names[-1]} edges" if names[1:] else f"{names[0]} edge"


def inlay(made: Making) -> Iterator[Template]:
    """Of channels for strips: an opening for each, longer than the board, and the section of the strip."""
    stage = made.stage
    assert isinstance(stage, Inlay)
    across = 1 - stage.along.axis
    run = float(made.size[1 - across])
    strips = [pool[n] for name in stage.sources[1:] for pool in (made.sim.taken(name),) for n in range(len(pool))]
    cut: list[Stroke] = []
    shown: list[Stroke] = []
    labels = []
    turned = np.array([[0.0, 1.0], [1.0, 0.0]]) if across else np.eye(2)
    for number, (at, strip) in enumerate(zip(stage.at, strips, strict=False), 1):
        half = float(strip.size()[0]) / 2
        channel = rectangle(at - half, 0, at + half, run) @ turned
        for strokes, line, by, beyond in ((cut, Line.CUT, made.guide.offset, BEYOND), (shown, Line.MADE, 0.0, 0.0)):
            box = rectangle(at - half - by, -beyond, at + half + by, run + beyond)
            strokes.append(Stroke(line, box @ turned))
        labels.append(Label((float(channel[:, 0].mean()), float(channel[:, 1].mean())), str(number)))
    yield Template(
        f"{stage.id}.channels", stage.id, "Inlay, channels", (*cut, *shown, made.board()),
        (f"{made.mm(stage.depth)} deep.", _led(made), "Rout to the fitted strip: try an offcut of it before you glue."),
        tuple(labels),
    )  # fmt: skip
    width, _, thick = (float(v) for v in strips[0].size())
    yield Template(
        f"{stage.id}.key", stage.id, "Inlay, section of the strip",
        (
            Stroke(Line.CUT, rectangle(0, 0, width, thick)),
            Stroke(Line.BOARD, np.array([[-20.0, stage.depth], [width + 20.0, stage.depth]]), closed=False),
        ),
        (
            f"{made.mm(width)} wide; {made.mm(stage.depth)} of it lie in the board, "
            f"{made.mm(thick - stage.depth)} stand proud and are planed flush.",
        ),
    )  # fmt: skip
