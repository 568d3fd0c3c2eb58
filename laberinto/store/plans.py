"""Plans as they are kept, read once: plans never change, so whoever asks again gets the same one."""

from __future__ import annotations

from threading import Lock

from cachetools import LRUCache

from laberinto.core.plan.model import Plan, read_plan

MOST = 256
"""So many plans are held at once."""

_held: LRUCache[str, Plan] = LRUCache(MOST)
_lock = Lock()


def plan_of(text: str) -> Plan:
    """The plan in a kept text."""
    with _lock:
        if (found := _held.get(text)) is not None:
            return found
    return _hold(text, read_plan(text))


def text_of(plan: Plan) -> str:
    """The text a plan is kept as."""
    text = plan.as_json()
    _hold(text, plan)
    return text


def _hold(text: str, plan: Plan) -> Plan:
    with _lock:
        _held[text] = plan
    return plan
