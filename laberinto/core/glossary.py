"""The words of the trade, each in one sentence. Whatever screen uses one explains it from here."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache


@dataclass(frozen=True, slots=True)
class Word:
    """A word: what it means in a sentence, the part of the work it belongs to, and the other forms it takes."""

    term: str
    means: str
    group: str
    forms: tuple[str, ...] = ()

    @property
    def key(self) -> str:
        """As it stands in an address."""
        return self.term.replace(" ", "-")


def _group(name: str, *words: tuple[str, str] | tuple[str, str, str]) -> Iterator[Word]:
    for term, means, *forms in words:
        yield Word(term, means, name, tuple(forms[0].split(", ")) if forms else ())


WORDS: tuple[Word, ...] = (
    *_group(
        "Wood",
        ("end grain", "The surface across the fibres, where they stand upright like bristles: a knife goes between "
         "them, so the face heals and the edge stays sharp longer."),
        ("edge grain", "The narrow side of a board with the fibres along it; strips glued on edge show it."),
        ("long grain", "Any surface along the fibres; it glues strongest, long grain to long grain."),
        ("quarter-sawn", "Sawn so that the rings stand upright in the strip: it moves least in width."),
        ("heartwood", "The older wood round the pith, dark in many species."),
        ("sapwood", "The young wood under the bark, mostly pale; beside heartwood it reads as a flaw."),
        ("stave", "A bent board of a barrel: the shorter it is cut, the more of its thickness is left once it is flat.",
         "staves"),
        ("wane", "Where a board's edge is the outside of the tree, with bark or without: it is narrower on one face."),
        ("heart", "The middle of the tree, which checks from there outwards as it dries: it is ripped out."),
        ("movement", "What wood gains and loses in size as the air gets damper or drier, almost all of it across the "
         "fibres."),
    ),
    *_group(
        "Pieces",
        ("strip", "A long piece of one wood, milled to width and thickness; strips side by side make a panel.",
         "strips"),
        ("panel", "Strips glued side by side, planed flat, before it is cut into slices.", "panels"),
        ("slice", "A crosscut piece of a panel. Stood up on its sawn side it shows end grain and becomes a row.",
         "slices"),
        ("row", "A slice that stands up: one line of end-grain blocks across the board.", "rows"),
        ("face", "The side that is cut on; the other is the underside."),
        ("offcut", "What is left beside the pieces wanted, large enough to be used.", "offcuts"),
        ("reference face", "The one flat side from which everything else is measured and squared.", "reference edge"),
        ("mortar", "Thin strips or slices of another wood between larger ones, as between bricks."),
        ("border", "Pieces round a finished core that frame it; of end grain, so that it moves with the core.",
         "borders"),
        ("inlay", "A strip let into a channel in the face.", "inlays"),
    ),
    *_group(
        "Cuts",
        ("kerf", "The wood that a saw cut turns into dust: as wide as the blade.", "kerfs"),
        ("rip", "Saw along the fibres.", "ripped, ripping"),
        ("crosscut", "Saw across the fibres.", "crosscuts"),
        ("re-saw", "Saw a piece through its thickness into thinner ones.", "re-sawn, re-sawing"),
        ("bevel", "A cut with the blade tilted from upright.", "bevels, bevelled"),
        ("mitre", "A cut with the wood turned to the blade, mostly so that two pieces meet at half their angle.",
         "mitres, mitred"),
        ("skew", "A cut at a slant across the face of the wood.", "skewed"),
        ("squaring cut", "The first cut on a panel: it takes little, and gives the end from which slices are stopped."),
        ("sled", "A board with a fence that slides over the saw's table and carries the wood past the blade."),
        ("stop block", "A block clamped where the wood ends, so that each piece comes out the same length.", "stop"),
        ("trim", "Cut the edges of a glued board square and to size.", "trimmed"),
        ("tear-out", "Fibres ripped out where the blade leaves the wood; a strip behind the cut holds them."),
        ("snipe", "A hollow that a planer leaves at the ends of a board."),
    ),
    *_group(
        "Glue",
        ("glue-up", "Spreading glue, setting pieces together and clamping them, all within the open time.",
         "glue-ups"),
        ("joint", "Where two pieces meet, glued. As a verb: make an edge straight and square.", "joints"),
        ("dry fit", "Setting everything in the clamps once without glue, to see that it closes."),
        ("dry joint", "A joint that gets no glue, so that what is clamped together comes apart in pieces.",
         "dry joints"),
        ("caul", "A straight stick clamped across a glue-up that holds it flat.", "cauls"),
        ("open time", "How long glue may lie open before it skins and no longer holds."),
        ("squeeze-out", "Glue that the clamps press out of a joint: a thin line all along is right."),
        ("cure", "The time until glue or oil has its full strength, long after it can be touched.", "cured"),
        ("spline", "A thin strip glued across a joint that holds it.", "splines"),
    ),
    *_group(
        "Shape",
        ("flatten", "Take off what stands high until a face is plane: planer, drum sander, sled or hand plane.",
         "flattening"),
        ("drum sander", "A machine that draws the board under a drum with abrasive; it may take end grain."),
        ("chamfer", "An edge broken at a slant."),
        ("round-over", "An edge rounded to part of a circle."),
        ("juice groove", "A channel round the face that catches what runs off.", "groove, grooves"),
        ("well", "A deeper hollow in a corner into which the groove drains."),
        ("cove", "A hollow along an edge under which fingers reach.", "coves"),
        ("rabbet", "A step cut along an edge.", "rabbets"),
        ("hollow", "A dish or trough in the face for a curved knife.", "hollowed"),
        ("chord", "The straight line across a circle; rows cut to their chord save wood in a round board.", "chords"),
    ),
    *_group(
        "Finish",
        ("grit", "How coarse an abrasive is: the higher, the finer. None is skipped.", "grits"),
        ("raise the grain", "Wet the wood and let it dry, so that fibres that would stand up later do so now and can "
         "be sanded off.", "raised grain"),
        ("drip dry", "Leave the board on points after oil until no more comes out."),
        ("wax paste", "Oil and wax melted together, rubbed in and buffed: it slows water down."),
    ),
)  # fmt: skip
"""By the part of the work where they are met first."""

PLAIN = frozenset({"face", "well", "row"})
"""Words that mean other things too; they are explained on their page, and left alone in a sentence."""

BY_KEY: dict[str, Word] = {word.key: word for word in WORDS}


@cache
def _forms() -> tuple[re.Pattern[str], dict[str, Word]]:
    by_form = {form: word for word in WORDS if word.key not in PLAIN for form in (word.term, *word.forms)}
    longest_first = sorted(by_form, key=len, reverse=True)
    pattern = rf"(?<![\w-])(?:{'|'.join(map(re.escape, longest_first))})(?![\w-])"
    return re.compile(pattern, re.IGNORECASE), by_form


@lru_cache(maxsize=2048)
def found_in(text: str) -> tuple[tuple[int, int, Word], ...]:
    """Where words of the trade stand in a text: from, to, and which."""
    pattern, by_form = _forms()
    return tuple((match.start(), match.end(), by_form[match[0].lower()]) for match in pattern.finditer(text))
