"""Lessons: what one board taught, and at which step of the next it is said again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..errors import InputError
from ..plan.model import Plan
from ..stages import Stage


@dataclass(frozen=True, slots=True)
class When:
    """All of this has to be so: the kind of stage, the machine it runs through, a wood of the board, the pattern it was
    made from. What is empty does not matter."""

    kind: str = ""
    machine: str = ""
    wood: str = ""
    family: str = ""

    def __post_init__(self) -> None:
        if not (self.kind or self.machine or self.wood or self.family):
            raise InputError(
                "A lesson that fits everything is heard by nobody. Say at which stage, machine, wood or pattern.",
                "kind",
            )

    def fits(self, plan: Plan, stage: Stage) -> bool:
        """Whether it is said at a stage of a plan."""
        family = plan.pattern.family if plan.pattern else ""
        return (
            self.kind in ("", stage.kind)
            and self.machine in ("", stage.machine)
            and self.family in ("", family)
            and (not self.wood or self.wood in plan.strip_woods)
        )

    def at(self, plan: Plan) -> str | None:
        """The stage at which it is said, the first that fits; None where none does. It is said once a board."""
        return next((stage.id for stage in plan.stages if not stage.skip and self.fits(plan, stage)), None)


def choices(plan: Plan, stage: Stage) -> Iterator[tuple[str, str]]:
    """What a lesson learnt at a stage may hang on: the parameter of ``When``, and its value there."""
    yield "kind", stage.kind
    if stage.machine:
        yield "machine", stage.machine
    yield from (("wood", wood) for wood in plan.strip_woods)
    if plan.pattern:
        yield "family", plan.pattern.family
