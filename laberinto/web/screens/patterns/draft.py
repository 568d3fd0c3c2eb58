"""The new-board form as it is typed: what is wrong, and the board it would make."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from markupsafe import Markup

from laberinto.core.analysis.effort import Effort, effort
from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import Spec, parse, rounded, shown
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Family, Truth
from laberinto.core.patterns.palettes import Palette, palettes
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import Check, check
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Painted, Ringed

from ...app import bitmaps, present

NAME = Spec("name", "Name", "", "text", None, 80, False)

SHORE = (
    "Tidewrack", "Quay Wall", "Slipway", "Net Loft", "Shoal", "Ladder", "Breakwater", "Mooring", "Skerry", "Dunlin",
    "Groyne", "Kelp Line", "Ballast", "Lee Shore", "Bollard", "Sandbar",
)  # fmt: skip
"""Names offered for a new board."""


@dataclass(frozen=True, slots=True)
class Draft:
    """What stands in the form, and what comes of it."""

    family: type[Family]
    values: dict[str, str]
    errors: dict[str, str]
    made: Family | None = None
    sim: Simulation | None = None
    drawing: str = ""
    figures: Figures | None = None
    effort: Effort | None = None
    checks: tuple[Check, ...] = ()
    truths: tuple[Truth, ...] = ()

    @property
    def groups(self) -> list[tuple[str, list[Spec]]]:
        """The fields under their headings."""
        groups: dict[str, list[Spec]] = {"Woods": [], "Pattern": [], "If it must be": []}
        for spec in self.family.specs_for(self.values):
            number = spec.name.rpartition("-")[2] if "-" in spec.name else ""
            plain = "Woods" if spec.kind == "wood" else "If it must be" if spec.optional else "Pattern"
            groups.setdefault(f"Pass {number}" if number else plain, []).append(spec)
        return [(name, found) for name, found in groups.items() if found]

    def picture(self, heading: str) -> Markup:
        """The wood as it is at the end of what a heading describes, seen from its end."""
        stage = self.made.pictured().get(heading) if self.made else None
        if stage is None or self.sim is None:
            return Markup()
        face = face_of(self.sim[stage].pieces[0], Side.FRONT)
        finish = present.preference("finish")
        return Markup(
            thumbnail(face, Ringed(self.sim, f"p{stage}", finish), label=f"The panel after {heading.lower()}")
        )

    def size(self, heading: str) -> tuple[float, float, float] | None:
        """Width, length and thickness of that wood, mm."""
        stage = self.made.pictured().get(heading) if self.made else None
        return self.sim[stage].size if stage and self.sim else None

    @property
    def shortest(self) -> str:
        """The panel's length where the form leaves it open."""
        return present.lengths().show(float(getattr(self.made, "shortest_panel", 0.0)), unit=False) if self.made else ""


def offered() -> list[Palette]:
    """Palettes from the library, as woods look in the finish the shop prefers."""
    return _palettes(present.preference("finish"), LIBRARY.state)


@lru_cache(maxsize=4)
def _palettes(finish: str, _state: int) -> list[Palette]:
    return palettes(LIBRARY.values(), finish)


def chosen(name: str) -> Palette | None:
    """The palette of a name, or None for each family's own woods."""
    return next((palette for palette in offered() if palette.name == name), None)


def in_woods(family: type[Family], palette: Palette | None) -> Family:
    """The family as it starts, in a palette's woods."""
    woods = palette.woods() if palette else {}
    mine = {field: woods[field] for field in family.wood_fields() if field in woods}
    return family.of(**present.shop().for_a_pattern(), **mine)


def shown_plan(family: type[Family], palette: Palette | None) -> Plan:
    """The plan that a family's card shows. Raises LaberintoError where the shop's allowances leave none."""
    return in_woods(family, palette).plan(family.title)


def all_shown() -> list[Plan]:
    """The plans of all cards that show one, each in its own woods; the others say why not."""
    plans = []
    for family in FAMILIES.values():
        with suppress(LaberintoError):
            plans.append(shown_plan(family, None))
    return plans


def start(family: type[Family], palette: Palette | None) -> dict[str, str]:
    """The form as it is first shown."""
    how = present.lengths()
    made = _in_units(in_woods(family, palette), how)
    values = {spec.name: shown(spec, made.value(spec.name), how) for spec in family.specs()}
    values |= {spec.name: shown(spec, made.value(spec.name), how) for spec in family.specs_for(values)}
    values["name"] = free_name()
    return values


def _in_units(made: Family, how: Lengths) -> Family:
    """The family with lengths that a maker in these units would choose, where they make a board that keeps its promises
    too."""
    if how.system == "mm":
        return made
    asked = made.specs_for({spec.name: shown(spec, made.value(spec.name), how) for spec in made.specs()})
    lengths = {spec.name: rounded(spec, made.value(spec.name), how) for spec in asked}
    try:
        chosen = type(made).of(**{**made.model_dump(), **lengths})
        sim = simulate(chosen.plan(chosen.title))
        kept = all(truth.holds for truth in chosen.truths(sim))
    except LaberintoError:
        return made
    return chosen if kept else made


def free_name() -> str:
    """A name from the shore that no board has yet."""
    taken = {board.name for board in present.store().boards()}
    return next((name for name in SHORE if name not in taken), f"Board {len(taken) + 1}")


def read(family: type[Family], values: Mapping[str, str]) -> Draft:
    """Read the form, gathering every error, and simulate the board where there is none."""
    specs = (NAME, *family.specs_for(values))
    kept = {spec.name: values.get(spec.name, "") for spec in specs}
    for spec in specs[1:]:
        if "-" in spec.name and spec.name not in values:  # one more pass was asked for: it starts as it would
            how = present.lengths()
            kept[spec.name] = shown(spec, rounded(spec, family().value(spec.name), how), how)
    wrong: dict[str, str] = {}
    parsed: dict[str, Any] = {}
    for spec in specs:
        try:
            parsed[spec.name] = _value(spec, kept[spec.name])
        except InputError as error:
            wrong[spec.name] = error.say(present.lengths())
    if wrong:
        return Draft(family, kept, wrong)
    name = parsed.pop("name")
    try:
        made = family.of(**present.shop().for_a_pattern(), **parsed)
        sim = simulate(made.plan(name))
    except InputError as error:
        return Draft(family, kept, {error.field or "name": error.say(present.lengths())})
    except LaberintoError as error:
        return Draft(family, kept, {"": error.say(present.lengths())})
    skin = Painted(sim, "n", bitmaps.atlas_address, present.preference("finish"))
    drawing = draw_board(sim.board.pieces[0], skin, present.lengths(), label="The face this makes")
    return Draft(
        family, kept, {}, made, sim, Markup(drawing), figures(sim, present.shop()), effort(sim),
        tuple(check(sim, present.lengths(), present.shop())),
        made.truths(sim),
    )  # fmt: skip


def _value(spec: Spec, text: str) -> Any:
    value = parse(spec, text, present.lengths())
    if spec.kind == "wood":
        LIBRARY.require(value, spec.name)
    return " ".join(value.split()) if spec.kind == "text" else value


__all__ = ["FAMILIES", "NAME", "Draft", "all_shown", "chosen", "offered", "read", "shown_plan", "start"]
