"""Plans as they are kept, read once: plans never change, so whoever asks again gets the same one."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock

from laberinto.core.plan.model import Plan, read_plan

MOST = 256
"""So many plans are held at once."""

_held: OrderedDict[str, Plan] = OrderedDict()
_lock = Lock()


def plan_of(text: str) -> Plan:
    """The plan in a kept text."""
    with _lock:
        if text in _held:
            _held.move_to_end(text)
            return _held[text]
    return _hold(text, read_plan(text))


def text_of(plan: Plan) -> str:
    """The text a plan is kept as."""
    text = plan.as_json()
    _hold(text, plan)
    return text


def _hold(text: str, plan: Plan) -> Plan:
    with _lock:
        _held[text] = plan
        if len(_held) > MOST:
            _held.popitem(last=False)
    return plan
