"""Steps that move no wood: filling, sanding, oil, wax and rest."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

from ..finish import oiling
from ..finish.care import cure_days
from ..finish.grits import ladder
from ..stages import Cove, Feet, Fill, Groove, Hollow, Oil, Rest, Sand, Stage, Wax
from ..stages.groove import Bit
from ..stages.pause import Filler
from ..units import plural
from . import cautions as say
from .model import Context, Map, Step

ROUND, UNDER = 20.0, 10.0
"""Room round a board in its bath, and below and above it, mm."""


def sand(c: Context) -> Iterator[Step]:
    """Steps through the grits, and of raising the grain."""
    stage = c.result.stage
    assert isinstance(stage, Sand)
    lines = [
        "Grits "
        + ", ".join(str(grit) for grit in stage.grits)
        + ", none skipped. Pencil a scribble; when it is gone, the grit is done.",
        "Along, on both diagonals, then across, and dust it between grits: a crumb of the last one scratches. Keep moving; "
        "heat glazes end grain and opens joints.",
    ]
    if stage.raise_grain and c.shop.raise_grain == "every":
        lines.append("After every grit wet the wood and let it dry before the next.")
    elif stage.raise_grain:
        lines.append(f"Before the last grit wet the wood, let it dry, and sand once more with {stage.grits[-1]}.")
    lines.append(_each_grit(c, stage))
    lines.append(_by_hand(c))
    yield Step(f"{stage.id}.sand", stage.id, "Sand through the grits", tuple(lines), (say.DUST,))


def _each_grit(c: Context, stage: Sand) -> str:
    """Minutes and sheets, grit by grit."""
    area = oiling.area(c.sim)
    rungs = (
        f"{rung.grit}: {max(round(rung.minutes(area, c.shop)), 1)} min, {plural(rung.sheets(area, c.shop), 'sheet')}"
        for rung in ladder(stage.grits)
    )
    return f"Both faces and the edges are {c.lengths.amount(area, 'dm²')}. {'; '.join(rungs)}."


def _by_hand(c: Context) -> str:
    """What no machine gets into, and the former for it."""
    radii: tuple[tuple[type[Stage], str, Callable[[Any], float | None]], ...] = (
        (Groove, "groove", lambda one: one.width / 2 if one.bit is Bit.ROUND else None), (Cove, "finger coves", lambda one: one.radius),
        (Hollow, "hollow", lambda one: one.radius),
    )  # fmt: skip
    done = [r.stage for r in c.sim.results[: c.sim.plan.index(c.result.stage.id)] if not r.stage.skip]
    found = [
        f"the {name} with a former of {c.mm(by)} radius"
        for kind, name, radius in radii
        for one in done
        if isinstance(one, kind) and (by := radius(one)) is not None
    ]
    return f"By hand, along the fibres of each edge: chamfers and edges{', ' if found else ''}{', '.join(found)}."


def oil(c: Context) -> Iterator[Step]:
    """Steps of oiling, round by round."""
    stage = c.result.stage
    assert isinstance(stage, Oil)
    amounts = oiling.oil_litres(c.sim, stage.rounds)
    feet = any(isinstance(one, Feet) and not one.skip for one in c.sim.plan.stages[: c.sim.plan.index(stage.id)])
    warnings = ((say.OILY_RAGS,) if stage.oil.dries else ()) + ((say.NUT,) if stage.oil.nut else ())
    yield Step(
        f"{stage.id}.dust", stage.id, "Blow the dust off",
        ("Every pore and joint; oil over dust stays for good. Check both faces against the light.",), (say.DUST,),
    )  # fmt: skip
    for number in range(1, stage.rounds + 1):
        last = number == stage.rounds and stage.oil.dries
        cured = (f"It cures for about {stage.oil.cure_days} days before it meets food.",) if last else ()
        takes = c.lengths.amount(amounts[number - 1] * 1000, "ml")
        yield Step(
            f"{stage.id}.round-{number}", stage.id, f"Oil, round {number} of {stage.rounds}",
            (
                *(_bath(c, stage) if stage.bath else (
                    f"Underside first: flood it with {stage.oil.label}, keep it wet for {_soaks(c.shop.soak)}, wipe off "
                    "what stays.",
                )),
                *(("Screw the feet on now, by hand, so that it stands clear of the bench.",) if feet and number == 1 else ()),
                "Stand it on edge to drip dry." if stage.bath else
                "Then the face and the edges, just so: never one face only. Stand it on edge to drip dry.",
                f"By the pores of these woods the round takes about {takes}. Weigh it before and after: the log says when "
                "another brings nothing.",
                *cured,
            ),
            warnings, wait_hours=stage.hours, timers=(("Oil soaks in", c.shop.soak),),
        )  # fmt: skip


def _bath(c: Context, stage: Oil) -> tuple[str, str]:
    """The vessel, how much goes in, and how the board lies in it."""
    width, length, thickness = c.result.size
    wide, long = width + 2 * ROUND, length + 2 * ROUND
    litres = (wide * long * (thickness + 2 * UNDER) - width * length * thickness) / 1e6
    return (
        f"A flat vessel of at least {c.lengths.show_size(wide, long)} inside; {c.lengths.amount(litres * 1000, 'ml')} of "
        f"{stage.oil.label} cover the board by {c.lengths.show(UNDER)}.",
        f"Lay it in on spacers {c.lengths.show(UNDER)} high with a weight on top, leave it for {_soaks(c.shop.soak)}, take "
        "it out and wipe off what stays wet.",
    )


def _soaks(minutes: float) -> str:
    return plural(round(minutes / 60), "hour") if minutes >= 120 else plural(round(minutes), "minute")


def _paste(c: Context, parts_oil: float) -> str:
    """How much for this board, and what goes into a jar."""
    grams, jar = oiling.wax_litres(c.sim) * oiling.PASTE * 1000, c.shop.jar
    show, wax_ = c.lengths.amount, 1 / (parts_oil + 1)
    return (
        f"Paste of {parts_oil:g} parts oil to 1 part wax by weight: for a jar of {show(jar, 'g')} melt {show(jar * wax_, 'g')} "
        f"of wax into {show(jar * (1 - wax_), 'g')} of oil. This board takes about {show(grams, 'g')}."
    )


def wax(c: Context) -> Iterator[Step]:
    """Steps of waxing and buffing."""
    stage = c.result.stage
    assert isinstance(stage, Wax)
    yield Step(
        f"{stage.id}.wax", stage.id, "Wax and buff",
        (
            *(("First go over it lightly with 320 and wipe it clean.",) if c.shop.after_oil == "light-grit" else ()),
            _paste(c, stage.parts_oil),
            *(("Melt it in with warm air, never a flame, until the wood takes no more.",) if stage.hot else ()),
            f"Underside first, then the face: rub in thin, leave {_soaks(stage.hours * 60)}, wipe, buff by hand or machine.",
            *_until_food(c),
        ),
        (say.WAX,), map=Map.FACE, timers=(("Wax is left on", stage.hours * 60),),
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
    for number in range(1, stage.fillings + 1):
        again = ("What has shrunk since is filled once more.",) if number > 1 else ()
        yield Step(
            f"{stage.id}.fill" if number == 1 else f"{stage.id}.fill-{number}", stage.id,
            f"Fill{' again' if again else ''}: {stage.filler.label}",
            (*again, how, "Fill before sanding, and look over both faces and all edges."),
            (say.FUMES,), wait_hours=stage.hours,
        )  # fmt: skip
