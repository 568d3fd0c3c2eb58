"""Grouped work: what is milled, sawn at one setting or planed to one height is done in one go for all panels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from typing import Any

from ..plan.model import OFFCUT, Plan
from .model import CutBack, Instruction, MillStrips, Saw

_JOINED: dict[type[Instruction], tuple[str, ...]] = {
    MillStrips: ("strips",), Saw: ("pieces", "offcuts"), CutBack: ("pieces",),
}  # fmt: skip
"""What is added up where two instructions of a kind are one go; all else must be the same."""

TOGETHER = ("mill", "rip", "resaw", "crosscut", "flatten")
"""Kinds of stages of which several are done in one go."""


def in_order(plan: Plan) -> list[str]:
    """Stages by how many others must be done first, then as the plan has them: panels that wait for each other later go
    side by side until then."""
    depth: dict[str, int] = {}
    for stage in plan.stages:
        before = [depth[name.removesuffix(OFFCUT)] for name in stage.sources]
        depth[stage.id] = 1 + max(before) if before else 0
    return sorted(depth, key=lambda name: (depth[name], plan.index(name)))


def merged(one: Instruction, other: Instruction) -> Instruction | None:
    """Both as one go, or None where their settings differ."""
    added = _JOINED.get(type(one))
    if added is None or type(one) is not type(other) or _settings(one, added) != _settings(other, added):
        return None
    more: dict[str, Any] = {name: getattr(one, name) + getattr(other, name) for name in added}
    return replace(one, also=(*one.also, *other.stages), **more)


def _settings(told: Instruction, added: Sequence[str]) -> list[object]:
    """All that a machine is set to."""
    same: list[object] = [getattr(told, f.name) for f in fields(told) if f.name not in (*added, "stage", "also")]
    if isinstance(told, Saw):
        return [*same, {round(width, 6) for piece in told.pieces for width in piece.widths}]
    if isinstance(told, CutBack):
        return [*same, {round(piece.to, 6) for piece in told.pieces}]
    return same


def grouped(
    plan: Plan, told: Mapping[str, tuple[Instruction, ...]], alike: Mapping[str, object]
) -> list[tuple[tuple[str, ...], tuple[Instruction, ...]]]:
    """Stages that are done in one go, with their instructions, in the order of work. ``alike`` names what else must be
    the same of stages that go together."""
    waiting, done, out = in_order(plan), set[str](), list[tuple[tuple[str, ...], tuple[Instruction, ...]]]()
    while waiting:
        first = waiting.pop(0)
        go, does = [first], told[first]
        for name in list(waiting):
            both = _both(plan, first, name, does, told[name])
            ready = all(source.removesuffix(OFFCUT) in done for source in plan.stage(name).sources)
            if both and ready and alike.get(first) == alike.get(name):
                go.append(name)
                waiting.remove(name)
                does = both
        done.update(go)
        out.append((tuple(go), does))
    return out


def _both(
    plan: Plan, first: str, name: str, does: tuple[Instruction, ...], others: tuple[Instruction, ...]
) -> tuple[Instruction, ...]:
    stage, other = plan.stage(first), plan.stage(name)
    if stage.kind != other.kind or stage.kind not in TOGETHER or len(does) != 1 or len(others) != 1:
        return ()
    both = merged(does[0], others[0])
    return (both,) if both else ()
