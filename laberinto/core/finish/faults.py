"""Faults that show on a board, and the ways to mend each: what to do, and what it stains or costs."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True, slots=True)
class Way:
    """One way to mend a fault, in a sentence, and what speaks against it; "" where nothing does."""

    do: str
    but: str = ""


class Fault(StrEnum):
    """What is found on a face or an edge."""

    HAIRLINE = "hairline"
    VOID = "void"
    KNOT = "knot"
    END_CHECK = "end-check"
    CHIP = "chip"
    GLUE_SPOT = "glue-spot"
    BURN = "burn"
    SCRATCH = "scratch"
    OPEN_JOINT = "open-joint"

    @property
    def label(self) -> str:
        return {
            "hairline": "hairline gap", "void": "void", "knot": "knot", "end-check": "end check", "chip": "chip",
            "glue-spot": "glue spot", "burn": "burn", "scratch": "scratch or machine mark", "open-joint": "open joint",
        }[self.value]  # fmt: skip

    @property
    def ways(self) -> tuple[Way, ...]:
        """The ways to mend it, the gentlest first."""
        return _WAYS[self]


_STAINS = "stains end grain round it; seal that with a drop of finish first, and try it on an offcut"

_WAYS: dict[Fault, tuple[Way, ...]] = {
    Fault.HAIRLINE: (
        Way("Sand with a bead of PVA glue in it, so that its own dust fills it.", "shows as a pale line after oil"),
        Way("Let thin glue run in and wipe at once.", _STAINS),
        Way("Leave it: oil and wax close what a hair fits into."),
    ),
    Fault.VOID: (
        Way("Press in a stiff paste of dust of the same wood and PVA glue, proud; sand when hard.",
            "shrinks, often wants a second filling, and stays darker under oil"),
        Way("Drill it clean and glue in an end-grain plug, its rings turned like those round it."),
        Way("Fill with clear or black epoxy.", "hard under a knife, and needs its cure time before food"),
    ),
    Fault.KNOT: (
        Way("If it is tight, seal its rim with thin glue and leave it.", _STAINS),
        Way("If it is loose, press it out and plug the hole with end grain."),
        Way("Turn that strip, or cut it out before the glue-up.", "only as long as nothing is glued"),
    ),
    Fault.END_CHECK: (
        Way("Saw back beyond its end, and look again for a shorter one beside it."),
        Way("Let thin glue run in from both faces and clamp it shut.", _STAINS),
        Way("Glue in a thin wedge of the same wood, fibres upright."),
    ),
    Fault.CHIP: (
        Way("Glue the chip itself back, with tape over it."),
        Way("Chamfer or round the edge over until it is gone.", "all edges alike, or it shows"),
        Way("Trim that side again.", "the board gets smaller"),
    ),
    Fault.GLUE_SPOT: (Way("Scrape it off and sand from the grit before: oil does not go in under glue."),),
    Fault.BURN: (
        Way("Scrape, then sand from a coarse grit; a burn goes deep in end grain."),
        Way("Flatten that face once more.", "the board gets thinner"),
    ),
    Fault.SCRATCH: (
        Way("Go back to the grit that takes it out, over the whole face, and up the ladder again."),
    ),
    Fault.OPEN_JOINT: (
        Way("Work glue in from both faces, and clamp it again."),
        Way("Saw the board apart along the joint, joint both edges and glue anew.", "a kerf is lost"),
    ),
}  # fmt: skip
