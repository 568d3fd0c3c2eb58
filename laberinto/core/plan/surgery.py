"""Stages put into a plan, taken out, renamed and joined anew. Everything is a stage, never its data."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence

from ..stages import Stage

LONGEST = 40
"""Characters that an id may have."""

LONGEST_BASE = LONGEST - 4
"""Characters before a number, so that both fit."""


def free_id(taken: Collection[str], base: str) -> str:
    """``base``, or with the first number behind it that makes a name of its own."""
    base = (base.rstrip("0123456789-") or "stage")[:LONGEST]
    name, number = base, 1
    while name in taken:
        number += 1
        name = f"{base[:LONGEST_BASE]}-{number}"
    return name


def free_ids(taken: Collection[str], bases: Sequence[str]) -> list[str]:
    """Names for stages that belong together: all with the first number that none of them has yet."""
    number = next(n for n in range(1, len(taken) + 2) if all(f"{base}-{n}" not in taken for base in bases))
    return [f"{base}-{number}" for base in bases]


def redirected(stages: Iterable[Stage], old: str, new: str) -> list[Stage]:
    """Stages of which those that took the pieces of ``old`` take those of ``new``."""
    return [stage.taking(lambda name: new if name == old else name) for stage in stages]


def renamed(stage: Stage, names: Mapping[str, str]) -> Stage:
    """A stage under its new name, which takes from the stages under theirs, offcuts too."""

    def new(name: str) -> str:
        found, colon, offcut = name.partition(":")
        return names.get(found, found) + colon + offcut

    return stage.taking(new).model_copy(update={"id": names[stage.id]})
