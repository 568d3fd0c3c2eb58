"""Plans pushed to their ends: every number at its least and most, every stage off, doubled or gone."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from pydantic import ValidationError

from laberinto.core.edits import Edit, stages
from laberinto.core.errors import InputError, LaberintoError, StageError
from laberinto.core.fields.spec import specs
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import attempt
from laberinto.core.stages import Stage

DIFFERENT = ("framed", "blocks", "diamonds", "round", "chaos")
"""Families that have all kinds of stages between them."""


def told(plan: Plan) -> StageError | None:
    """What stops a plan, which names a stage of it and says in words what and what to do; None where nothing does."""
    results, fault = attempt(plan)
    assert [r.stage.id for r in results] == [s.id for s in plan.stages[: len(results)]]
    if fault is None:
        assert len(results) == len(plan.stages)
        assert all(r.volume > 0 for r in results)
        return None
    assert fault.stage == plan.stages[len(results)].id
    assert len(fault.say()) > 30 and "nan" not in fault.say(), fault.say()
    return fault


def changed(stage: Stage, name: str, value: float) -> Stage | None:
    """The stage with one number changed; None where the stage itself does not allow it."""
    try:
        return type(stage).model_validate({**stage.model_dump(by_alias=True), name: value})
    except (ValidationError, LaberintoError):
        return None


@pytest.mark.parametrize("family", DIFFERENT)
def test_every_number_at_its_least_and_most_is_built_or_told(family: str) -> None:
    plan = FAMILIES[family]().plan("Extreme")
    built = stopped = 0
    for stage in plan.stages:
        for spec in specs(type(stage)):
            if spec.kind not in ("length", "count", "number"):
                continue
            for limit in (spec.least, spec.most):
                value = None if limit is None else int(limit) if spec.kind == "count" else limit
                other = None if value is None else changed(stage, spec.name, value)
                if other is not None:
                    fault = told(plan.with_stage(other))
                    built, stopped = built + (fault is None), stopped + (fault is not None)
    assert built > 5 and stopped > 5


@pytest.mark.parametrize("family", DIFFERENT)
def test_any_stage_may_be_off_and_on_again(family: str) -> None:
    plan = FAMILIES[family]().plan("Off")
    for stage in plan.stages[1:]:
        try:
            off = stages.switch(plan, stage.id)
        except InputError as error:
            assert len(str(error)) > 20
            continue
        assert off.plan.stage(stage.id).skip and off.words
        told(off.plan)
        assert stages.switch(off.plan, stage.id).plan == plan


@pytest.mark.parametrize("edit", [stages.remove, stages.duplicate])
@pytest.mark.parametrize("family", DIFFERENT)
def test_any_stage_may_be_gone_or_twice(family: str, edit: Callable[[Plan, str], Edit]) -> None:
    plan = FAMILIES[family]().plan("Edited")
    done = 0
    for stage in plan.stages:
        try:
            after = edit(plan, stage.id).plan
        except (InputError, LaberintoError) as error:
            assert len(str(error)) > 20
            continue
        assert read_plan(after.as_dict()) == after  # it can be kept and read again
        told(after)
        done += 1
    assert done > len(plan.stages) / 2
