"""Shall I cut it again? A plan with further passes before its slices are cut: rip, turn, shuffle, glue, flatten."""

from __future__ import annotations

from typing import Any

from ..errors import InputError, LaberintoError, StageError
from ..geometry.sawing import blade, reach
from ..plan.model import Plan, read_plan
from ..plan.simulate import attempt
from ..shop import Shop
from ..stages import Arrange, Crosscut
from .model import Edit

MOST = 6
"""Further passes that are looked at."""

Data = dict[str, Any]


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
    names = _free_names(plan, ("again-rip", "again-panel", "again-flat", "again-true"))
    stages: list[Data] = [
        {
            "id": names[0], "kind": "rip", "from": cut.source, "width": thickness, "count": strips, "skew": slant,
            "kerf": kerf,
        },
        {
            "id": names[1], "kind": "glue", "from": names[0], "shuffle": seed + at,
            "turns": ["as it lies", "face over"] if slant else ["as it lies", "quarter roll"], "spread": shop.spread,
        },
        {"id": names[2], "kind": "flatten", "from": names[1], "each_face": 1.0, "level": True, "method": "drum-sander"},
    ]  # fmt: skip
    if slant:
        stages.append({"id": names[3], "kind": "trim", "from": names[2], "edge": 0.5, "flush": True})
    data = plan.as_dict()
    where = plan.index(cut.id)
    data["stages"][where] |= {"from": stages[-1]["id"]}
    data["stages"][where:where] = stages
    return _fitted(data, cut.id)


def _fitted(data: Data, cut_id: str) -> Plan:
    """The plan, with fewer slices where truing has made the panel too short for all of them, and no finished size that
    the smaller board cannot have."""
    for stage in data["stages"]:
        if stage["kind"] == "trim" and not stage["id"].startswith("again-"):
            stage |= {"width": None, "length": None}
    plan = _read(data)
    results, error = attempt(plan)
    cut = next(stage for stage in data["stages"] if stage["id"] == cut_id)
    if error is not None and error.stage == cut_id:
        panel = next(result for result in results if result.stage.id == cut["from"])
        cut["count"] = int((panel.size[1] - cut["squaring"]) // (cut["slice"] + cut["kerf"]))
        if cut["count"] < 1:
            raise InputError(f"The panel is too short for a slice: {error.template}", "", **error.mm)
        plan = _read(data)
        error = attempt(plan)[1]
    if error is not None:
        raise _gone(error)
    return plan


def _gone(error: StageError) -> InputError:
    return InputError(f"The wood does not survive it: {error.template}", "", **error.mm)


def _read(data: Data) -> Plan:
    try:
        return read_plan(data)
    except LaberintoError as error:
        raise InputError(str(error)) from None


def _free_names(plan: Plan, wanted: tuple[str, ...]) -> list[str]:
    taken = {stage.id for stage in plan.stages}
    number = next(n for n in range(1, 200) if all(f"{name}-{n}" not in taken for name in wanted))
    return [f"{name}-{number}" for name in wanted]
