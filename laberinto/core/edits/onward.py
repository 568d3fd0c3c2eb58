"""What a small change would come to once more: whoever moves a figure by a step mostly moves it on."""

from __future__ import annotations

from math import inf
from typing import Any

from ..errors import InputError, PlanError
from ..plan.model import Plan
from ..validation import checked

_SAME = 1e-6
"""Steps that differ by less are the same."""


def once_more(before: Plan, after: Plan, most: float = inf) -> Plan | None:
    """The plan after the same change again, where figures of one stage, and nothing else, went up or down by the same
    step, of at ``most`` so much. None where something else changed or the next step is not allowed."""
    if len(before.stages) != len(after.stages) or before != after.model_copy(update={"stages": before.stages}):
        return None
    changed = [(was, now) for was, now in zip(before.stages, after.stages, strict=True) if was != now]
    if len(changed) != 1 or type(changed[0][0]) is not type(changed[0][1]):
        return None
    was, now = changed[0]
    steps: list[float] = []
    try:
        values = _onward(was.model_dump(), now.model_dump(), steps)
        if any(abs(step - steps[0]) > _SAME or abs(step) > most for step in steps):
            return None
        return after.with_stage(checked(type(now), values))
    except (_OtherwiseError, InputError, PlanError):
        return None


class _OtherwiseError(Exception):
    """Something changed that is not a figure."""


def _onward(was: Any, now: Any, steps: list[float]) -> Any:
    """What a value that became ``now`` becomes next; the steps its figures took are added to ``steps``."""
    if was == now:
        return now
    if isinstance(was, dict) and isinstance(now, dict) and was.keys() == now.keys():
        return {name: _onward(was[name], now[name], steps) for name in now}
    if isinstance(was, (list, tuple)) and isinstance(now, (list, tuple)) and len(was) == len(now):
        return [_onward(*pair, steps) for pair in zip(was, now, strict=True)]
    if not all(isinstance(value, (int, float)) and not isinstance(value, bool) for value in (was, now)):
        raise _OtherwiseError
    steps.append(now - was)
    onward = now + (now - was)
    return onward if isinstance(now, int) else round(onward, 9)
