"""How a finished board is cared for, by its finish and woods."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta
from enum import StrEnum

from ..plan.model import Plan
from ..plan.simulate import Simulation
from ..stages import Oil, OilKind, Wax
from ..woods import CAUTION_TEXT, Caution

TOLD = (Caution.NOT_UNDER_FOOD, Caution.DOUBTED_UNDER_FOOD, Caution.ALLERGY, Caution.BLEEDS)
"""What whoever uses the board is told of its woods."""

MONTHS = {OilKind.MINERAL: 1}
"""How often it is oiled again; what hardens lasts half a year."""

HALF_A_YEAR = 6


class Care(StrEnum):
    """What is done for a board after it has left the bench, or befalls it."""

    OILED = "oiled"
    SANDED = "sanded"
    CRACKED = "cracked"
    REPAIRED = "repaired"

    @property
    def label(self) -> str:
        return {
            "oiled": "oiled again", "sanded": "sanded and oiled anew", "cracked": "a crack", "repaired": "repaired",
        }[self.value]  # fmt: skip

    @property
    def oils(self) -> bool:
        """Whether it has fresh oil after that."""
        return self in (Care.OILED, Care.SANDED)

    @property
    def key(self) -> str:
        """What its notes stand under; no step of a plan goes by that."""
        return f"-care.{self.value}"


MONTH = 30.44
"""Days of a month, on average."""


def again_at(plan: Plan, oiled: Iterable[datetime]) -> datetime | None:
    """When a board is to be oiled again: so many months after it last was; None where it never was."""
    last = max(oiled, default=None)
    return last + timedelta(days=MONTH * again_months(plan)) if last else None


REPAIRS = (
    ("A hairline along a joint",
     "Leave it, oil it, look again in the next season; or let thin glue run in from both faces."),
    ("A crack through one block, or a joint half open",
     "Worth mending: glue worked in from both faces, clamped a night, sanded and oiled anew."),
    ("A crack right through the board",
     "Worth it while the wood is sound: saw it apart along the joint, joint both edges, glue it again. It comes back a "
     "kerf and a shaving narrower."),
    ("A worn dip, deep knife marks, a burn",
     "Worth it as long as it stays thick enough: flatten both faces alike, sand, oil."),
    ("Warped after it lay in water",
     "Let it dry on edge for weeks first; what is left is flattened away, or it lives on its other face."),
    ("Black with mould, or rotten", "Not worth it for food. Burn it, or make something of what is sound."),
)  # fmt: skip
"""What befalls a board, and which repairs are worth it."""


def oils_of(plan: Plan) -> list[OilKind]:
    """What it is oiled with, in order."""
    return [stage.oil for stage in plan.stages if isinstance(stage, Oil) and not stage.skip]


def cure_days(plan: Plan) -> int:
    """Days from the last coat until it may meet food."""
    return max((oil.cure_days for oil in oils_of(plan)), default=1)


def again_months(plan: Plan) -> int:
    """After how many months it is oiled again, whatever it looks like."""
    return min((MONTHS.get(oil, HALF_A_YEAR) for oil in oils_of(plan)), default=MONTHS[OilKind.MINERAL])


def care(sim: Simulation) -> tuple[str, ...]:
    """What stands on the card that goes with the board."""
    plan = sim.plan
    oils, months = oils_of(plan), again_months(plan)
    waxed = any(isinstance(stage, Wax) and not stage.skip for stage in plan.stages)
    with_ = oils[-1].label if oils else OilKind.MINERAL.label
    often = "every month at first" if months == 1 else f"every {months} months"
    lines = [
        "Wash it at once by hand, with little soap. Never soak it, never in the machine.",
        "Dry it, and stand it on edge so that air reaches both faces.",
        f"Oil it {often}, and whenever it looks pale and dry: {with_}{', then wax' if waxed else ''}, both faces "
        "alike. No cooking oil: it turns rancid.",
        "Against smell: salt and lemon, or vinegar in water; rinse and dry.",
        "A damp cloth under it keeps it from sliding.",
        "Knife marks and a worn dip can be sanded out and oiled anew. A crack that opens can be mended: bring it back.",
    ]
    if any(oil.nut for oil in oils):
        nuts = " and ".join(oil.label for oil in oils if oil.nut)
        lines.append(f"Finished with {nuts}, pressed from a nut: some are allergic.")
    if any(oil.dries for oil in oils):
        lines.append("Rags with this oil heat up by themselves: dry them flat outdoors or soak them in water.")
    return (*lines, *_woods(sim))


def _woods(sim: Simulation) -> list[str]:
    told = []
    for key in dict.fromkeys(strip.wood for strip in sim.strips):
        wood = sim.woods[key]
        told += [f"{wood.name}: {CAUTION_TEXT[caution]}." for caution in TOLD if caution in wood.cautions]
    return told
