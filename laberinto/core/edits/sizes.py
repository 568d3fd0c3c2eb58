"""A board brought to a wanted size by its pattern's numbers, with what hands changed since laid over it."""

from __future__ import annotations

from ..errors import InputError
from ..patterns import Family
from ..plan.model import Plan, Wanted
from ..sizing import Kind, Proposal, Want, propose
from ..stages import Trim
from ..units import Lengths
from .model import Edit
from .pattern import family_of, reshape


def sized(plan: Plan, want: Want, held: frozenset[str] = frozenset()) -> list[Proposal]:
    """The proposals for a board's own pattern. Raises InputError where it was made without one."""
    return propose(_family(plan), want, held, plan.name)


def _family(plan: Plan) -> Family:
    family = family_of(plan)
    if family is None:
        raise InputError("This board was not made from a pattern, so there are no numbers to find a size with.")
    return family


def take(plan: Plan, proposal: Proposal, want: Want, lengths: Lengths) -> Edit:
    """The board as a proposal makes it, and its wanted size noted."""
    before = _family(plan)
    made, lost = reshape(plan, before, proposal.family)
    if proposal.kind is Kind.TRIMMED:
        made = _trim_too(made, proposal.plan)
    made = made.model_copy(update={"wanted": Wanted(width=want.width, length=want.length, thickness=want.thickness)})
    kept = f"; changes by hand at {', '.join(lost)} did not fit and were left out" if lost else ""
    size = lengths.show_size(*proposal.sim.board.size)
    return Edit(made, f"sized to {size}{kept}")


def _trim_too(plan: Plan, like: Plan) -> Plan:
    """The last trim as it stands in another plan."""
    trims = [stage for stage in like.stages if isinstance(stage, Trim)]
    ids = {stage.id for stage in plan.stages}
    if not trims or trims[-1].id not in ids:
        return plan
    stage = plan.stage(trims[-1].id)
    return plan.with_stage(stage.model_copy(update={"width": trims[-1].width, "length": trims[-1].length}))
