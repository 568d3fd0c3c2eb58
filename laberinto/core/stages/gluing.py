"""What every stage that spreads glue shares."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar

from ..fields.spec import choice, listed, number
from .base import Stage


class Spread(StrEnum):
    """How many faces of a joint get glue; schools differ."""

    ONE = "one"
    BOTH = "both"

    @property
    def label(self) -> str:
        return {"one": "one face of each joint", "both": "both faces of each joint"}[self.value]


class Gluing(Stage):
    """A stage with ``glue_ups`` rounds in the clamps. Further pieces come from the stages named in ``with``."""

    glue_ups: ClassVar[int] = 1
    planning: ClassVar[tuple[str, ...]] = ("spread", "clamp_hours")
    seldom: ClassVar[tuple[str, ...]] = ("also",)

    also: tuple[str, ...] = listed(
        "names", label="Taken with", help="Further stages whose pieces are taken: mortar-slices, slices:offcut.",
        alias="with", max_length=20,
    )  # fmt: skip
    spread: Spread = choice(Spread.BOTH, label="Spread glue on", help="Both faces wet out better; one face is quicker.")
    clamp_hours: float = number(
        12,
        label="In the clamps",
        help="Until it may be worked; the glue's label decides.",
        least=0.5,
        most=96,
        unit="h",
    )

    @property
    def sources(self) -> tuple[str, ...]:
        """The first pieces, then those of ``with``."""
        return (self.source, *self.also) if self.source else ()
