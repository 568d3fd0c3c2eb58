"""What other packages add to Laberinto's registries, found through their entry points.

A package names what it adds under ``[project.entry-points."laberinto.patterns"]`` and the like; the name there is the
name it goes by here. What cannot be loaded, or goes by a name of ours, is left out with an ``ExtensionWarning``: an
extension never takes the application down, and never changes what a kept board means.
"""

from __future__ import annotations

import warnings
from collections.abc import Iterator, Mapping
from importlib.metadata import entry_points
from threading import RLock
from typing import Any, TypeVar

T = TypeVar("T")


class ExtensionWarning(UserWarning):
    """Something that another package adds was left out; the message says what and why."""


class Registry(Mapping[str, T]):
    """A registry of ours with what other packages add to ``laberinto.<group>``, theirs after ours in their names'
    order. They are looked for when the registry is first read, not when it is made, as they import Laberinto."""

    def __init__(self, group: str, ours: Mapping[str, T]) -> None:
        self._group = f"laberinto.{group}"
        self._found: dict[str, T] = dict(ours)
        self._complete = False
        self._lock = RLock()

    def _all(self) -> dict[str, T]:
        with self._lock:
            if not self._complete:
                self._complete = True  # an extension that reads the registry while it is loaded sees ours
                for entry in sorted(entry_points(group=self._group), key=lambda entry: entry.name):
                    self._add(entry)
        return self._found

    def _add(self, entry: Any) -> None:
        if entry.name in self._found:
            _left_out(entry, "something goes by this name already")
            return
        try:
            self._found[entry.name] = entry.load()
        except Exception as error:  # whatever it is, it is not ours to fail for
            _left_out(entry, f"{type(error).__name__}: {error}")

    def __getitem__(self, key: str) -> T:
        return self._all()[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._all())

    def __len__(self) -> int:
        return len(self._all())


def _left_out(entry: Any, why: str) -> None:
    warnings.warn(f"{entry.group} {entry.name} ({entry.value}) is left out: {why}.", ExtensionWarning, stacklevel=2)
