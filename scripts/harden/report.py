"""What a part of the attack is given, and what it says."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass, field

import click


@dataclass
class Report:
    """What one part did: how much, and what was wrong."""

    part: str
    done: int = 0
    wrong: list[str] = field(default_factory=list)
    said: str = ""

    def fail(self, words: str) -> None:
        """Something is wrong."""
        self.wrong.append(words)
        click.echo(f"  {self.part}: {words[:300]}")


@dataclass(frozen=True)
class Bounds:
    """How long a part may go on, and how much is enough."""

    seconds: float
    enough: int

    def rounds(self) -> Iterator[int]:
        """Numbers from 0 on, while there is time and not enough."""
        end = time.monotonic() + self.seconds
        for number in range(self.enough):
            if time.monotonic() > end:
                return
            yield number


def spread(took: list[float]) -> str:
    """The middle of some times in s, and what 95 % of them are under."""
    if not took:
        return "no times"
    ordered = sorted(took)
    middle, late = ordered[len(ordered) // 2], ordered[int(len(ordered) * 0.95)]
    return f"median {1000 * middle:.0f} ms, 95 % under {1000 * late:.0f} ms"
