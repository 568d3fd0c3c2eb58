"""What a check says."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..units import Lengths


@dataclass(frozen=True, slots=True)
class Show:
    """Writes figures as this maker reads them; called with one, a length in mm."""

    lengths: Lengths

    def __call__(self, mm: float) -> str:
        return self.lengths.show(mm)

    def warmth(self, celsius: float) -> str:
        """A temperature in °C."""
        return self.lengths.warmth(celsius)


class Severity(StrEnum):
    """How much it matters: stop before you cut, take care, or just know."""

    STOP = "stop"
    CAUTION = "caution"
    NOTE = "note"


SUB_PANELS = "sub-panels"


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change that settles a finding: a stage's parameter, its new value (mm for a length), and what a button says.
    The field SUB_PANELS stands for parting the panel into parts no wider than the value."""

    stage: str
    field: str
    value: float | str
    words: str


@dataclass(frozen=True, slots=True)
class Check:
    """One finding: where (stage id), what and why in a sentence, what to do about it, and where one value settles it
    the remedy, or two to choose from. ``about`` names what at the stage it is about, where a rule may find several things
    there: a wood, a piece. ``rule`` is the name of the rule that spoke, ``nth`` how many before it are about the same;
    ``let_stand`` is the reason that someone gave for leaving it so."""

    severity: Severity
    stage: str
    why: str
    fix: str
    remedy: Remedy | None = None
    rule: str = ""
    other: Remedy | None = None
    let_stand: str = ""
    about: str = ""
    nth: int = 0

    @property
    def remedies(self) -> tuple[Remedy, ...]:
        """The ways to settle it by one press, the better one first."""
        return tuple(remedy for remedy in (self.remedy, self.other) if remedy)

    def remedy_at(self, which: str) -> Remedy | None:
        """The remedy of this number, as a form sends it; the first where the number is none, None where there is no
        remedy."""
        return self.remedies[1 if which == "1" and self.other else 0] if self.remedies else None

    @property
    def key(self) -> str:
        """Names the finding for as long as the plan gives rise to it."""
        parts = [self.rule, self.stage, self.about, str(self.nth + 1) if self.nth else ""]
        return ".".join(part for part in parts if part)
