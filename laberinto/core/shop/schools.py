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
        return next(iter(self.answers))


SCHOOLS: dict[str, School] = {
    "end_grain_planing": School(
        "Flatten end grain in the thickness planer?",
        {
            "never": ("never", "Boards have burst in planers; a drum, a sled or a belt does it without that risk."),
            "with-care": (
                "yes, with glued-on ends",
                "Quick and flat, with sacrificial ends, glue cured over 12 hours, 0.2 mm a pass and a spiral head.",
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
