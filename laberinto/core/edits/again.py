"""Shall I cut it again? A plan with further passes before its slices are cut: rip, turn, shuffle, glue, flatten."""

from __future__ import annotations

import math

from ..errors import InputError, PlanError, StageError
from ..geometry.sawing import blade, reach
from ..plan.model import Plan
from ..plan.simulate import attempt
from ..plan.surgery import free_ids, redirected
from ..shop import Shop
from ..stages import Arrange, Crosscut, Flatten, Glue, Method, Rip, Spread, Stage, Trim, Turned
from ..validation import checked
from .model import Edit

LEAST_TO_SPLIT = 12.0
"""No narrower strips are cut from a standing board, mm."""

MOST = 6
"""Further passes that are looked at."""


def cut_stage(plan: Plan) -> Crosscut | None:
    """The crosscut whose slices are arranged, or None where the plan has none."""
    for stage in plan.stages:
        if isinstance(stage, Arrange) and stage.source:
            found = plan.stage(stage.source.split(":")[0])
            return found if isinstance(found, Crosscut) else None
    return None


def cut_again(plan: Plan, passes: int, seed: int, shop: Shop) -> Edit:
    """The plan with ``passes`` more before its slices are cut. Each rips the panel into strips as wide as it is thick,
    rolls every other a quarter, shuffles them by the seed and flattens what comes of it; every second pass is ripped
    6° aslant and turned face over instead, and trued. Raises InputError where the wood does not survive it."""
    for at in range(1, passes + 1):
        plan = once_more(plan, at, seed, shop)
    return Edit(plan, f"cut again, {passes} time{'s' if passes != 1 else ''}" if passes else "")


def once_more(plan: Plan, at: int, seed: int, shop: Shop) -> Plan:
    """Pass ``at`` (from 1) on top of the passes before it; raises InputError as ``cut_again`` does."""
    cut = cut_stage(plan)
    if cut is None or cut.source is None:
        raise InputError("This plan cuts no slices to arrange, so there is no panel to cut again.")
    made = {result.stage.id: result for result in attempt(plan)[0]}
    panel = made.get(cut.source)
    if panel is None or len(panel.pieces) != 1:
        raise InputError("Only a plan whose slices come from one panel can be cut again.")
    piece = panel.pieces[0]
    kerf = shop.kerf
    width, _, thickness = panel.size
    slant = 6.0 if at % 2 == 0 else 0.0
    start, end = reach(piece, 0, blade(0, slant))
    strips = int((end - start + kerf - 0.01) // (thickness + kerf))
    if strips < 2:
        raise InputError(
            f"Pass {at} would get {max(strips, 0)} strip from a panel {{width}} wide and {{thickness}} thick.",
            width=width, thickness=thickness,
        )  # fmt: skip
    names = free_ids({stage.id for stage in plan.stages}, ("again-rip", "again-panel", "again-flat", "again-true"))
    turns = ("as it lies", "face over") if slant else ("as it lies", "quarter roll")
    stages: list[Stage] = [
        checked(Rip, {
            "id": names[0], "from": cut.source, "width": thickness, "count": strips, "skew": slant, "kerf": kerf}),
        checked(Glue, {
            "id": names[1], "from": names[0], "shuffle": seed + at, "turns": turns, "spread": shop.spread}),
        checked(Flatten, {
            "id": names[2], "from": names[1], "each_face": 1.0, "level": True, "method": Method.DRUM_SANDER}),
    ]  # fmt: skip
    if slant:
        stages.append(Trim(id=names[3], source=names[2], edge=0.5, flush=True))
    where = plan.index(cut.id)
    again = cut.model_copy(update={"source": stages[-1].id})
    return _fitted(plan, [*plan.stages[:where], *stages, again, *plan.stages[where + 1 :]], again)


STRIP = 45.0
"""About so wide are the strips that a standing board is cut into, mm."""

LEAST_STRIPS = 3
"""Fewer strips give no new face."""


def standing_again(plan: Plan, stage_id: str, shop: Shop, *, turned: bool) -> Edit:
    """A board that stands already, once more: ripped into strips, every other turned end for end, glued and flattened;
    ``turned`` a quarter first, so that the cuts run the other way. To be decided anew after each pass. Raises
    InputError where there is no single standing board, or it is too small."""
    result = next((r for r in attempt(plan)[0] if r.stage.id == stage_id), None)
    if result is None or len(result.pieces) != 1 or not result.pieces.cells.on_end:
        raise InputError("Only a single board that stands on its end grain can be cut again so.", "insert")
    width = result.size[1] if turned else result.size[0]
    count = max(round((width + shop.kerf) / (STRIP + shop.kerf)), LEAST_STRIPS)
    each = math.floor(((width + shop.kerf) / count - shop.kerf) * 10) / 10
    if each < LEAST_TO_SPLIT:
        raise InputError(
            "This board is only {width} wide; {least} or more can be cut again.", "insert", width=width,
            least=LEAST_STRIPS * (LEAST_TO_SPLIT + shop.kerf),
        )  # fmt: skip
    names = free_ids({stage.id for stage in plan.stages}, ("pass-turn", "pass-rip", "pass-board", "pass-flat"))
    stages: list[Stage] = []
    if turned:
        stages.append(Turned(id=names[0], source=stage_id, turns=("quarter turn",)))
    stages += [
        Rip(id=names[1], source=stages[-1].id if stages else stage_id, width=each, count=count, kerf=shop.kerf),
        Glue(id=names[2], source=names[1], turns=("as it lies", "end for end"), spread=Spread(shop.spread)),
    ]
    after = next((s for s in plan.stages if stage_id in s.sources), None)
    if not isinstance(after, Flatten):
        off = shop.allowances.flattening(on_end=True)
        stages.append(Flatten(id=names[3], source=names[2], each_face=off, method=Method.DRUM_SANDER))
    where = plan.index(stage_id) + 1
    rest = redirected(plan.stages[where:], stage_id, stages[-1].id)
    made = plan.with_stages([*plan.stages[:where], *stages, *rest])
    return Edit(made, f"cut again as it stands, {count} strips{', turned a quarter' if turned else ''}")


def _fitted(before: Plan, stages: list[Stage], cut: Crosscut) -> Plan:
    """The plan, with fewer slices where truing has made the panel too short for all of them, and no finished size that
    the smaller board cannot have."""
    open_size = {"width": None, "length": None}
    stages = [stage.model_copy(update=open_size) if isinstance(stage, Trim) else stage for stage in stages]
    try:
        plan = before.with_stages(stages)
    except PlanError as error:
        raise InputError(str(error)) from None
    results, fault = attempt(plan)
    if fault is not None and fault.stage == cut.id:
        panel = next(result for result in results if result.stage.id == cut.source)
        count = int((panel.size[1] - cut.squaring) // (cut.slice + cut.kerf))
        if count < 1:
            raise InputError(f"The panel is too short for a slice: {fault.template}", "", **fault.mm)
        plan = plan.with_stage(cut.model_copy(update={"count": count}))
        fault = attempt(plan)[1]
    if fault is not None:
        raise _gone(fault)
    return plan


def _gone(error: StageError) -> InputError:
    return InputError(f"The wood does not survive it: {error.template}", "", **error.mm)
