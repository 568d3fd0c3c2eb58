"""Edits to the order of work: stages put in, taken out, doubled, moved and switched off."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..errors import InputError
from ..plan.model import OFFCUT, Plan
from ..plan.simulate import StageResult, attempt
from ..plan.surgery import free_id, redirected, renamed
from ..shop import Shop
from ..stages import AnyStage, Arrange, Beside, Border, Glue, Inlay, Mill, Stage
from ..validation import explain
from .model import Edit
from .offers import Offer, offer


def taker(plan: Plan, stage_id: str) -> Stage | None:
    """The stage that takes the pieces of another, or None for the last."""
    return next((s for s in plan.stages if stage_id in s.sources), None)


def insert(plan: Plan, after: str, kind: str, shop: Shop | None = None) -> Edit:
    """Put a stage of a kind in behind another, with good first values of this shop. Raises InputError where it does not
    fit."""
    what = offer(kind)
    if what is None:
        raise InputError(f"“{kind}” cannot be put in here.", "insert")
    result = next((r for r in attempt(plan)[0] if r.stage.id == after), None)
    if result is None:
        raise InputError("The wood never gets this far; mend the marked stage first.", "insert")
    if not what.fits(result):
        raise InputError(f"{what.title} does not fit here: {what.does}", "insert")
    name = free_id({s.id for s in plan.stages}, what.kind_name)
    try:
        brought = _brought(plan, what, result, shop or Shop(), name)
        more: dict[str, Any] = {"with": [brought[-1].id]} if brought else {}
        if brought and what.kind is Glue:  # one strip, what was there, the other strip
            more["sequence"] = [brought[-1].id, after, brought[-1].id]
        stage = what.kind.model_validate({"id": name, "from": after, **what.values(result, shop or Shop()), **more})
    except ValidationError as error:
        raise InputError(f"{what.title}: {explain(error.errors()[0])}.", "insert") from None
    stages = redirected(plan.stages, after, name)
    at = plan.index(after) + 1
    stages[at:at] = [*brought, stage]
    return Edit(plan.with_stages(stages), f"{what.title.lower()} put in after {plan.stage(after).title.lower()}")


def _brought(plan: Plan, what: Offer, result: StageResult, shop: Shop, name: str) -> list[Stage]:
    """The stages that make the further wood which a stage takes."""
    if what.brings is None:
        return []
    wood = branch_of(plan, result.stage.id).strips[0].wood
    made: list[Stage] = []
    for values in what.brings(result, shop, wood):
        taken = {s.id for s in plan.stages} | {s.id for s in made} | {name}
        source = {"from": made[-1].id} if made else {}
        made.append(STAGE.validate_python({**values, **source, "id": free_id(taken, f"{name}-{values['kind']}")}))
    return made


STAGE: TypeAdapter[Stage] = TypeAdapter(AnyStage)


def _branch(plan: Plan, stage_id: str) -> list[str]:
    """A panel's own stages: from its strips up to, not including, the stage where panels meet."""
    found, at = [stage_id], taker(plan, stage_id)
    # a pass that splices its own offcut in takes from two stages, both of this panel
    while at is not None and {s.removesuffix(OFFCUT) for s in at.sources} <= set(found) and not isinstance(at, Arrange):
        found.append(at.id)
        at = taker(plan, at.id)
    return found


def branch_of(plan: Plan, stage_id: str) -> Mill:
    """The strips a stage's wood begins with: of its first panel where several meet."""
    stage: Stage = plan.stage(stage_id)
    while stage.source is not None:
        stage = plan.stage(stage.source.removesuffix(OFFCUT))
    assert isinstance(stage, Mill)
    return stage


def second_panel(plan: Plan, stage_id: str) -> Edit:
    """Another panel like the one this stage belongs to, whose slices join in where the first are arranged or glued.

    Raises InputError where the panel is never cut into pieces that another could be laid between.
    """
    mill = branch_of(plan, stage_id)
    mine = _branch(plan, mill.id)
    meets = taker(plan, mine[-1])
    if meets is None:  # a single panel to the end: another joins where its sawn pieces are glued last
        sawn = [at for at, name in enumerate(mine) if at and isinstance(plan.stage(name), Glue) and
                not isinstance(plan.stage(mine[at - 1]), Mill)]  # fmt: skip
        if sawn:
            mine, meets = mine[: sawn[-1]], plan.stage(mine[sawn[-1]])
    if not isinstance(meets, Arrange | Glue):
        raise InputError(
            "A second panel joins where sawn pieces are arranged or glued. Put in a cut and a glue-up first.", "insert"
        )
    taken = {s.id for s in plan.stages}
    names: dict[str, str] = {}
    for old in mine:
        names[old] = free_id(taken, old)
        taken.add(names[old])
    copies = [renamed(stage, names) for stage in plan.stages if stage.id in names]
    at, new = plan.index(meets.id), names[mine[-1]]
    joining = _joining(meets, [*meets.sources, new], [*_sequence(meets), new] if _sequence(meets) else [])
    return Edit(
        plan.with_stages([*plan.stages[:at], *copies, joining, *plan.stages[at + 1 :]]),
        "a second panel, laid between the first",
    )


def _sequence(stage: Stage) -> tuple[str, ...]:
    return stage.sequence if isinstance(stage, Glue) else ()


def _joining(stage: Stage, sources: Sequence[str], sequence: Sequence[str]) -> Stage:
    """A stage where panels meet, taking these instead."""
    changes: dict[str, Any] = {"source": sources[0], "also": tuple(sources[1:])}
    return stage.model_copy(update=changes | ({"sequence": tuple(sequence)} if isinstance(stage, Glue) else {}))


def duplicate(plan: Plan, stage_id: str) -> Edit:
    """The same stage once more behind it; for strips, another panel like theirs."""
    stage = plan.stage(stage_id)
    if isinstance(stage, Mill):
        return second_panel(plan, stage_id)
    if len(stage.sources) > 1:
        raise InputError(f"{stage.title} brings panels together, which can be done once.", "insert")
    name = free_id({s.id for s in plan.stages}, stage.id)
    stages = redirected(plan.stages, stage_id, name)
    stages.insert(plan.index(stage_id) + 1, stage.model_copy(update={"id": name, "source": stage_id}))
    return Edit(plan.with_stages(stages), f"{stage.title.lower()} doubled")


def remove(plan: Plan, stage_id: str) -> Edit:
    """Take a stage out; the next takes the pieces it took. Taking out the strips of one of several panels takes out
    that panel. Raises InputError where others need it."""
    stage = plan.stage(stage_id)
    if isinstance(stage, Border | Inlay | Beside) or _glues_on(plan, stage):
        return _without_stock(plan, stage)
    if isinstance(stage, Mill):
        gone = _branch(plan, stage_id)
        meets = taker(plan, gone[-1])
        if isinstance(meets, Border | Inlay) and meets.source not in gone and len(meets.also) == 1:
            return _without_stock(plan, meets)
        if meets is None or len(meets.sources) < 2:
            raise InputError("A plan begins with strips; these are the only ones.", "insert")
        left, order = ([name for name in names if name != gone[-1]] for names in (meets.sources, _sequence(meets)))
        fewer = _joining(meets, left, order)
        kept = [fewer if s.id == meets.id else s for s in plan.stages if s.id not in gone]
        return Edit(plan.with_stages(kept), "a panel taken out")
    if any(stage_id + OFFCUT in other.sources for other in plan.stages):
        raise InputError(f"A later stage uses the offcuts of “{stage_id}”; take that one out first.", "insert")
    if len(stage.sources) > 1:
        raise InputError("Panels meet here; take one of the panels out first.", "insert")
    assert stage.source is not None
    kept = redirected((s for s in plan.stages if s.id != stage_id), stage_id, stage.source)
    return Edit(plan.with_stages(kept), f"{stage.title.lower()} taken out")


def _glues_on(plan: Plan, stage: Stage) -> bool:
    """Whether a glue-up sets nothing but strips as they are milled to what was there."""
    if not isinstance(stage, Glue) or not stage.also:
        return False
    return all(isinstance(plan.stage(name.removesuffix(OFFCUT)), Mill) for name in stage.also)


def _without_stock(plan: Plan, stage: Stage) -> Edit:
    """Take out a border, an inlay or what is gone on with beside, with the stages that made its wood and nothing
    else."""
    assert stage.source is not None
    gone = {stage.id}
    for source in stage.sources[1:]:
        at: Stage | None = None if source.endswith(OFFCUT) else plan.stage(source)
        while at is not None and {other.id for other in plan.stages if at.id in other.sources} <= gone:
            gone.add(at.id)
            at = plan.stage(at.source) if at.source and not at.source.endswith(OFFCUT) else None
    kept = redirected((s for s in plan.stages if s.id not in gone), stage.id, stage.source)
    return Edit(plan.with_stages(kept), f"{stage.title.lower()} taken out, with the wood it was made of")


def move(plan: Plan, stage_id: str, later: bool) -> Edit:
    """Let a stage change places with the one after it, or before it. Raises InputError where panels meet or begin."""
    stage = plan.stage(stage_id)
    first: Stage | None = stage
    second: Stage | None = taker(plan, stage_id)
    if not later:
        first, second = (plan.stage(stage.source) if stage.source and OFFCUT not in stage.source else None), stage
    if first is None or second is None:
        raise InputError(f"{stage.title} stands at the {'end' if later else 'beginning'} already.", "insert")
    if isinstance(first, Mill) or len(first.sources) != 1 or len(second.sources) != 1:
        raise InputError("Strips come first, and where panels meet the order is given.", "insert")
    one, other = plan.index(first.id), plan.index(second.id)
    stages = redirected(plan.stages, second.id, first.id)  # whoever came after both
    # the one that now comes first stands where the other stood
    stages[one] = second.model_copy(update={"source": first.source})
    stages[other] = first.model_copy(update={"source": second.id})
    return Edit(plan.with_stages(stages), f"{stage.title.lower()} moved {'later' if later else 'earlier'}")


def switch(plan: Plan, stage_id: str) -> Edit:
    """Switch a stage off for comparison, or on again. Raises InputError for one that brings pieces in."""
    stage = plan.stage(stage_id)
    if not stage.skip and len(stage.sources) != 1:
        raise InputError(f"{stage.title} brings pieces in, so it cannot be off; take it out instead.", "insert")
    changed = plan.with_stage(stage.model_copy(update={"skip": not stage.skip}))
    return Edit(changed, f"{stage.title.lower()} switched {'on' if stage.skip else 'off'}")
