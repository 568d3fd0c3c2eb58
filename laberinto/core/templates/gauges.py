"""Gauges and blocks, not for a router: knife arcs, coves on an edge, sections, angles, cauls, wedges, feet."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely

from ..geometry.cutters import circle, facets
from ..geometry.faces import Side, face_of
from ..geometry.outlines import hull
from ..stages import Across, Cove, Crosscut, Feet, Flatten, Glue, Hollow, Method, Profile, Rip
from ..stages.edges import Height
from ..stages.hollow import Form
from ..units import degrees
from .model import Label, Line, Making, Stroke, Template, closed, rectangle

CARD = 30.0
"""A gauge is held by so much above its edge, mm."""

CAUL = 30.0
"""Wood behind the deepest point of a shaped caul, mm."""

LEANS = 0.004
"""Sine of the lean from which a side wants a caul of its own: a quarter of a degree."""

SHIM = (120.0, 6.0)
"""Length and greatest height of a wedge for a router sled, mm."""

CHEEK, RAIL = 20.0, 40.0
"""Thickness of a sled's cheeks and stops, and of the rails it rides on, mm."""

AROUND, RUN_OUT, RISE = 3.0, 5.0, 5.0
"""A sled's opening is so much wider than the bit on either side, the bit runs so far past the ends of the wood, and the
rails stand so much higher than it, mm."""


def hollow(made: Making) -> Iterator[Template]:
    """Its rim on the face, and a card with its arc."""
    stage = made.stage
    assert isinstance(stage, Hollow)
    half, size = stage.across / 2, made.size
    x, y = float(size[0]) / 2 + stage.offset[0], float(size[1]) / 2 + stage.offset[1]
    rim = {
        Form.SPHERE: lambda: circle(half, x, y),
        Form.CYLINDER_ALONG: lambda: rectangle(x - half, 0, x + half, float(size[1])),
        Form.CYLINDER_ACROSS: lambda: rectangle(0, y - half, float(size[0]), y + half),
    }[stage.form]()
    yield Template(
        f"{stage.id}.rim", stage.id, "Hollow, its rim", (Stroke(Line.MADE, rim), made.board()),
        (f"{made.mm(stage.depth)} deep in the middle; at the face it is {made.mm(stage.across)} across.",),
    )  # fmt: skip
    yield _arc(made, stage, stage.radius, "hollow", "Hollow, its arc",
               "Turn it in the hollow, across its middle: no light under it anywhere.")  # fmt: skip
    if stage.knife is not None:
        yield _arc(made, stage, stage.knife, "knife", "Hollow, the knife’s arc",
                   "Hold it to the blade, then rock it in the hollow: it touches in one place at a time.")  # fmt: skip


def _arc(made: Making, stage: Hollow, radius: float, key: str, title: str, use: str) -> Template:
    reach = math.asin(min(stage.across / 2 / radius, 1.0))
    turn = np.linspace(-reach, reach, max(facets(radius), 64) + 1)
    edge = np.stack([radius * np.sin(turn), radius - radius * np.cos(turn)], axis=1)
    top = float(edge[-1, 1]) + CARD
    card = np.concatenate([edge, [[edge[-1, 0], top], [edge[0, 0], top]]])
    return Template(
        f"{stage.id}.{key}", stage.id, title, (Stroke(Line.CUT, card),), (f"An arc of {made.mm(radius)}.", use)
    )


def cove(made: Making) -> Iterator[Template]:
    """On an edge seen from outside: its opening, and where the bit is plunged and lifted; one for each length of
    edge."""
    stage = made.stage
    assert isinstance(stage, Cove)
    thick = float(made.size[2])
    deep = min(stage.depth, stage.radius)
    half = math.sqrt(stage.radius**2 - (stage.radius - deep) ** 2)
    for run in sorted({1 - side.axis for side in stage.sides.each}, reverse=True):
        long = float(made.size[run])
        reach = max(stage.long(long) / 2 - stage.radius, 0.0)
        height = 0.0 if stage.at is Height.UNDERSIDE else thick / 2
        ends = [(long / 2 - reach, height), (long / 2 + reach, height)]
        opening = shapely.LineString(ends).buffer(half, quad_segs=48) if reach else shapely.Point(ends[0]).buffer(half)
        plunges = tuple(
            Stroke(Line.BIT, np.array([[at, 0.0], [at, thick]]), closed=False) for at in sorted({x for x, _ in ends})
        )
        names = "left and right" if run else "near and far"
        yield Template(
            f"{stage.id}.cove-{run}", stage.id, f"Coves, {names} edge",
            (
                *closed(Line.MADE, opening.intersection(shapely.box(0, 0, long, thick))), *plunges,
                Stroke(Line.BOARD, rectangle(0, 0, long, thick)),
            ),
            (
                f"{made.mm(stage.long(long))} over all, {made.mm(stage.depth)} deep, with a bit of "
                f"{made.mm(2 * stage.radius)}.",
                f"The bit’s middle goes in and out at the two upright lines, {made.mm(ends[0][0])} from either end: "
                "set stops so that the router rests there.",
            ),
        )  # fmt: skip


def section(made: Making) -> Iterator[Template]:
    """The section a piece is sawn to, with the angle at each corner, and a gauge for each tilt of the blade."""
    stage = made.stage
    assert isinstance(stage, Profile)
    corners = stage.corners(made.sim.taken(stage.sources[0])[0])
    size = made.size
    ahead, back = np.roll(corners, -1, axis=0) - corners, np.roll(corners, 1, axis=0) - corners
    turn = np.degrees(np.arccos((ahead * back).sum(1) / np.linalg.norm(ahead, axis=1) / np.linalg.norm(back, axis=1)))
    middle = corners.mean(axis=0)
    labels = tuple(
        Label((float(at[0]), float(at[1])), degrees(float(angle)))
        for at, angle in zip(corners + (middle - corners) * 0.22, turn, strict=True)
    )
    says = "Glue it on the near end of a piece and saw beside the line; the kerf lies outside it."
    yield Template(
        f"{stage.id}.section", stage.id, f"Section: {stage.section.label}",
        (Stroke(Line.MADE, corners), Stroke(Line.BOARD, rectangle(0, 0, float(size[0]), float(size[2])))), (says,),
        labels,
    )  # fmt: skip
    tilts = {
        round(math.degrees(math.atan2(abs(x), abs(y))), 3) for x, y in ahead if abs(x) > 1e-6 and abs(y) > 1e-6
    }  # fmt: skip
    for tilt in sorted(tilts):
        yield _gauge(made, tilt, "tilt", "Blade tilted")


def cut(made: Making) -> Iterator[Template]:
    """A gauge for a blade or a fence that does not stand square."""
    stage = made.stage
    assert isinstance(stage, (Rip, Crosscut))
    for angle, key, what in ((stage.skew, "skew", "Fence turned"), (stage.bevel, "tilt", "Blade tilted")):
        if angle:
            yield _gauge(made, abs(angle), key, what)


def _gauge(made: Making, angle: float, key: str, what: str) -> Template:
    """A card whose right side leans from upright by an angle in degrees."""
    high = 70.0
    lean = min(high * math.tan(math.radians(angle)), 160.0)
    high = lean / math.tan(math.radians(angle))
    card = np.array([[0.0, 0.0], [60.0 + lean, 0.0], [60.0, high], [0.0, high]])
    return Template(
        f"{made.stage.id}.{key}-{angle:g}", made.stage.id, f"{what} by {degrees(angle)}", (Stroke(Line.CUT, card),),
        (
            f"Its leaning side stands {degrees(angle)} off square, {degrees(90 - angle)} to its lower edge.",
            "Set the saw by it with the plug pulled, and prove the cut on two offcuts: held together they show twice "
            "the error.",
        ),
        (Label((30.0, high / 2), degrees(angle)),),
    )  # fmt: skip


def cauls(made: Making) -> Iterator[Template]:
    """Blocks that turn a leaning side of a glue-up into an upright one that a clamp can press."""
    stage = made.stage
    assert isinstance(stage, Glue)
    if stage.across is not Across.WIDTH:
        return
    whole = made.sim[stage.id].pieces[0]
    seen = whole.turned(np.array([[1.0, 0, 0], [0, 0, 1.0], [0, -1.0, 0]])).at_origin()
    ring = hull(seen)
    (left, low), (right, high) = ring.min(axis=0), ring.max(axis=0)
    body = shapely.Polygon(ring)
    for side, box in (
        (Side.LEFT, shapely.box(left - CAUL, low, (left + right) / 2, high)),
        (Side.RIGHT, shapely.box((left + right) / 2, low, right + CAUL, high)),
    ):  # fmt: skip
        # a stepped side is square to the clamps all the same; what leans tells by where its faces look
        if float(np.abs(face_of(whole, side).lean[:, 1]).max(initial=0.0)) < LEANS:
            continue
        block, key = box.difference(body), side.value
        reach = shapely.box(block.bounds[0], low, block.bounds[2], high)
        yield Template(
            f"{stage.id}.caul-{key}", stage.id, f"Caul, {key} side",
            (*closed(Line.CUT, block), *closed(Line.BOARD, body.intersection(reach))),
            (
                "Saw it from scrap as long as the joints. Its outer side is upright: the clamps press straight.",
                "Tape or wax the side that meets the glue-up. Press lightly: a sloping side slides up.",
            ),
        )  # fmt: skip


def sled(made: Making) -> Iterator[Template]:
    """Of a router sled: its base with the opening for the bit and the stops, and a wedge with its heights marked, to
    set a board on the table without rocking."""
    stage = made.stage
    assert isinstance(stage, Flatten)
    if stage.method is not Method.ROUTER_SLED:
        return
    yield _base(made, stage)
    yield _wedge(made, stage)


def _base(made: Making, stage: Flatten) -> Template:
    """The base from above, as it bridges the board's longer side, along which the router is led: its near left corner
    over the near rail's outer side."""
    bit, router, long = made.shop.sled_bit, made.shop.sled_base, float(made.size[:2].max())
    wide = router + 2 * CHEEK
    travel = long + bit + 2 * RUN_OUT  # of the bit's middle, so that all of it comes off the wood
    stops = travel + router
    whole = max(stops + 2 * CHEEK, long + 2 * bit + 2 * RAIL)
    middle, across = whole / 2, wide / 2
    run = shapely.LineString([(middle - travel / 2, across), (middle + travel / 2, across)])
    lines = [[(x, 0.0), (x, wide)] for x in (middle - long / 2, middle + long / 2)]
    lines += [[(0.0, y), (whole, y)] for y in (CHEEK, wide - CHEEK)]
    lines += [[(x, CHEEK), (x, wide - CHEEK)] for x in (middle - stops / 2, middle + stops / 2)]
    return Template(
        f"{stage.id}.sled", stage.id, "Base of the router sled",
        (
            Stroke(Line.CUT, rectangle(0, 0, whole, wide)),
            *closed(Line.CUT, run.buffer(bit / 2 + AROUND, quad_segs=48)),
            Stroke(Line.BIT, np.asarray(run.coords), closed=False),
            *(Stroke(Line.BOARD, np.array(line), closed=False) for line in lines),
        ),
        (
            f"The opening is {made.mm(bit + 2 * AROUND)} wide for a bit of {made.mm(bit)}, and so long that the bit "
            "runs off both ends of the board.",
            f"Along the lines beside it stand the cheeks, {made.mm(router)} apart for the router’s base, which runs "
            "between them without play; across them the two stops.",
            f"It rides on two rails more than {made.mm(long + 2 * bit)} apart and at least "
            f"{made.mm(float(made.size[2]) + RISE)} high, the same all along; the cheeks keep it stiff.",
            "Depth is set at the lowest corner of the board, with the plug pulled.",
        ),
        (
            Label((middle, across + bit / 2 + AROUND + 12), "opening for the bit"),
            Label((middle, CHEEK / 2), "cheek"), Label((middle, wide - CHEEK / 2), "cheek"),
            *(Label((middle + way * (stops / 2 - 25), across), "stop") for way in (-1, 1)),
            Label((middle - long / 2 + 55, CHEEK + 16), "end of board"),
        ),
    )  # fmt: skip


def _wedge(made: Making, stage: Flatten) -> Template:
    long, high = SHIM
    marks = [(long * at / high, at) for at in np.arange(1.0, high + 0.5)]
    return Template(
        f"{stage.id}.shim", stage.id, "Wedge for the router sled",
        (
            Stroke(Line.CUT, np.array([[0.0, 0.0], [long, 0.0], [long, high]])),
            *(Stroke(Line.BOARD, np.array([[x, 0.0], [x, at]]), closed=False) for x, at in marks),
        ),
        (f"Cut four. Push them under the low corners until nothing rocks; each line is {made.mm(1.0)} more.",),
        tuple(Label((x, -5.0), f"{at:g}") for x, at in marks),
    )  # fmt: skip


def feet(made: Making) -> Iterator[Template]:
    """A corner of scrap with the hole in its place."""
    stage = made.stage
    assert isinstance(stage, Feet)
    reach = stage.inset + 30
    yield Template(
        f"{stage.id}.corner", stage.id, "Corner for the feet",
        (
            Stroke(Line.CUT, rectangle(0, 0, reach, reach)),
            Stroke(Line.MADE, circle(stage.pilot / 2, stage.inset, stage.inset)),
        ),
        (
            f"Two battens along the two edges that meet at the lower left hold it to each corner; the hole is "
            f"{made.mm(stage.pilot)}, {made.mm(stage.inset)} from both edges. Turn it over for every other corner.",
            f"Drill {made.mm(stage.depth)} deep and not through: tape on the drill shows how far.",
        ),
    )  # fmt: skip
