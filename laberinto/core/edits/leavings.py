"""What a stage leaves over becomes a second board, finished beside the first."""

from __future__ import annotations

from ..errors import InputError
from ..plan.model import OFFCUT, Plan
from ..plan.simulate import StageResult, attempt
from ..plan.surgery import free_id, redirected
from ..shop import Shop
from ..stages import Across, Arrange, Beside, Crosscut, Glue, Gluing, Rule, Spread, Stage
from ..stages.crosscut import slices_in
from .model import Edit
from .stages import taker


def second_board(plan: Plan, stage_id: str, shop: Shop) -> Edit:
    """A second board of what a stage leaves over. What is left of a panel gives further slices, which the glue-up of
    the rows holds apart by a dry joint; loose offcuts are glued by themselves and gone on with beside the first board.
    Raises InputError where nothing is left, or it is used already."""
    result = _result(plan, stage_id)
    words = f"a second board, of what “{result.stage.title.lower()}” leaves"
    if isinstance(result.stage, Crosscut):
        return Edit(_more_rows(plan, result.stage, result), words)
    made = _glued(plan, result, shop)
    chain = _following(plan, stage_id)
    glued = next((stage for stage in reversed(chain) if isinstance(stage, Gluing)), None)
    first = glued.id if glued else chain[-1].id
    name = free_id({s.id for s in (*plan.stages, *made)}, "together")
    together = Beside(id=name, source=first, also=(made[-1].id,))
    at = plan.index(first) + 1
    stages = redirected(plan.stages, first, name)
    stages[at:at] = [*made, together]
    return Edit(plan.with_stages(stages), words)


def _more_rows(plan: Plan, cut: Crosscut, result: StageResult) -> Plan:
    """As many slices more as the rest of the panel gives, as rows of a second board. Raises InputError where it gives
    none, or the rows are not glued in one go."""
    left = float(result.outcome.offcuts.piece_sizes()[:, 1].max())
    more = slices_in(left, cut.slice, cut.kerf)
    if more < 1:
        raise InputError(
            "What is left of the panel gives no further slice of {slice}: it is {left} long. Make the panel longer.",
            "insert", slice=cut.slice, left=left,
        )  # fmt: skip
    glued = next((stage for stage in _following(plan, cut.id) if isinstance(stage, Glue)), None)
    if glued is None or glued.across is not Across.LENGTH or glued.dry or len(glued.sources) > 1:
        raise InputError("Glue the slices of this panel up as rows first, all in one go.", "insert")
    rows = next(len(r.outcome.turns) for r in attempt(plan)[0] if r.stage.id == glued.id)
    changed = {
        cut.id: cut.model_copy(update={"count": cut.count + more}),
        glued.id: glued.model_copy(update={"dry": (rows,)}),
    }
    return plan.with_stages(changed.get(stage.id, stage) for stage in plan.stages)


def leaves_some(plan: Plan, result: StageResult) -> bool:
    """Whether a stage has offcuts that nothing uses yet."""
    name = result.stage.id + OFFCUT
    return bool(len(result.outcome.offcuts)) and not any(name in stage.sources for stage in plan.stages)


def _result(plan: Plan, stage_id: str) -> StageResult:
    result = next((r for r in attempt(plan)[0] if r.stage.id == stage_id), None)
    if result is None:
        raise InputError("This stage cannot be built yet, so nothing is left over.", "insert")
    if not leaves_some(plan, result):
        raise InputError(f"{result.stage.title} leaves nothing over that is not used already.", "insert")
    return result


def _following(plan: Plan, stage_id: str) -> list[Stage]:
    """A stage and all that its wood goes through."""
    chain: list[Stage] = [plan.stage(stage_id)]
    while (after := taker(plan, chain[-1].id)) is not None:
        chain.append(after)
    return chain


def _glued(plan: Plan, result: StageResult, shop: Shop) -> list[Stage]:
    """The stages from loose offcuts to a board."""
    made = list[Stage]()

    def add(kind: type[Stage], base: str, **values: object) -> None:
        taken = {s.id for s in (*plan.stages, *made)}
        source = made[-1].id if made else result.stage.id + OFFCUT
        made.append(kind.model_validate({"id": free_id(taken, base), "from": source, **values}))

    offcuts = result.outcome.offcuts
    if not offcuts.on_end:
        add(Arrange, "more-rows", rule=Rule.FLIP)
    if offcuts.pieces > 1:
        add(Glue, "second-board", across=Across.LENGTH, clamp_hours=24, spread=Spread(shop.spread))
    if not made:
        add(Beside, "second-board")
    return made
