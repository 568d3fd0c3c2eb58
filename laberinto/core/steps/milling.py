"""Steps from rough wood to strips of a size."""

from __future__ import annotations

from collections.abc import Iterator

from ..analysis.figures import CutLine, cut_list
from ..analysis.marks import ends, runs, these
from ..instructions import MillStrips
from ..rules.model import Show
from ..rules.woods import wood_cautions
from ..stages import StockForm
from . import cautions as say
from .model import Context, Map, Step
from .sawing import THIN

THIN_ONES = (
    "Thin ones fall on the side without the fence: a stop there gives their width, and the fence moves after each cut."
)


def mill(c: Context) -> Iterator[Step]:
    """Steps of cutting rough, planing and ripping, for all panels whose wood is milled in one go."""
    (told,) = c.does
    assert isinstance(told, MillStrips)
    key = told.stage
    if told.stock.as_is:
        yield _as_is(c, told)
        return
    dust = tuple(
        dict.fromkeys(ch.why for ch in wood_cautions(c.sim, Show(c.lengths), c.shop) if ch.stage in told.stages)
    )
    lines = cut_list(c.sim, told.stages, c.shop)
    heights = sorted({strip.thickness for strip in told.strips}, reverse=True)
    one = len(heights) == 1
    yield Step(
        f"{key}.rough", key, "Cut the wood rough",
        (
            *(c.taken if c.first else ()),
            *(_batch(c.sim.plan.times) if c.first else ()),
            *_sapwood(c),
            "Oversize leaves room to joint and plane. Cut round knots, shakes and nail holes.",
        ),
        (say.CROSSCUT, *dust), map=Map.CUT_LIST, listed=tuple(_rough(c, line) for line in lines),
    )  # fmt: skip
    yield Step(
        f"{key}.plane", key, "Joint a face and an edge, plane to thickness",
        (
            "Joint one face and one edge of every piece and mark both: they are its reference.",
            *_at_each_height(c, told, heights),
        ),
        (say.JOINTER_PLANER,), c.lengths.set_to(heights[0]) if one else "", "Planer" if one else "", heights[0], "strip thickness",
    )  # fmt: skip
    widths = sorted({line.width for line in lines}, reverse=True)
    marks = [strip.name.mark for strip in told.strips]
    yield Step(
        f"{key}.rip", key, "Rip the strips and number their ends",
        (
            *_at_each_fence(c, lines, widths),
            "The reference edge runs along the fence.",
            *((THIN_ONES,) if widths[-1] <= THIN else ()),
            *_to_length(c, told),
            f"Write its mark on the near end of each strip, an arrow to its reference face beside it: {runs(marks)}, "
            "in the order of the map of the glue-up.",
        ),
        (say.SAW, say.RIP), c.lengths.set_to(widths[0], len(marks)) if len(widths) == 1 else "", "Fence" if len(widths) == 1 else "",
        widths[0], "strip width", does=c.does,
    )  # fmt: skip


def _as_is(c: Context, told: MillStrips) -> Step:
    """Stock that is laid down as it is."""
    lines = cut_list(c.sim, told.stages, c.shop)
    marks = [strip.name.mark for strip in told.strips]
    return Step(
        f"{told.stage}.rough", told.stage, "Pick out the stock and mark it",
        (
            *(c.taken if c.first else ()),
            *(_batch(c.sim.plan.times) if c.first else ()),
            *_sapwood(c),
            *_shaped(c, told),
            f"Write its mark on the near end of each piece: {runs(marks)}. Nothing is milled yet.",
        ),
        (say.ROUGH,), map=Map.CUT_LIST, listed=tuple(_rough(c, line) for line in lines), does=c.does,
    )  # fmt: skip


def _shaped(c: Context, told: MillStrips) -> Iterator[str]:
    """What there is to know of the shape: where it lies, and what it will cost."""
    stock, mm = told.stock, c.mm
    if stock.form is StockForm.STAVE:
        for length in sorted({strip.length for strip in told.strips}, reverse=True):
            bent = stock.bent(length)
            high = stock.height(length, told.thickness)
            yield (
                f"Staves to an outside radius of {mm(stock.radius)}, cut to {mm(length)} and laid with both ends down, so "
                f"that they stand {mm(high)} high. Over that length they are bent by {mm(bent)}: flat on both faces "
                f"{mm(max(told.thickness - bent, 0.0))} is left. Shorter pieces stay thicker."
            )
    elif stock.form is StockForm.WANEY:
        where = "both edges" if stock.both_edges else "the right edge"
        yield (
            f"Bark on {where}: the upper face is {mm(stock.wane)} narrower there. Widths are of the lower face at the near "
            f"end; midway it is {mm(stock.waist)} narrower, at the far end {mm(stock.taper)}."
        )
    else:
        off = f"{mm(abs(stock.heart))} to the {'right' if stock.heart > 0 else 'left'} of" if stock.heart else "in"
        yield f"The heart lies {off} the middle of the near end: draw a line over it, and keep it out of the board."


def _batch(times: int) -> Iterator[str]:
    """That a plan is made several times over."""
    if times > 1:
        yield (
            f"{times} boards are made of this plan: counts are for one, so cut {times} times as many, and do each step to "
            "all of them before the next. Mark each board's pieces with a colour of its own."
        )


def _rough(c: Context, line: CutLine) -> str:
    """What to cut roughly for strips of one size."""
    of = f"strip{'s' if line.count > 1 else ''} {runs(line.marks)}"
    kind = f", {line.stock.form.noun}" if line.stock.as_is else ""
    return f"{line.name}{kind}: {line.count} × {c.lengths.show_size(*line.rough)} (length, width, thickness), for {of}."


def _at_each_height(c: Context, told: MillStrips, heights: list[float]) -> Iterator[str]:
    """All that is planed at one height together, whichever panel it is for."""
    for height in heights:
        mine = [strip.name for strip in told.strips if strip.thickness == height]
        which = f"all {len(mine)}" if len(heights) == 1 else f"{these(mine)} ({len(mine)})"
        yield f"{'Then plane' if height == heights[0] else 'Plane'} {which} to {c.mm(height)} at one setting, the reference face down."


def _to_length(c: Context, told: MillStrips) -> Iterator[str]:
    """All that is cut to one length together."""
    lengths = sorted({strip.length for strip in told.strips}, reverse=True)
    for length in lengths:
        mine = [strip.name for strip in told.strips if strip.length == length]
        which = "all" if len(lengths) == 1 else these(mine)
        yield f"{'Square one end of each, then crosscut' if length == lengths[0] else 'Crosscut'} {which} to {c.mm(length)} against a stop."


def _at_each_fence(c: Context, lines: tuple[CutLine, ...], widths: list[float]) -> Iterator[str]:
    """All that is ripped at one setting of the fence together, widest first."""
    for width in widths:
        mine = [line for line in lines if line.width == width]
        count = sum(line.count for line in mine)
        what = "; ".join(f"{line.count} × {line.name} ({runs(line.marks)})" for line in mine)
        yield f"Fence at {c.mm(width, count)}: {what}."


def _sapwood(c: Context) -> tuple[str, ...]:
    """Which strips keep a corner of sapwood."""
    named = ends(c.sim)
    here = [strip for stage in c.does[0].stages for strip in c.sim[stage].outcome.strips]
    pale = [named[strip.number] for strip in here if strip.rings.sapwood is not None]
    return (f"Strips that keep a corner of sapwood: {runs(pale)}; the others are clear heartwood.",) if pale else ()
