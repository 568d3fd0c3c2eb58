"""The page of sizes: what is typed, the boards that come near, and how the chosen one comes to its size."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import groupby
from typing import Any

from markupsafe import Markup

from laberinto.core.analysis.effort import Effort, effort
from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import Spec, parse, shown, specs
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import Family
from laberinto.core.plan.simulate import Simulation
from laberinto.core.sizing import Kind, Line, Proposal, Want, ledger, propose
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat, Painted, Ringed

from ...app import bitmaps, present, reading
from ...app.fields import FieldView

_propose = lru_cache(maxsize=32)(propose)

SIZES = {
    "width": Spec("want-width", "Width", "", "length", 60.0, 1500.0, False),
    "length": Spec("want-length", "Length", "", "length", 60.0, 1500.0, False),
    "thickness": Spec("want-thickness", "Thickness", "", "length", 12.0, 150.0, False),
}
"""The wanted size, mm."""

_OFF = (("wider", "narrower"), ("longer", "shorter"), ("thicker", "thinner"))

_OFF = (("wider", "narrower"), ("longer", "shorter"), ("thicker", "thinner"))

USUAL = {"width": 300.0, "length": 400.0, "thickness": 40.0}


@dataclass(frozen=True, slots=True)
class Number:
    """One of the pattern's numbers: its field, whether it is held, and what it was before it gave way."""

    field: FieldView
    held: bool
    gave: str = ""


@dataclass
class Sizes:
    """Everything the page shows."""

    family: type[Family]
    wants: list[FieldView]
    numbers: list[Number]
    proposals: list[Proposal] = field(default_factory=list)
    pick: int = 0
    problem: str = ""
    want: Want | None = None

    @property
    def chosen(self) -> Proposal | None:
        return self.proposals[self.pick] if self.proposals else None

    @property
    def drawing(self) -> Markup:
        assert self.chosen is not None
        sim = self.chosen.sim
        skin = Painted(sim, "z", bitmaps.atlas_address, present.preference("finish"))
        return Markup(draw_board(sim.board.pieces[0], skin, present.lengths(), label="The board of this size"))

    @property
    def figures(self) -> Figures:
        assert self.chosen is not None
        return figures(self.chosen.sim, present.shop())

    @property
    def effort(self) -> Effort:
        assert self.chosen is not None
        return effort(self.chosen.sim)

    @property
    def sums(self) -> list[tuple[str, list[Line]]]:
        """The sums by stage."""
        assert self.chosen is not None
        return [
            (title, list(lines)) for (_, title), lines in groupby(ledger(self.chosen.sim), lambda s: (s.stage, s.title))
        ]

    def thumb(self, proposal: Proposal) -> Markup:
        """A proposal's face, all to one scale."""
        width, length = (max(p.sim.board.size[axis] for p in self.proposals) for axis in (0, 1))
        return face(proposal.sim, self.family.title, (width, length))

    def words(self, proposal: Proposal) -> str:
        """How near it comes."""
        how = present.lengths()
        parts = []
        for off, (over, under) in zip(proposal.off, _OFF, strict=True):
            if abs(off) >= 0.05:
                parts.append(f"{how.show(abs(off))} {over if off > 0 else under}")
        said = " and ".join(parts) if parts else "just as wanted"
        if proposal.kind is Kind.TRIMMED:
            said += f", {how.show(proposal.cut[0])} and {how.show(proposal.cut[1])} trimmed off either side"
        return said


def sizes(family: Family, args: Mapping[str, str], holds: list[str], start: Mapping[str, float]) -> Sizes:
    """Read what is typed and find boards near it. A number typed over is held from then on."""
    how = present.lengths()
    wants: list[FieldView] = []
    values: dict[str, float] = {}
    for name, spec in SIZES.items():
        typed, wrong = args.get(spec.name, how.field(start[name])), ""
        try:
            values[name] = start[name] if typed == how.field(start[name]) else parse(spec, typed, how)
        except InputError as error:
            wrong = error.say(how)
        wants.append(FieldView(spec, typed, wrong))
    numbers, changes = _numbers(family, args, holds)
    page = Sizes(type(family), wants, numbers)
    if any(f.error for f in wants) or any(n.field.error for n in numbers):
        return page
    page.want = Want(values["width"], values["length"], values["thickness"])
    held = frozenset(n.field.spec.name.removeprefix("n-") for n in numbers if n.held)
    try:
        page.proposals = _propose(family.changed(**changes) if changes else family, page.want, held)
    except LaberintoError as error:
        page.problem = error.say(how)
    if not page.proposals and not page.problem:
        page.problem = "No board of this pattern comes near that size with these numbers held. Let one of them go."
    page.pick = min(reading.whole(args.get("pick")) or 0, max(len(page.proposals) - 1, 0))
    page.numbers = [_given(number, page.chosen, how) for number in numbers]
    return page


def _numbers(family: Family, args: Mapping[str, str], holds: list[str]) -> tuple[list[Number], dict[str, Any]]:
    """The pattern's numbers with what is typed into them, and those that are held at another value."""
    how = present.lengths()
    there = {spec.name: spec for spec in specs(type(family))}
    out: list[Number] = []
    changes: dict[str, Any] = {}
    for name in family.handles.names:
        spec = there.get(name)
        if spec is None:  # a picture's columns have a form of their own
            continue
        key, start = f"n-{name}", shown(spec, getattr(family, name), how)
        typed, was = args.get(key, start).strip(), args.get(f"was-{name}", "")
        held, wrong = name in holds or (bool(was) and typed != was), ""
        try:
            if held and typed != start:
                changes[name] = parse(spec, typed, how)
        except InputError as error:
            wrong = error.say(how)
        named = replace(spec, name=key, help="", optional=False)
        out.append(Number(FieldView(named, typed, wrong), held, was))
    return out, changes


def _given(number: Number, chosen: Proposal | None, how: Any) -> Number:
    """A number as the chosen proposal has it; where it gave way, what it was."""
    if chosen is None:
        return number
    name = number.field.spec.name.removeprefix("n-")
    spec = next(spec for spec in specs(type(chosen.family)) if spec.name == name)
    now = shown(spec, chosen.family.value(name), how)
    gave = number.gave if number.gave and number.gave != now and not number.held else ""
    return Number(FieldView(number.field.spec, now, number.field.error), number.held, gave)


def face(sim: Simulation, name: str, within: tuple[float, float] | None = None) -> Markup:
    """A board's face for a row of proposals; one wood alone shows by its rings. ``within`` (mm) is the scale of all."""
    return Markup(drawn(sim, name, present.preference("finish"), within))


def drawn(sim: Simulation, name: str, finish: str, within: tuple[float, float] | None = None) -> str:
    """The same in a finish that is said."""
    plain = len({strip.wood for strip in sim.strips}) > 1
    skin = Flat(sim, finish) if plain else Ringed(sim, "w", finish)
    top = face_of(sim.whole(), Side.TOP)
    return thumbnail(top, skin, label=f"{name}: its face", within=within)
