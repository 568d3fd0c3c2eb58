"""Edits to the rows of an arrangement. Rows count from 0, from the far side of the board."""

from __future__ import annotations

from ..errors import InputError
from ..plan import Plan
from ..stages import Arrange, Crosscut
from ..turns import Lie
from .model import Edit


def _arrange(plan: Plan, stage_id: str) -> tuple[Arrange, list[tuple[int, Lie]]]:
    stage = plan.stage(stage_id)
    if not isinstance(stage, Arrange) or stage.source is None:
        raise InputError(f"Stage “{stage_id}” arranges no slices.")
    source = plan.stage(stage.source)
    if not isinstance(source, Crosscut):
        raise InputError(f"Stage “{stage_id}” does not take slices from a crosscut.")
    return stage, stage.rows(source.count)


def _at(rows: list[tuple[int, Lie]], row: int) -> tuple[int, Lie]:
    if not 0 <= row < len(rows):
        raise InputError(f"There is no row {row + 1}; the board has {len(rows)}.", "rows")
    return rows[row]


def move(plan: Plan, stage_id: str, row: int, to: int) -> Edit:
    """Move a row; turns stay with the rule, and single turns with their slice."""
    stage, rows = _arrange(plan, stage_id)
    slice_, _ = _at(rows, row)
    order = [number for number, _ in rows]
    order.pop(row)
    to = max(0, min(to, len(order)))
    order.insert(to, slice_)
    straight = order == sorted(order)
    changed = stage.model_copy(update={"order": () if straight else tuple(order)})
    return Edit(plan.with_stage(changed), f"slice {slice_} moved to row {to + 1}")


def turn(plan: Plan, stage_id: str, row: int, lie: Lie) -> Edit:
    """Turn one row's slice on top of how it lies; what the rule gives anyway is not kept as an exception."""
    stage, rows = _arrange(plan, stage_id)
    slice_, now = _at(rows, row)
    new = now.then(lie)
    turned = {number: kept for number, kept in stage.turned.items() if number != slice_}
    if new is not stage.rule.lie(row):
        turned[slice_] = new
    return Edit(plan.with_stage(stage.model_copy(update={"turned": turned})), f"slice {slice_}: {new.words}")


def reset(plan: Plan, stage_id: str) -> Edit:
    """Forget all single turns and the order; the rule alone decides again."""
    stage, _ = _arrange(plan, stage_id)
    return Edit(plan.with_stage(stage.model_copy(update={"turned": {}, "order": ()})), "rows back to the rule")
