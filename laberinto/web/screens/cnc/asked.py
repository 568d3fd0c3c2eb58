"""What is asked of the machine: it all stands in the address, so that nothing is lost when the page is loaded again."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError
from werkzeug.datastructures import MultiDict

from laberinto.core.cnc.job import CLEAR, Setting
from laberinto.core.cnc.machine import Bed, Clamp
from laberinto.core.cnc.program import Program, program, stages, usual
from laberinto.core.cnc.tools import USUAL, Tool
from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import Side
from laberinto.core.plan.simulate import Simulation
from laberinto.core.shop import Shop
from laberinto.core.shop.guides import CutWay
from laberinto.core.units import Lengths, parse_length
from laberinto.core.validation import explain

from ...app import present

SIDES = {"top": Side.TOP, "bottom": Side.BOTTOM}

CORNERS = ("far_left", "far_right", "near_left", "near_right")

MOST_CLAMPS = 20

IN = 40.0
"""From the end of the travel to the board, mm, so that a tool can run out over its edge."""

TOOLS = "cnc_tools"
"""Under which preference the tool table is kept."""

MOST_TOOLS = 24


@dataclass(frozen=True, slots=True)
class Asked:
    """A program that is asked for: which side is up, which stages, what was typed, and what is wrong, by field."""

    side: str
    chosen: tuple[str, ...]
    typed: Mapping[str, str]
    errors: Mapping[str, str]
    clamps: tuple[Clamp, ...]
    given: Mapping[str, Any]
    """What ``program`` makes it from, besides the board."""
    made: Program | None


def asked(sim: Simulation, form: MultiDict[str, str]) -> Asked:
    """Read from an address or a form. Where nothing is chosen yet, what is most likely done from this side is."""
    side = form.get("side", "top")
    side = side if side in SIDES else "top"
    there = [stage.id for stage in stages(sim, SIDES[side])]
    first = tuple(stage.id for stage in usual(sim, SIDES[side]))
    # another side was chosen: what was ticked is of the other
    ticked = tuple(name for name in form.getlist("stage") if name in there)
    chosen = ticked if "asked" in form and (ticked or form.get("was") == side) else first
    names = ("text", "clamps", *CORNERS)
    typed = {name: form.get(name, "").strip() for name in names}
    shop, how, errors = present.shop(), present.lengths(), dict[str, str]()
    heights: tuple[float, ...] = ()
    clamps: tuple[Clamp, ...] = ()
    try:
        heights = _heights(typed, how)
        clamps = _clamps(typed["clamps"], how)
    except InputError as error:
        errors[error.field] = error.say(how)
    made = None
    given: dict[str, Any] = {
        "chosen": chosen, "side": SIDES[side], "tools": tools(), "setting": setting(shop, clamps), "heights": heights,
        "text": typed["text"][:40], "capital": shop.capital,
    }  # fmt: skip
    if not errors and there:
        try:
            made = program(sim, **given)
        except InputError as error:
            errors[error.field or "stage"] = error.say(how)
    return Asked(side, chosen, typed, errors, clamps, given, made)


def _heights(typed: Mapping[str, str], how: Lengths) -> tuple[float, ...]:
    given = [typed[name] for name in CORNERS]
    if not any(given):
        return ()
    if not all(given):
        empty = next(name for name in CORNERS if not typed[name])
        raise InputError("Give all four corners, or none. The lowest one is 0.", empty)
    return tuple(parse_length(typed[name], how.system, zero=True, most=30, field=name) for name in CORNERS)


def _clamps(text: str, how: Lengths) -> tuple[Clamp, ...]:
    out = []
    for part in (part for part in text.split(";") if part.strip()):
        values = [
            parse_length(word, how.system, zero=True, most=3000, field="clamps")
            for word in re.split(r"\s*[×x,]\s*", part.strip())
        ]
        if len(values) != 5:
            raise InputError(
                f"“{part.strip()[:40]}” is no clamp. Give five lengths: from the left × from the front × width × "
                "length × height over the face, such as 0 × 80 × 25 × 40 × 15; several with ; between.", "clamps",
            )  # fmt: skip
        left, low, wide, long, high = values
        out.append(Clamp(left, low, left + wide, low + long, high))
    if len(out) > MOST_CLAMPS:
        raise InputError(f"At most {MOST_CLAMPS} clamps are drawn.", "clamps")
    return tuple(out)


def setting(shop: Shop, clamps: Sequence[Clamp]) -> Setting:
    """How this shop's machine is run: through the air over all that is clamped on."""
    return Setting(
        spindle=shop.cnc_spindle, fastest=shop.cnc_feed * 1000, climb=shop.cnc_way is CutWay.CLIMB, tabs=shop.cnc_tabs,
        clear=CLEAR + max((clamp.height for clamp in clamps), default=0.0),
    )  # fmt: skip


def bed(shop: Shop) -> Bed:
    """How far it travels: the board's corner lies ``IN`` from the near left end of that."""
    return Bed(x=(-IN, shop.cnc_x - IN), y=(-IN, shop.cnc_y - IN), acceleration=shop.cnc_acceleration)


def tools() -> tuple[Tool, ...]:
    """The tool table."""
    kept = present.store().preferences().get(TOOLS)
    try:
        return tuple(Tool(**row) for row in json.loads(kept)) if kept else USUAL
    except (ValueError, TypeError):  # kept by another version
        return USUAL


def keep_tools(rows: Sequence[Mapping[str, Any]]) -> None:
    """Keep the table. Raises InputError for the row and field that is wrong; then nothing is kept."""
    table: list[Tool] = []
    for at, row in enumerate(rows):
        try:
            table.append(Tool.model_validate(row))
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            field = str(first["loc"][0]) if first["loc"] else "corner"
            title = Tool.model_fields[field].title
            raise InputError(f"Tool {row['number']}: {title} {explain(first)}.", f"{field}-{at}") from None
    numbers = [tool.number for tool in table]
    twice = next((at for at, number in enumerate(numbers) if number in numbers[:at]), None)
    if twice is not None:
        raise InputError(f"There are two tools {numbers[twice]}; each needs a number of its own.", f"number-{twice}")
    if not table or len(table) > MOST_TOOLS:
        raise InputError(f"A table has 1 to {MOST_TOOLS} tools.", "number-0")
    present.store().prefer(TOOLS, json.dumps([tool.model_dump(mode="json") for tool in table]))
