"""What was worked out once from something that does not change."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

T = TypeVar("T")


class Memo:
    """Results of functions, each kept under the function itself, so that no two can take each other's place."""

    __slots__ = ("_kept",)

    def __init__(self) -> None:
        self._kept: dict[tuple[Callable[..., Any], Hashable], Any] = {}

    def once(self, work: Callable[..., T], *given: Any, key: Hashable = None) -> T:
        """What ``work(*given)`` gives, worked out the first time. ``given`` must follow from what the memo belongs to,
        and from ``key``."""
        at = (work, key)
        if at not in self._kept:
            self._kept[at] = work(*given)
        found: T = self._kept[at]
        return found
