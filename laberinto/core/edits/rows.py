"""Edits to the rows of an arrangement. Rows count from 0, from the far side of the board."""

from __future__ import annotations

from collections.abc import Sequence

from ..analysis.names import names
from ..errors import InputError
from ..geometry.rotations import Lie
from ..plan.model import Plan
from ..plan.simulate import Simulation, attempt
from ..stages import Across, Arrange, Crosscut, Glue
from .model import LEFT, Edit


def slices(plan: Plan, arrange: Arrange) -> list[int]:
    """How many slices each panel of an arrangement gives."""
    if all(isinstance(plan.stage(name), Crosscut) for name in arrange.sources if ":" not in name):
        return [plan.stage(name.split(":")[0]).count for name in arrange.sources]  # type: ignore[attr-defined]
    done, _ = attempt(plan)
    made = {result.stage.id: len(result.pieces) for result in done}
    return [made.get(name, 0) for name in arrange.sources]


def marks_of(plan: Plan, arrange: Arrange) -> list[str]:
    """What is written on its slices, by their number from 1. Those that the plan, as far as it can be built, has none
    of go by that number."""
    known = names(Simulation.of(plan, attempt(plan)[0]))
    marks: list[str] = []
    for source, count in zip(arrange.sources, slices(plan, arrange), strict=True):
        there = [name.mark for name in known.get(source, ())]
        marks += there if len(there) == count else [str(len(marks) + k) for k in range(1, count + 1)]
    return marks


def _arrange(plan: Plan, stage_id: str) -> tuple[Arrange, list[tuple[int, Lie]], list[int]]:
    stage = plan.stage(stage_id)
    if not isinstance(stage, Arrange) or stage.source is None:
        raise InputError(f"Stage “{stage_id}” arranges no slices.")
    counts = slices(plan, stage)
    return stage, stage.rows(counts), counts


def _check(rows: list[tuple[int, Lie]], chosen: Sequence[int]) -> None:
    wrong = next((row for row in chosen if not 0 <= row < len(rows)), None)
    if wrong is not None or not chosen:
        raise InputError(f"There is no row {(wrong or 0) + 1}; the board has {len(rows)}.", "rows")


def _ordered(plan: Plan, stage: Arrange, counts: list[int], order: list[int], words: str) -> Edit:
    """The plan with this order of slices; what the rule gives anyway is not kept."""
    own = () if order == stage.by_rule(counts) else tuple(order)
    return Edit(plan.with_stage(stage.model_copy(update={"order": own})), words)


def _named(plan: Plan, stage: Arrange, numbers: Sequence[int]) -> str:
    marks = marks_of(plan, stage)
    return f"slice{'s' if len(numbers) > 1 else ''} {', '.join(marks[number - 1] for number in numbers)}"


def lay_out(plan: Plan, stage_id: str, laid: Sequence[tuple[int, Lie]], words: str) -> Edit:
    """All rows at once: slice number and lie from the far side. What the rule gives anyway is not kept."""
    stage, rows, counts = _arrange(plan, stage_id)
    if sorted(number for number, _ in laid) != sorted(number for number, _ in rows):
        raise InputError("That arrangement was made for other slices; arrange again.", "rows")
    turned = {number: lie for row, (number, lie) in enumerate(laid) if lie is not stage.rule.lie(row)}
    order = [number for number, _ in laid]
    fresh = stage.model_copy(update={"turned": turned})
    return _ordered(plan.with_stage(fresh), fresh, counts, order, words)


def move(plan: Plan, stage_id: str, chosen: Sequence[int], to: int) -> Edit:
    """Move rows, kept together, so that the first lies in row ``to``; turns stay with the rule, and single turns with
    their slice."""
    stage, rows, counts = _arrange(plan, stage_id)
    _check(rows, chosen)
    moved = [rows[row][0] for row in sorted(chosen)]
    order = [number for number, _ in rows if number not in set(moved)]
    to = max(0, min(to, len(order)))
    order[to:to] = moved
    return _ordered(plan, stage, counts, order, f"{_named(plan, stage, moved)} moved to row {to + 1}")


def swap(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Two rows change places."""
    stage, rows, counts = _arrange(plan, stage_id)
    _check(rows, chosen)
    if len(chosen) != 2:
        raise InputError("Choose exactly two rows to swap; hold Ctrl and click the second.", "rows")
    order = [number for number, _ in rows]
    one, other = chosen
    order[one], order[other] = order[other], order[one]
    return _ordered(plan, stage, counts, order, f"{_named(plan, stage, [order[other], order[one]])} change places")


def turn(plan: Plan, stage_id: str, chosen: Sequence[int], lie: Lie) -> Edit:
    """Turn rows on top of how they lie; what the rule gives anyway is not kept as an exception."""
    stage, rows, _ = _arrange(plan, stage_id)
    _check(rows, chosen)
    turned = dict(stage.turned)
    for row in chosen:
        number, now = rows[row]
        new = now.then(lie)
        turned.pop(number, None)
        if new is not stage.rule.lie(row):
            turned[number] = new
    numbers = [rows[row][0] for row in chosen]
    words = rows[chosen[0]][1].then(lie).words if len(chosen) == 1 else f"turned: {lie.words}"
    return Edit(
        plan.with_stage(stage.model_copy(update={"turned": turned})), f"{_named(plan, stage, numbers)}: {words}"
    )


def clear(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Forget the turns and shifts that these rows were given by hand."""
    stage, rows, _ = _arrange(plan, stage_id)
    _check(rows, chosen)
    numbers = [rows[row][0] for row in chosen]
    turned = {number: lie for number, lie in stage.turned.items() if number not in numbers}
    plan = plan.with_stage(stage.model_copy(update={"turned": turned}))
    glue = glued_by(plan, stage_id)
    if glue is not None and glue.shifted:
        left = {at: by for at, by in glue.shifted.items() if at - 1 not in chosen}
        plan = plan.with_stage(glue.model_copy(update={"shifted": left}))
    return Edit(plan, f"{_named(plan, stage, numbers)}: back to the rule")


def reset(plan: Plan, stage_id: str) -> Edit:
    """Forget all single turns and shifts and the order; the rule alone decides again."""
    stage, _, _ = _arrange(plan, stage_id)
    plan = plan.with_stage(stage.model_copy(update={"turned": {}, "order": ()}))
    glue = glued_by(plan, stage_id)
    if glue is not None and glue.shifted:
        plan = plan.with_stage(glue.model_copy(update={"shifted": {}}))
    return Edit(plan, "rows back to the rule")


def glued_by(plan: Plan, stage_id: str) -> Glue | None:
    """The glue-up that takes the rows of an arrangement one behind the other, or None. Shifts are kept there."""
    glue = next((s for s in plan.stages if stage_id in s.sources), None)
    return glue if isinstance(glue, Glue) and glue.across is Across.LENGTH and len(glue.sources) == 1 else None


def shift_of(glue: Glue | None, row: int) -> float:
    """How far a row is shifted to the right, mm."""
    return 0.0 if glue is None else glue.shift_at(row)


def _glue(plan: Plan, stage_id: str) -> Glue:
    glue = glued_by(plan, stage_id)
    if glue is None:
        raise InputError(
            "Rows can be shifted once a glue-up “row behind row” follows; add one after this stage.", "rows"
        )
    return glue


def shift(plan: Plan, stage_id: str, chosen: Sequence[int], by: float) -> Edit:
    """Shift rows further to the right by so many mm, to the left where negative."""
    stage, rows, _ = _arrange(plan, stage_id)
    _check(rows, chosen)
    glue = _glue(plan, stage_id)
    plain = glue.model_copy(update={"shifted": {}})
    shifted = dict(glue.shifted)
    for row in chosen:
        new = round(glue.shift_at(row) + by, 3)
        shifted.pop(row + 1, None)
        if abs(new - plain.shift_at(row)) > 1e-6:
            shifted[row + 1] = new
    numbers = [rows[row][0] for row in chosen]
    words = f"{_named(plan, stage, numbers)} shifted {abs(by):g} mm to the {'right' if by > 0 else 'left'}"
    return Edit(plan.with_stage(glue.model_copy(update={"shifted": shifted})), words)


def shift_rule(plan: Plan, stage_id: str, shifts: Sequence[float], further: float) -> Edit:
    """Shift rows by ``shifts`` mm, which repeat down the board, and each by ``further`` mm more than the one before. A
    single shift is for every other row."""
    glue = _glue(plan, stage_id)
    if len(shifts) == 1:
        shifts = (0.0, *shifts)
    shifts = tuple(shifts) if any(shifts) else ()
    changed = glue.model_copy(update={"shifts": shifts, "stagger": further})
    if changed == glue:
        return Edit(plan, "")
    words = "; ".join(f"{by:g}" for by in shifts) or "0"
    return Edit(plan.with_stage(changed), f"rows shifted by {words} mm, each further {further:g} mm")


def leave_out(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Slices of these rows are not laid: ruined, or kept as spares."""
    stage, rows, _ = _arrange(plan, stage_id)
    _check(rows, chosen)
    gone = sorted({rows[row][0] for row in chosen})
    if len(gone) == len(rows):
        raise InputError("One row at least stays.", "rows")
    changed = stage.model_copy(update={
        "without": tuple(sorted({*stage.without, *gone})),
        "order": tuple(number for number in stage.order if number not in gone),
        "turned": {number: lie for number, lie in stage.turned.items() if number not in gone},
    })  # fmt: skip
    return Edit(plan.with_stage(changed), f"{LEFT}{_named(plan, stage, gone)}")


def take_back(plan: Plan, stage_id: str, number: int) -> Edit:
    """A slice that was left out is laid again, in the last row of those that were moved, or where the rule has it."""
    stage, _, counts = _arrange(plan, stage_id)
    if number not in stage.left_out(counts):
        raise InputError("That slice lies in a row already.", "rows")
    left = tuple(other for other in stage.without if other != number)
    words = f"{_named(plan, stage, [number])} taken back"
    return Edit(plan.with_stage(stage.model_copy(update={"without": left})), words)
