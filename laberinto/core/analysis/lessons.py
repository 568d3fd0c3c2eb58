"""Lessons: what one board taught, and at which step of the next it is said again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..errors import InputError
from ..plan.model import Plan
from ..stages import Stage

ALIKE = 3.0
"""Boards whose thickness differs by no more than this, mm, are equally thick."""


@dataclass(frozen=True, slots=True)
class When:
    """All of this has to be so: the kind of stage, the machine it runs through, a wood of the board, the pattern it was
    made from, how thick it becomes (mm, about), for whom it is. What is empty does not matter."""

    kind: str = ""
    machine: str = ""
    wood: str = ""
    family: str = ""
    thickness: float | None = None
    order: str = ""

    def __post_init__(self) -> None:
        if not (self.kind or self.machine or self.wood or self.family or self.thickness or self.order):
            raise InputError(
                "A lesson that fits everything is heard by nobody. Say at which stage, machine, wood, pattern, "
                "thickness or order.",
                "kind",
            )

    def fits(self, plan: Plan, stage: Stage, thickness: float | None = None, order: str = "") -> bool:
        """Whether it is said at a stage of a plan that becomes so thick (mm) and is for somebody."""
        family = plan.pattern.family if plan.pattern else ""
        return (
            self.kind in ("", stage.kind)
            and self.machine in ("", stage.machine)
            and self.family in ("", family)
            and (not self.wood or self.wood in plan.strip_woods)
            and (self.thickness is None or (thickness is not None and abs(thickness - self.thickness) <= ALIKE))
            and self.order.casefold() in ("", order.casefold())
        )

    def at(self, plan: Plan, thickness: float | None = None, order: str = "") -> str | None:
        """The stage at which it is said, the first that fits; None where none does. It is said once a board."""
        stages = (stage for stage in plan.stages if not stage.skip)
        return next((stage.id for stage in stages if self.fits(plan, stage, thickness, order)), None)


def choices(plan: Plan, stage: Stage, thickness: float | None = None, order: str = "") -> Iterator[tuple[str, str]]:
    """What a lesson learnt at a stage may hang on: the parameter of ``When``, and its value there."""
    yield "kind", stage.kind
    if stage.machine:
        yield "machine", stage.machine
    yield from (("wood", wood) for wood in plan.strip_woods)
    if plan.pattern:
        yield "family", plan.pattern.family
    if thickness is not None:
        yield "thickness", f"{thickness:.1f}"
    if order:
        yield "order", order
