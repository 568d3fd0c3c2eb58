"""Steps from rough wood to strips of a size."""

from __future__ import annotations

from collections.abc import Iterator

from ..analysis.figures import CutLine, cut_list
from ..analysis.marks import ends, runs
from ..instructions import MillStrips
from ..rules.woods import wood_cautions
from . import cautions as say
from .model import Context, Map, Step


def mill(c: Context) -> Iterator[Step]:
    (told,) = c.does
    assert isinstance(told, MillStrips)
    key, first = told.stage, told.strips[0]
    dust = tuple(check.why for check in wood_cautions(c.sim, c.mm, c.shop) if check.stage == key)
    lines = cut_list(c.sim, key, c.shop)
    count = len(told.strips)
    yield Step(
        f"{key}.rough", key, "Cut the wood rough",
        (
            *(
                f"{line.name}: {line.count} × {c.lengths.show_size(*line.rough)} (length, width, thickness), "
                f"for strip{'s' if line.count > 1 else ''} {runs(line.marks)}."
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
        (
            f"Joint one face and one edge of every piece and mark both: they are its reference. Then plane all "
            f"{count} to {c.mm(first.thickness)} at one setting, the reference face down.",
        ),
        (say.JOINTER_PLANER,), c.mm(first.thickness), "Planer", first.thickness, "strip thickness",
    )  # fmt: skip
    widths = sorted({line.width for line in lines}, reverse=True)
    marks = [strip.name.mark for strip in told.strips]
    yield Step(
        f"{key}.rip", key, "Rip the strips and number their ends",
        (
            *_at_each_fence(c, lines, widths),
            f"The reference edge runs along the fence. Square one end, then crosscut all to {c.mm(first.length)} "
            "against a stop.",
            f"Write its mark on the near end of each strip, an arrow to its reference face beside it: {runs(marks)}, "
            "left to right as in the map of the glue-up.",
        ),
        (say.SAW, say.RIP), c.mm(widths[0], count) if len(widths) == 1 else "", "Fence" if len(widths) == 1 else "",
        widths[0], "strip width", does=c.does,
    )  # fmt: skip


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
    pale = [named[strip.number] for strip in c.result.outcome.strips if strip.rings.sapwood is not None]
    return (f"Strips that keep a corner of sapwood: {runs(pale)}; the others are clear heartwood.",) if pale else ()
