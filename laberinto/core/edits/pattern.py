"""A pattern's parameters changed on a board that hands have changed since: what still fits is kept."""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from typing import Any

from ..errors import InputError, LaberintoError, StageError
from ..fields import parse, shown
from ..patterns import FAMILIES, Family, Truth
from ..plan.model import Plan, read_plan
from ..plan.simulate import Simulation, attempt
from ..units import Lengths
from .model import Edit

Data = dict[str, Any]


def family_of(plan: Plan) -> Family | None:
    """The family a plan was made from with its parameters, or None where it is not known (any more)."""
    origin = plan.pattern
    if origin is None or origin.family not in FAMILIES:
        return None
    try:
        return FAMILIES[origin.family].of(**origin.parameters)
    except InputError:
        return None


def measured(plan: Plan, sim: Simulation) -> tuple[Truth, ...]:
    """What the pattern must get right, measured on the board as it stands; nothing where hands have changed which
    stages there are."""
    family = family_of(plan)
    if family is None:
        return ()
    kinds = {stage.id: stage.kind for stage in family.stages()}
    there = {stage.id: stage.kind for stage in sim.plan.stages}
    return family.truths(sim) if kinds.items() <= there.items() else ()


def set_pattern(plan: Plan, typed: Mapping[str, str], lengths: Lengths) -> Edit:
    """Change what differs from what the pattern's fields showed, and make the plan anew with the changes by hand laid
    over it. Raises InputError naming the field that is wrong."""
    family = family_of(plan)
    if family is None:
        raise InputError("This board was not made from a pattern, so it has no pattern to change.")
    changes: dict[str, Any] = {}
    words: list[str] = []
    start = {spec.name: shown(spec, family.value(spec.name), lengths) for spec in family.specs()}
    for spec in family.specs_for({**start, **typed}):
        before = shown(spec, family.value(spec.name), lengths)
        if spec.name in typed and typed[spec.name].strip() != before:
            changes[spec.name] = parse(spec, typed[spec.name], lengths)
            words.append(f"{spec.label.lower()} {before or '–'} → {typed[spec.name].strip() or '–'}")
    if not changes:
        return Edit(plan, "")
    made, lost = reshape(plan, family, family.changed(**changes))
    kept = f"; changes by hand at {', '.join(lost)} did not fit and were left out" if lost else ""
    return Edit(made, f"{family.title}: {', '.join(words)}{kept}")


def reshape(plan: Plan, before: Family, after: Family) -> tuple[Plan, list[str]]:
    """``plan``, made from ``before`` and changed since, as ``after`` makes it with those changes laid over it; and the
    stages whose changes did not fit. Raises what ``after`` does where it makes no plan."""
    base = {stage["id"]: stage for stage in before.plan(plan.name).as_dict()["stages"]}
    mine = {stage["id"]: stage for stage in plan.as_dict()["stages"]}
    fresh = after.plan(plan.name).model_copy(update={"note": plan.note, "wanted": plan.wanted})
    # a stage's changes are all kept or all lost; where some cannot be built, the next try goes without them
    lost: list[str] = []
    for _ in range(len(mine) + 1):
        try:
            made = read_plan(_laid_over(fresh.as_dict(), base, mine, set(lost)))
        except LaberintoError:
            return fresh, sorted(_changed(base, mine))
        error = attempt(made)[1]
        if error is None or error.stage in lost:
            return made, lost
        culprit = _culprit(error, made, base, mine, lost)
        if culprit is None:
            return made, lost
        lost.append(culprit)
    return fresh, sorted(_changed(base, mine))


def _changed(base: Mapping[str, Data], mine: Mapping[str, Data]) -> set[str]:
    """Stages that hands have changed, added or taken out."""
    return {id_ for id_ in base.keys() | mine.keys() if base.get(id_) != mine.get(id_)}


def _culprit(
    error: StageError, made: Plan, base: Mapping[str, Data], mine: Mapping[str, Data], lost: list[str]
) -> str | None:
    """The stage whose changes are given up first: the one that failed, else the last changed one before it."""
    changed = _changed(base, mine) - set(lost)
    before = [stage.id for stage in made.stages[: made.index(error.stage) + 1]]
    return next((id_ for id_ in reversed(before) if id_ in changed), None)


def _laid_over(fresh: Data, base: Mapping[str, Data], mine: Mapping[str, Data], lost: set[str]) -> Data:
    """The new plan's data with what hands changed in the old one."""
    stages: list[Data] = []
    passed: dict[str, str] = {}
    for stage in fresh["stages"]:
        id_ = stage["id"]
        if id_ in base and id_ not in mine and id_ not in lost and stage.get("from"):
            passed[id_] = stage["from"]  # taken out by hand: what came to it goes on
            continue
        stages.append(stage)
        if id_ in lost or id_ not in base or id_ not in mine or base[id_]["kind"] != mine[id_]["kind"]:
            continue
        for field, value in mine[id_].items():
            if value != base[id_].get(field):
                stage[field] = _override(field, stage.get(field), base[id_].get(field), value)
    there = {stage["id"] for stage in stages}
    for id_, stage in mine.items():  # added by hand, in their order: behind what they take from
        if id_ not in base and id_ not in lost and id_ not in there and stage.get("from") in there:
            at = next(k for k, s in enumerate(stages) if s["id"] == stage["from"])
            stages.insert(at + 1, deepcopy(stage))
            there.add(id_)
    for stage in stages:
        if stage.get("from"):
            stage["from"] = _settled(stage["from"], passed, there, mine)
    return {**fresh, "stages": stages}


def _settled(source: str, passed: Mapping[str, str], there: set[str], mine: Mapping[str, Data]) -> str:
    """A source that is still there: past stages that were taken out, or whose addition was lost."""
    seen: set[str] = set()
    while source.split(":")[0] not in there and source not in seen:
        seen.add(source)
        source = passed.get(source) or str(mine.get(source, {}).get("from") or source)
    return source


def _override(field: str, new: Any, old: Any, mine: Any) -> Any:
    """A value changed by hand, as it goes onto the new one: strip by strip and entry by entry where it can."""
    if field == "strips" and isinstance(old, list) and isinstance(mine, list) and len(old) == len(mine):
        out = deepcopy(new)
        for k, (was, now) in enumerate(zip(old, mine, strict=True)):
            if k < len(out):
                out[k] |= {key: value for key, value in now.items() if value != was.get(key)}
        return out
    if isinstance(mine, dict) and isinstance(new, dict) and isinstance(old, dict):
        return {**new, **{key: value for key, value in mine.items() if value != old.get(key)}}
    return mine
