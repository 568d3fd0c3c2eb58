"""Steps that move no wood: filling, sanding, oil, wax and rest."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..finish.care import cure_days
from ..stages import Fill, Oil, Rest, Sand, Wax
from ..stages.pause import Filler
from . import cautions as say
from .model import Context, Map, Step


def sand(c: Context) -> Iterator[Step]:
    """Steps through the grits, and of raising the grain."""
    stage = c.result.stage
    assert isinstance(stage, Sand)
    lines = [
        "Grits "
        + ", ".join(str(grit) for grit in stage.grits)
        + ", none skipped. Pencil a scribble; when it is gone, the grit is done.",
    ]
    if stage.raise_grain and c.shop.raise_grain == "every":
        lines.append("After every grit wet the wood and let it dry before the next.")
    elif stage.raise_grain:
        lines.append(f"Before the last grit wet the wood, let it dry, and sand once more with {stage.grits[-1]}.")
    yield Step(f"{stage.id}.sand", stage.id, "Sand through the grits", tuple(lines), (say.DUST,))


def oil(c: Context) -> Iterator[Step]:
    """Steps of oiling, round by round."""
    stage = c.result.stage
    assert isinstance(stage, Oil)
    warnings = ((say.OILY_RAGS,) if stage.oil.dries else ()) + ((say.NUT,) if stage.oil.nut else ())
    yield Step(
        f"{stage.id}.dust", stage.id, "Blow the dust off",
        ("Every pore and joint; oil over dust stays for good. Check both faces against the light.",), (say.DUST,),
    )  # fmt: skip
    for number in range(1, stage.rounds + 1):
        last = number == stage.rounds and stage.oil.dries
        cured = (f"It cures for about {stage.oil.cure_days} days before it meets food.",) if last else ()
        yield Step(
            f"{stage.id}.round-{number}", stage.id, f"Oil, round {number} of {stage.rounds}",
            (
                f"Underside first, then the face, then the edges: flood with {stage.oil.label} until no more goes in.",
                "Wipe off what stays wet and stand it on edge to drip dry. Never oil one face only.",
                *cured,
            ),
            warnings, wait_hours=stage.hours,
        )  # fmt: skip


def wax(c: Context) -> Iterator[Step]:
    """Steps of waxing and buffing."""
    stage = c.result.stage
    assert isinstance(stage, Wax)
    yield Step(
        f"{stage.id}.wax", stage.id, "Wax and buff",
        (
            *(("First go over it lightly with 320 and wipe it clean.",) if c.shop.after_oil == "light-grit" else ()),
            f"Paste of {stage.parts_oil:g} parts oil to 1 part wax by weight. Rub in thin all over, leave an hour, wipe, buff.",
            *_until_food(c),
        ),
        (say.WAX,), map=Map.FACE,
    )  # fmt: skip


def _until_food(c: Context) -> tuple[str, ...]:
    """How long the finish under the wax takes until the board may be used."""
    days = cure_days(c.sim.plan)
    return (
        f"Then let it {'rest a day' if days == 1 else f'cure: {days} days from the last coat of oil'} before it meets food.",
    )


def rest(c: Context) -> Iterator[Step]:
    """The step of leaving it alone."""
    stage = c.result.stage
    assert isinstance(stage, Rest)
    days = f"{stage.days:g} day{'s' if not math.isclose(stage.days, 1) else ''}"
    yield Step(
        f"{stage.id}.rest", stage.id, "Let it rest off the clamps",
        (f"{days}, standing on edge with air on both faces.", "Glue moisture leaves, and any warp shows before it is flattened away."),
        wait_hours=stage.days * 24,
    )  # fmt: skip


def fill(c: Context) -> Iterator[Step]:
    """The step of filling voids."""
    stage = c.result.stage
    assert isinstance(stage, Fill)
    how = {
        Filler.THIN_GLUE: "Let it run into hairlines and wipe at once: it stains end grain. Seal round them first with a drop of finish.",
        Filler.PASTE: "Dust of the same wood and glue to a stiff paste, pressed in proud; it shrinks.",
        Filler.PLUG: "Drill the void clean and glue in an end-grain plug with its rings turned like those round it.",
    }[stage.filler]
    yield Step(
        f"{stage.id}.fill", stage.id, f"Fill: {stage.filler.label}", (how, "Fill before sanding, and look over both faces and all edges."),
        (say.FUMES,), wait_hours=stage.hours,
    )  # fmt: skip
