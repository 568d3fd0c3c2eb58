"""Sentences on clamping: where clamps and cauls go, in which order they are tightened, and what becomes of the glue that
is squeezed out."""

from __future__ import annotations

from collections.abc import Iterator

from ..analysis.clamping import Clamping
from ..shop.glues import pace
from ..units import plural
from .model import Context


def told(c: Context, clamping: Clamping, end: str) -> Iterator[str]:
    """Clamps, cauls, and the order of tightening; distances are told from an ``end`` of the joints."""
    mm, clamps = c.lengths.roughly, clamping.clamps
    where = "in turn at the left and the right edge" if clamping.stacked else "alternately above and below"
    first, force = mm(clamps[0].at), c.lengths.amount(c.shop.clamp_force, "kN")
    if len(clamps) == 1:
        yield f"At least one clamp, {first} from the {end} end of the joints."
    else:
        yield (
            f"At least {plural(len(clamps), 'clamp')}, {where}: the first {first} from the {end} end of the joints, one every "
            f"{mm(clamping.every)}. At {force} each they press the largest joint with "
            f"{c.lengths.amount(clamping.pressure, 'N/mm²')}."
        )
    if clamping.cauls:
        at = ", ".join(mm(one, unit=False) for one in clamping.cauls[:-1])
        at += f"{' and ' if at else ''}{mm(clamping.cauls[-1])}"
        pairs = f"{plural(len(clamping.cauls), 'pair')} of cauls wrapped in tape"
        yield (
            f"{pairs} across the joints, above and below, {at} from that end, each with a small "
            "clamp at either side: nip them first, so that no piece climbs."
        )
    elif clamping.stacked:
        yield "A straight board wrapped in tape under the stack and one on it spread the pressure."
    if len(clamps) > 1:
        order = ", ".join(map(str, clamping.in_turn))
        yield (
            f"Tighten them from the middle outwards, as they are numbered on the map ({order} from that end): half a turn "
            f"each, then round again until a bead stands along every joint{'; the cauls last' if clamping.cauls else ''}."
        )


def squeeze(c: Context) -> str:
    """When squeeze-out is ready to come off, in the air there is."""
    out = c.shop.glue.squeeze
    least, most = (round(minutes * pace(c.shop.glue, c.shop.air, c.shop.air_damp) / 30) / 2 for minutes in
                   (out.least, out.most))  # fmt: skip
    between = f"{least:g} to {most:g} hours" if most > least else f"{most:g} hour{'s' if most != 1 else ''}"
    return f"{out.do}, after about {between}."
