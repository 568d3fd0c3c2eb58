"""Edits to what lies in a glue-up. Places count from 0: from the left, from the far side or from below. Turns and
shifts that a piece was given by hand go with it; dry joints stay where they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..analysis.names import Name, at_places, names
from ..errors import InputError, StageError
from ..geometry.rotations import Turn
from ..plan.model import Plan
from ..plan.simulate import Simulation, attempt
from ..stages import Glue
from .model import Edit


@dataclass(frozen=True, slots=True)
class Piece:
    """A piece in its place: what it is called, its number before anybody moved it, how it is turned and shifted (mm),
    and whether that is by hand; ``dry`` where the joint behind it gets no glue."""

    name: Name
    number: int
    turn: Turn
    shift: float
    own: bool
    moved: bool
    dry: bool


def laid(plan: Plan, stage_id: str) -> list[Piece]:
    """All pieces in their order. Empty where the plan stops before the glue-up has any, or its own order is wrong."""
    stage = _glue(plan, stage_id)
    results, _ = attempt(plan)
    sim = Simulation.of(plan, results)
    known = names(sim)
    if any(source not in known for source in stage.sources):
        return []
    try:
        found = at_places(sim, stage, known)
    except StageError:
        return []
    return [
        Piece(
            name, number + 1, stage.turn_at(at), stage.shift_at(at), at + 1 in stage.turned or at + 1 in stage.shifted,
            number != at, at + 1 in stage.dry and at + 1 < len(found),
        )
        for at, (name, number) in enumerate(zip(found, stage.arranged(len(found)), strict=True))
    ]  # fmt: skip


def _glue(plan: Plan, stage_id: str) -> Glue:
    stage = plan.stage(stage_id)
    if not isinstance(stage, Glue):
        raise InputError(f"Stage “{stage_id}” glues no loose pieces.")
    return stage


def _there(plan: Plan, stage_id: str, chosen: Sequence[int]) -> tuple[Glue, list[Piece]]:
    stage, pieces = _glue(plan, stage_id), laid(plan, stage_id)
    wrong = next((at for at in chosen if not 0 <= at < len(pieces)), None)
    if wrong is not None or not chosen:
        raise InputError(f"There is no place {(wrong or 0) + 1}; {len(pieces)} pieces lie here.", "pieces")
    return stage, pieces


def _said(pieces: Sequence[Piece], chosen: Sequence[int]) -> str:
    return ", ".join(str(pieces[at].name) for at in chosen)


def _reordered(plan: Plan, stage: Glue, order: list[int], words: str) -> Edit:
    """Pieces in another order, given by the places they lay at; what hands gave one goes with it."""
    now = stage.arranged(len(order))
    new = [now[at] + 1 for at in order]
    changed = stage.model_copy(update={
        "order": () if new == list(range(1, len(new) + 1)) else tuple(new), "reverse": False, "shuffle": None,
        "turned": {to + 1: stage.turned[at + 1] for to, at in enumerate(order) if at + 1 in stage.turned},
        "shifted": {to + 1: stage.shifted[at + 1] for to, at in enumerate(order) if at + 1 in stage.shifted},
    })  # fmt: skip
    return Edit(plan.with_stage(changed), words)


def move(plan: Plan, stage_id: str, chosen: Sequence[int], to: int) -> Edit:
    """Move pieces, kept together, so that the first lies at place ``to``."""
    stage, pieces = _there(plan, stage_id, chosen)
    held = sorted(set(chosen))
    order = [at for at in range(len(pieces)) if at not in set(held)]
    to = max(0, min(to, len(order)))
    order[to:to] = held
    return _reordered(plan, stage, order, f"{_said(pieces, held)} moved to place {to + 1}")


def swap(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Two pieces change places."""
    stage, pieces = _there(plan, stage_id, chosen)
    if len(chosen) != 2:
        raise InputError("Choose exactly two pieces to swap; hold Ctrl and click the second.", "pieces")
    order = list(range(len(pieces)))
    one, other = chosen
    order[one], order[other] = order[other], order[one]
    return _reordered(plan, stage, order, f"{_said(pieces, chosen)} change places")


def turn(plan: Plan, stage_id: str, chosen: Sequence[int], by: Turn) -> Edit:
    """Turn pieces on top of how they lie; what the rule gives anyway is not kept as an exception."""
    stage, pieces = _there(plan, stage_id, chosen)
    by_rule = stage.model_copy(update={"turned": {}})
    turned = dict(stage.turned)
    for at in chosen:
        new = pieces[at].turn.then(by)
        turned.pop(at + 1, None)
        if new != by_rule.turn_at(at):
            turned[at + 1] = new.name
    return Edit(plan.with_stage(stage.model_copy(update={"turned": turned})), f"{_said(pieces, chosen)}: {by.name}")


def shift(plan: Plan, stage_id: str, chosen: Sequence[int], by: float) -> Edit:
    """Shift pieces further along the joint by so many mm, back where negative."""
    stage, pieces = _there(plan, stage_id, chosen)
    by_rule = stage.model_copy(update={"shifted": {}})
    shifted = dict(stage.shifted)
    for at in chosen:
        new = round(stage.shift_at(at) + by, 3)
        shifted.pop(at + 1, None)
        if abs(new - by_rule.shift_at(at)) > 1e-6:
            shifted[at + 1] = new
    return Edit(
        plan.with_stage(stage.model_copy(update={"shifted": shifted})), f"{_said(pieces, chosen)} shifted {by:g} mm"
    )


def dry(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Leave the joints behind these pieces dry, or glue them where all are dry already."""
    stage, pieces = _there(plan, stage_id, chosen)
    joints = {at + 1 for at in chosen if at + 1 < len(pieces)}
    if not joints:
        raise InputError("Behind the last piece there is no joint.", "pieces")
    glued = joints <= set(stage.dry)
    new = set(stage.dry) - joints if glued else set(stage.dry) | joints
    behind = _said(pieces, [joint - 1 for joint in sorted(joints)])
    words = f"the joint{'s' if len(joints) > 1 else ''} behind {behind}: {'glued' if glued else 'dry'}"
    return Edit(plan.with_stage(stage.model_copy(update={"dry": tuple(sorted(new))})), words)


def clear(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Forget the turns and shifts that these pieces were given by hand."""
    stage, pieces = _there(plan, stage_id, chosen)
    gone = {at + 1 for at in chosen}
    left = {
        name: {at: value for at, value in getattr(stage, name).items() if at not in gone}
        for name in ("turned", "shifted")
    }
    return Edit(plan.with_stage(stage.model_copy(update=left)), f"{_said(pieces, chosen)}: back to the rule")


def reset(plan: Plan, stage_id: str) -> Edit:
    """Forget all that hands did: the order and single turns and shifts. Rules and dry joints stay."""
    stage = _glue(plan, stage_id)
    return Edit(
        plan.with_stage(stage.model_copy(update={"order": (), "turned": {}, "shifted": {}})), "pieces back to the rule"
    )
