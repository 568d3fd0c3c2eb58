"""Where good makers disagree: the question, the answers, and what speaks for each. The first answer is the default."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class School:
    """A question, and for each answer its words and its reason."""

    question: str
    answers: dict[str, tuple[str, str]]

    @property
    def default(self) -> str:
        """The answer of a shop that has not said."""
        return next(iter(self.answers))


SCHOOLS: dict[str, School] = {
    "end_grain_planing": School(
        "Flatten end grain in the thickness planer?",
        {
            "never": ("never", "Boards have burst in planers; a drum, a sled or a belt does it without that risk."),
            "with-care": (
                "yes, with glued-on ends",
                "Quick and flat, with sacrificial ends, glue cured over 12 hours, the lightest passes, a spiral head.",
            ),
        },
    ),
    "same_wood": School(
        "May one wood touch itself?",
        {
            "allowed": ("now and then", "A repeat here and there looks grown rather than drawn."),
            "never": ("never", "The pattern reads clearest where every joint is a change of wood."),
        },
    ),
    "last_grit": School(
        "Last grit before oil?",
        {
            "220": ("180 to 220", "Open enough for oil to go in."),
            "400": ("320 to 400", "Smooth as silk, at the cost of less oil taken up."),
        },
    ),
    "raise_grain": School(
        "Raise the grain?",
        {
            "once": ("once, before the last grit", "Wet, dry and sanded once more, the board stays smooth in use."),
            "every": ("between every grit", "Each grit takes down what the one before raised; slower, and silkier."),
            "none": ("not at all", "Oil raises little; nothing is wetted that is to be dry."),
        },
    ),
    "finish": School(
        "What finish?",
        {
            "mineral": ("mineral oil, then wax paste", "Never hardens or goes rancid, and is renewed in minutes."),
            "tung": ("a curing oil, then wax", "Hardens in the wood and lasts; slow, and its rags heat up."),
            "wax-oil": ("hard wax oil alone", "Oil and wax in one; it cures, and stands up to water best."),
        },
    ),
    "after_oil": School(
        "After the oil?",
        {
            "wax": ("wax at once", "What the oil raised, wax smooths over."),
            "light-grit": ("a light last grit, then wax", "Takes off the last raised fibres before wax seals them in."),
        },
    ),
    "tear_out": School(
        "Against tear-out where a tool leaves end grain?",
        {
            "strip": ("a sacrificial strip", "The strip tears instead of the board, and is cut off after."),
            "chamfer": ("a chamfer all round", "No fibre stands at the edge to be torn; nothing is glued on."),
            "back-cut": ("cut it back later", "Leave the edges oversize and saw the torn part off."),
        },
    ),
    "slicing_saw": School(
        "Slice with",
        {
            "sled": ("a table saw and sled", "Clean faces and a stop that repeats to a tenth."),
            "band": ("a band saw", "Half the kerf, so more slices; saw marks to flatten away."),
            "track": ("a mitre or track saw", "The panel lies still; the stop and the support need care."),
        },
    ),
    "spread": School(
        "Spread glue on",
        {
            "both": ("both faces", "Wets out for certain, end grain above all."),
            "one": ("one face", "Quicker, with less squeeze-out, if the spread is even."),
        },
    ),
    "feet": School(
        "Feet?",
        {
            "none": ("none, two-sided", "Both faces can be used."),
            "four": ("four, screwed on", "Air reaches the underside, and the board does not slide."),
        },
    ),
}  # fmt: skip
"""Every school by the shop's field that holds the answer."""
