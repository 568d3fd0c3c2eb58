"""How each kind of stage reads as steps at the bench. One function a kind, one line each in ``WRITERS``."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from itertools import groupby

import numpy as np

from ..analysis.figures import cut_list
from ..analysis.marks import ends, runs
from ..extensions import Registry
from ..geometry.rotations import Lie
from ..rules.woods import wood_cautions
from ..solid import Floats
from ..stages import (
    Arrange,
    Border,
    Cove,
    Crosscut,
    Ease,
    Feet,
    Fill,
    Flatten,
    Glue,
    Groove,
    Hollow,
    Inlay,
    JointEdge,
    Method,
    Mill,
    Notch,
    Oil,
    Profile,
    Rabbet,
    Resaw,
    Rest,
    Rip,
    Rule,
    Sand,
    Shape,
    Skipped,
    Stage,
    Trim,
    Turned,
    Wax,
    Well,
)  # fmt: skip
from ..stages.ease import Edge
from ..units import degrees
from . import cautions as say
from . import glueing, shaping
from .model import Context, Map, Step
from .parts import capital


def mill(c: Context) -> Iterator[Step]:
    """Steps from rough wood to strips of a size."""
    stage = c.result.stage
    assert isinstance(stage, Mill)
    key = stage.id
    mine = [check for check in wood_cautions(c.sim, c.mm, c.shop) if check.stage == key]
    dust = tuple(check.why for check in mine)
    lines = cut_list(c.sim, stage.id, c.shop)
    yield Step(
        f"{key}.rough", key, "Cut the wood rough",
        (
            *(
                f"{line.name}: {line.count} × {c.lengths.show_size(*line.rough)} (length, width, thickness), "
                f"for strip{'s' if line.count > 1 else ''} {runs(line.marks)}"
                for line in lines
            ),
            *(c.taken if c.first else ()),
            *_sapwood(c),
            "Oversize leaves room to joint and plane. Cut round knots, shakes and nail holes.",
        ),
        (say.CROSSCUT, *dust), map=Map.CUT_LIST,
    )  # fmt: skip
    yield Step(
        f"{key}.plane", key, "Joint a face and an edge, plane to thickness",
        (f"Joint one face and one edge of every piece, then plane all to {c.mm(stage.thickness)} at one setting.",),
        (say.JOINTER_PLANER,),
        c.mm(stage.thickness), "Planer", stage.thickness, "strip thickness",
    )  # fmt: skip
    widths = sorted({line.width for line in lines}, reverse=True)
    here = [mark for line in lines for mark in line.marks]
    yield Step(
        f"{key}.rip", key, "Rip the strips and number their ends",
        (
            *(f"{line.count} × {line.name} at {c.mm(line.width)} wide" for line in lines),
            f"Crosscut all to {c.mm(stage.length)}.",
            f"Write its mark on the end of each strip: {runs(here)}, left to right as in the map of the glue-up.",
        ),
        (say.SAW, say.RIP),
        c.mm(widths[0]) if len(widths) == 1 else "", "Fence" if len(widths) == 1 else "", widths[0], "strip width",
    )  # fmt: skip


def _sapwood(c: Context) -> tuple[str, ...]:
    """Which strips keep a corner of sapwood."""
    named = ends(c.sim)
    pale = [named[strip.number] for strip in c.result.outcome.strips if strip.rings.sapwood is not None]
    return (f"Strips that keep a corner of sapwood: {runs(pale)}; the others are clear heartwood.",) if pale else ()


LEVEL = 1e-6
"""Corners this near to each other, mm, are one."""

_FLATTEN_CAUTION = {
    Method.PLANER: say.JOINTER_PLANER,
    Method.DRUM_SANDER: say.DRUM,
    Method.ROUTER_SLED: say.ROUTER_SLED,
    Method.BELT_SANDER: say.BELT,
}


def flatten(c: Context) -> Iterator[Step]:
    """Steps of flattening both faces."""
    stage = c.result.stage
    assert isinstance(stage, Flatten)
    before, after = c.before.size[2], c.result.size[2]
    caution = say.PLANE_END_GRAIN if c.on_end and stage.method is Method.PLANER else _FLATTEN_CAUTION[stage.method]
    if stage.faces.axis == 0:
        before, after = c.before.size[0], c.result.size[0]
        lines = [
            f"From {c.mm(before)} to {c.mm(after)} wide: {c.mm((before - after) / 2)} off each edge, so that the section stays square."
        ]
        yield Step(
            f"{stage.id}.flatten", stage.id, f"Plane both edges with the {stage.method.label}", tuple(lines),
            (caution,), c.mm(after), "Finish at", after, "width",
        )  # fmt: skip
        return
    lines = [f"From {c.mm(before)} to {c.mm(after)}: {c.mm((before - after) / 2)} off each face."]
    if stage.method is Method.DRUM_SANDER:
        passes = max(math.ceil((before - after) / 2 / c.shop.drum_bite - 1e-9), 1)
        lines.append(f"About {passes} pass{'es' if passes > 1 else ''} a face, {c.mm(c.shop.drum_bite)} at most each.")
    if c.becomes_rows:
        lines.append("This thickness becomes the height of each row on the face. Stop exactly here.")
    yield Step(
        f"{stage.id}.flatten", stage.id, f"Flatten both faces with the {stage.method.label}", tuple(lines),
        (caution,), c.mm(after), "Finish at", after, "thickness",
    )  # fmt: skip


_SLICING = {
    "sled": "On the sled, panel tight to its fence, the stop on the fence and never on the free side.",
    "band": "On the band saw against the mitre gauge and a stop; its marks come off when the board is flattened.",
    "track": "With the mitre or track saw: clamp the panel, support the slice, and let the blade stop before it is lifted.",
}
_TEAR_OUT = {
    "strip": "Clamp a sacrificial strip behind the edge where the blade leaves.",
    "chamfer": "Chamfer the edge where the blade leaves before the cut.",
    "back-cut": "The edge where the blade leaves may tear; it is trimmed away later.",
}


def crosscut(c: Context) -> Iterator[Step]:
    """Steps of squaring an end and cutting slices."""
    stage = c.result.stage
    assert isinstance(stage, Crosscut)
    angles = [
        f"blade turned {degrees(stage.skew)} from square" if stage.skew else "",
        f"blade tilted {degrees(stage.bevel)} from upright" if stage.bevel else "",
    ]
    turned = [angle for angle in angles if angle]
    set_to = (f"Set the {' and the '.join(turned)}; check it on a scrap first.",) if turned else ()
    askew = (say.ANGLED,) if turned else ()
    if stage.squaring:
        square = "Check it with a square before going on." if not turned else "It stands at the blade's angle."
        yield Step(
            f"{stage.id}.square", stage.id, "Square one end" if not turned else "Cut the first end at the angle",
            (*set_to, f"Take {c.mm(stage.squaring)} off the end, kerf included. {square}"),
            (say.SAW, say.CROSSCUT, *askew),
        )  # fmt: skip
    panels = c.sim.taken(stage.sources[0])
    left = min(stage.remainder(panels[number]) for number in range(len(panels)))
    each = f" of each of the {len(panels)} pieces" if len(panels) > 1 else ""
    yield Step(
        f"{stage.id}.cut", stage.id, f"Cut {stage.count} slice{'s' if stage.count != 1 else ''} to a stop",
        (
            f"Stop block at {c.mm(stage.slice)}; {stage.count} cut{'s' if stage.count != 1 else ''} of {c.mm(stage.kerf)} kerf{each}.",
            f"Remainder: {c.mm(left)}{', along the shorter edge' if stage.skew or stage.bevel else ''}." if left > 0.05 else "Nothing is left over.",
            *(set_to if not stage.squaring else ()),
            _SLICING[c.shop.slicing_saw],
            _TEAR_OUT[c.shop.tear_out],
            f"Number each slice on its upper end as it comes off, 1 to {stage.count}, arrow to the squared end.",
        ),
        (say.SAW, say.CROSSCUT, *askew), c.mm(stage.slice), "Stop", stage.slice, "slice", map=Map.CUTS,
    )  # fmt: skip


def arrange(c: Context) -> Iterator[Step]:
    """Steps of standing slices up in their order."""
    stage = c.result.stage
    assert isinstance(stage, Arrange)
    counts = c.sim.slices(stage.id)
    rows = stage.rows(counts)
    names = {number: stage.name(number, counts) for number, _ in rows}
    lines = ["Knock the whiskers off the edges, then stand every slice up, end grain to the top."]
    if len(counts) > 1:
        lines.append("Slices of the first panel are marked A, those of the next B, each numbered as they were cut.")
    if len(counts) == 1 and stage.shuffle is None and not stage.order and not stage.turned:
        lines.append(
            {
                Rule.AS_CUT: "All as cut, slice 1 farthest from you.",
                Rule.FLIP: "Slice 1 farthest from you; flip every other one left to right (other end up).",
                Rule.END_FOR_END: "Slice 1 farthest from you; turn every other one end for end.",
                Rule.BOOK: "Slice 1 farthest from you; stand every other one on its other end, so that sawn faces meet.",
                Rule.PAIRS: "Slice 1 farthest from you; two and two: as cut, flipped, flipped, as cut, and so on.",
            }[stage.rule]
        )
    else:
        for lie, group in groupby(sorted(rows, key=lambda r: list(Lie).index(r[1])), key=lambda r: r[1]):
            lines.append(f"{capital(lie.words)}: slices {', '.join(names[n] for n, _ in sorted(group))}.")
        lines.append("Rows from the far side: " + ", ".join(names[number] for number, _ in rows) + ".")
    yield Step(f"{stage.id}.rows", stage.id, "Stand up and arrange the slices", tuple(lines), map=Map.ROWS)


def trim(c: Context) -> Iterator[Step]:
    """Steps of cutting the edges square."""
    stage = c.result.stage
    assert isinstance(stage, Trim)
    width, length, _ = c.result.size
    yield Step(
        f"{stage.id}.edges", stage.id, "True the long edges and trim to width",
        (
            f"Joint or saw both long edges straight; finish at {c.mm(width)}, "
            f"{c.mm((c.before.size[0] - width) / 2)} off each side.",
        ),
        (say.SAW, say.TRIM), c.mm(width), "Fence", width, "width",
    )  # fmt: skip
    yield Step(
        f"{stage.id}.ends", stage.id, "Trim to length",
        (
            f"Finish at {c.mm(length)}, {c.mm((c.before.size[1] - length) / 2)} off each end.",
            "Check square: both diagonals must measure the same.",
        ),
        (say.TRIM,), c.mm(length), "Stop", length, "length",
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
        (say.CHAMFER,), c.mm(stage.size), stage.form.value.capitalize(),
    )  # fmt: skip


def sand(c: Context) -> Iterator[Step]:
    """Steps through the grits, and of raising the grain."""
    stage = c.result.stage
    assert isinstance(stage, Sand)
    lines = [
        "Grits "
        + ", ".join(str(grit) for grit in stage.grits)
        + ", none skipped. Pencil a scribble; when it is gone, the grit is done.",
    ]
    if stage.raise_grain and c.shop.raise_grain == "every":
        lines.append("After every grit wet the wood and let it dry before the next.")
    elif stage.raise_grain:
        lines.append(f"Before the last grit wet the wood, let it dry, and sand once more with {stage.grits[-1]}.")
    yield Step(f"{stage.id}.sand", stage.id, "Sand through the grits", tuple(lines), (say.DUST,))


def oil(c: Context) -> Iterator[Step]:
    """Steps of oiling, round by round."""
    stage = c.result.stage
    assert isinstance(stage, Oil)
    warnings = ((say.OILY_RAGS,) if stage.oil.dries else ()) + ((say.NUT,) if stage.oil.nut else ())
    yield Step(
        f"{stage.id}.dust", stage.id, "Blow the dust off",
        ("Every pore and joint; oil over dust stays for good. Check both faces against the light.",), (say.DUST,),
    )  # fmt: skip
    for number in range(1, stage.rounds + 1):
        last = number == stage.rounds and stage.oil.dries
        cured = (f"It cures for about {stage.oil.cure_days} days before it meets food.",) if last else ()
        yield Step(
            f"{stage.id}.round-{number}", stage.id, f"Oil, round {number} of {stage.rounds}",
            (
                f"Underside first, then the face, then the edges: flood with {stage.oil.label} until no more goes in.",
                "Wipe off what stays wet and stand it on edge to drip dry. Never oil one face only.",
                *cured,
            ),
            warnings, wait_hours=stage.hours,
        )  # fmt: skip


def wax(c: Context) -> Iterator[Step]:
    """Steps of waxing and buffing."""
    stage = c.result.stage
    assert isinstance(stage, Wax)
    yield Step(
        f"{stage.id}.wax", stage.id, "Wax and buff",
        (
            *(("First go over it lightly with 320 and wipe it clean.",) if c.shop.after_oil == "light-grit" else ()),
            f"Paste of {stage.parts_oil:g} parts oil to 1 part wax by weight. Rub in thin all over, leave an hour, wipe, buff.",
            *_until_food(c),
        ),
        (say.WAX,), map=Map.FACE,
    )  # fmt: skip


def _until_food(c: Context) -> tuple[str, ...]:
    """How long the finish under the wax takes until the board may be used."""
    oils = [r.stage.oil for r in c.sim.results if isinstance(r.stage, Oil) and not r.stage.skip]
    days = max((oil.cure_days for oil in oils), default=1)
    return (
        f"Then let it {'rest a day' if days == 1 else f'cure: {days} days from the last coat of oil'} before it meets food.",
    )


def sawing(c: Context) -> Iterator[Step]:
    """Steps of a rip or a re-saw."""
    stage = c.result.stage
    assert isinstance(stage, Rip | Resaw)
    widths = stage.widths or (stage.width or 0.0,)
    skew, bevel = stage.angles()
    angles = [
        f"blade turned {degrees(skew)} from square" if skew else "",
        f"blade tilted {degrees(bevel)} from upright" if bevel else "",
    ]
    lines = [f"{len(c.result.pieces)} pieces from {len(c.before.pieces)}: {', '.join(c.mm(w) for w in widths)}."]
    lines += (
        ["Set the " + " and the ".join(a for a in angles if a) + "; check it on a scrap first."] if any(angles) else []
    )
    lines += [f"First take {c.mm(stage.squaring)} off the first edge, kerf included."] if stage.squaring else []
    lines.append(f"Each cut takes {c.mm(stage.kerf)} of kerf.")
    if isinstance(stage, Rip) and stage.upright and bevel:
        lines.append("Then roll each piece until its sawn sides stand plumb.")
    single = len(set(widths)) == 1
    yield Step(
        f"{stage.id}.saw", stage.id, stage.verb, tuple(lines),
        (say.RESAW,) if isinstance(stage, Resaw) else (say.SAW, say.RIP, *((say.ANGLED,) if any(angles) else ())),
        c.mm(widths[0]) if single else "", "Fence" if single else "", widths[0] if single else None, "width",
    )  # fmt: skip


def profile(c: Context) -> Iterator[Step]:
    """Steps of sawing strips to a section."""
    stage = c.result.stage
    assert isinstance(stage, Profile)
    corners = stage.corners(c.before.pieces[0])
    at = [c.lengths.show_size(*corner) for corner in corners]
    cuts = [
        (f"from {at[k]} to {at[(k + 1) % len(at)]}", degrees(math.degrees(math.atan2(abs(across), abs(up)))))
        for k, (across, up) in enumerate(np.roll(corners, -1, axis=0) - corners)
        if not _on_the_outside(corners[k], corners[(k + 1) % len(at)], c.before.pieces[0].size()[[0, 2]])
    ]
    tilts = {tilt for _, tilt in cuts}
    saw = (
        f"Saw along the line{'s' if len(cuts) != 1 else ''}, {len(cuts)} cut{'s' if len(cuts) != 1 else ''}, the blade {tilts.pop()} from upright"
        if len(tilts) == 1
        else "Saw along the lines, the blade from upright: " + "; ".join(f"{tilt} {where}" for where, tilt in cuts)
    )
    rest = f"Then lay each on the side from {at[stage.rest_on - 1]} to {at[stage.rest_on % len(at)]}."
    yield Step(
        f"{stage.id}.saw", stage.id, f"Saw to the section: {stage.section.label}",
        (
            f"Mark its corners on the near end, across × up from the lower left: {'; '.join(at)}.",
            f"{saw}; the kerf of {c.mm(stage.kerf)} lies outside the line." if cuts else "No side needs a cut.",
            *((rest,) if stage.rest_on else ()),
            f"Leaves {c.lengths.show_size(*c.result.size)} (width, length, thickness).",
            "A bevel a hair off adds up joint by joint: prove the angle on a scrap, and keep the offcuts.",
        ),
        (say.SAW, say.RIP, say.ANGLED),
    )  # fmt: skip


def _on_the_outside(a: Floats, b: Floats, size: Floats) -> bool:
    """Whether the side between two corners is a side of the piece itself, which needs no cut."""
    return bool(((np.abs(a - b) < LEVEL) & ((a < LEVEL) | (np.abs(a - size) < LEVEL))).any())


def turn(c: Context) -> Iterator[Step]:
    """Steps of rolling or turning pieces."""
    stage = c.result.stage
    assert isinstance(stage, Turned)
    yield Step(f"{stage.id}.turn", stage.id, "Turn the pieces", (f"Each {', then '.join(stage.turns)}.",))


Writer = Callable[[Context], Iterator[Step]]

_OURS: dict[type[Stage], Writer] = {
    Mill: mill, Glue: glueing.glue, Flatten: flatten, Rip: sawing, Resaw: sawing, Profile: profile, Turned: turn,
    Crosscut: crosscut, Arrange: arrange, Trim: trim, Ease: ease, Sand: sand, Oil: oil, Wax: wax,
    JointEdge: shaping.joint_edge, Border: shaping.border, Inlay: shaping.inlay, Shape: shaping.shape,
    Rabbet: shaping.rabbet, Cove: shaping.cove, Notch: shaping.notch, Groove: shaping.groove, Well: shaping.well,
    Hollow: shaping.hollow, Feet: shaping.feet, Rest: shaping.rest, Fill: shaping.fill,
    Skipped: lambda _context: iter(()),
}  # fmt: skip

WRITERS: Registry[Writer] = Registry(
    "steps", {kind.model_fields["kind"].default: write for kind, write in _OURS.items()}
)
"""What writes the steps of a stage, by its kind."""
