"""Chaos: rip, turn, shuffle, splice and glue again, pass after pass, then slices mixed in all four lies."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from enum import StrEnum
from typing import Any, ClassVar, Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..errors import InputError, StageError
from ..fields.spec import Spec, choice, millimetres, number, specs, whole, wood, yes_no
from ..geometry.rotations import Lie
from ..geometry.sawing import blade, reach
from ..plan.model import FORMAT, OFFCUT, VERSION, Plan
from ..plan.simulate import Simulation, StageResult, attempt
from ..stages import Arrange, Crosscut, Flatten, Glue, Mill, Rip, Stage, StripSpec, Trim
from ..stages.crosscut import LONGEST_SLICE
from ..validation import checked
from .closing import gap
from .model import Family, Handles, Truth

MOST_PASSES = 6
THINNEST = 12.0
"""A panel thinner than this (mm) is not ripped and glued once more."""


class Turning(StrEnum):
    """What is done to the strips of a pass before they are glued again."""

    NONE = "none"
    ROLL = "roll"
    FLIP = "flip"
    MIXED = "mixed"

    @property
    def label(self) -> str:
        return {
            "none": "as they lie", "roll": "every other rolled a quarter", "flip": "every other face over",
            "mixed": "rolled, face over, end for end",
        }[self.value]  # fmt: skip

    @property
    def turns(self) -> list[str]:
        """As a glue-up takes them, one strip after the other."""
        return {
            "none": [], "roll": ["as it lies", "quarter roll"], "flip": ["as it lies", "face over"],
            "mixed": ["as it lies", "quarter roll", "face over", "end for end", "three-quarter roll"],
        }[self.value]  # fmt: skip


class Pass(BaseModel):
    """One pass. Strips are ripped between ``least`` and ``most`` wide, all alike where the two are equal."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    turning: Turning = choice(Turning.ROLL, label="Strips", help="Before they are glued again.")
    least: float = millimetres(26.0, label="Ripped from", help="Narrowest.", least=6, most=120)
    most: float = millimetres(36.0, label="to", help="Widest.", least=6, most=120)
    skew: float = number(0.0, label="Skew", help="Blade turned.", least=-15, most=15, unit="°")
    bevel: float = number(0.0, label="Bevel", help="Blade tilted.", least=-30, most=30, unit="°")
    flatten: float = millimetres(1.0, label="Flattening", help="Off each face.", least=0.1, most=5)
    halve: bool = yes_no(False, label="Halve the panel first", help="Crosscut in two, side by side.")
    splice: bool = yes_no(False, label="Splice in the offcut", help="Of this rip.")


class Chaos(Family):
    """Strips of three woods of mixed widths; then the ``plan`` of passes; then slices mixed by ``seed``."""

    key: ClassVar[str] = "chaos"
    title: ClassVar[str] = "Chaos"
    summary: ClassVar[str] = (
        "Ripped, turned, shuffled and glued again, pass after pass: planned, and never twice alike."
    )
    handles: ClassVar[Handles] = Handles("strips", "slices", ("narrow", "wide"), ("row",))

    light: str = wood("sycamore", label="Light wood")
    mid: str = wood("pear", label="Middle wood")
    dark: str = wood("bog-oak", label="Dark wood")
    strips: int = whole(14, label="Strips", help="Of mixed widths.", least=4, most=60)
    narrow: float = millimetres(22.0, label="Narrowest", help="Strip.", least=6, most=120)
    wide: float = millimetres(38.0, label="Widest", help="Strip.", least=6, most=150)
    row: float = millimetres(34.0, label="Panel", help="Its thickness once flat, before any pass.", least=12, most=100)
    slices: int = whole(12, label="Slices", help="Each becomes one row.", least=2, most=60)
    seed: int = whole(11, label="Number of the draw", help="The same number, the same board.", least=0, most=999_999)
    passes: int = whole(2, label="Passes", help="Before the slices are cut.", least=1, most=MOST_PASSES)
    plan_of: tuple[Pass, ...] = Field(default=(), max_length=MOST_PASSES)

    # -- the form: the family's own fields, and those of each pass with its number behind --------------------------

    @classmethod
    def specs_for(cls, values: Mapping[str, str]) -> list[Spec]:
        """The family’s own fields, and those of as many passes as are typed."""
        text = values.get("passes", "").strip()
        count = min(int(text), MOST_PASSES) if text.isdigit() else 0
        return cls.specs() + [spec for at in range(1, count + 1) for spec in pass_specs(at)]

    @classmethod
    def of(cls, **values: Any) -> Self:
        """With fields of passes by number, as ``skew-2``; raises InputError as others do."""
        numbered = {name: values.pop(name) for name in list(values) if "-" in name}
        made = super().of(**values)
        passes = [made.pass_at(at) for at in range(1, made.passes + 1)]
        for at, one in enumerate(passes, 1):
            changes = {name.removesuffix(f"-{at}"): v for name, v in numbered.items() if name.endswith(f"-{at}")}
            try:
                passes[at - 1] = checked(Pass, one.model_dump() | changes, say=f"Pass {at}: {{words}}.")
            except InputError as error:
                raise InputError(error.template, f"{error.field}-{at}") from None
        return made.model_copy(update={"plan_of": tuple(passes)})

    def value(self, name: str) -> Any:
        """A parameter, of a pass too where the name ends in its number."""
        field, _, at = name.rpartition("-")
        return getattr(self.pass_at(int(at)), field) if field else getattr(self, name)

    def pass_at(self, at: int) -> Pass:
        """The settings of a pass, from 1; unless told otherwise every other one is ripped aslant."""
        if at <= len(self.plan_of):
            return self.plan_of[at - 1]
        return Pass() if at % 2 else Pass(turning=Turning.FLIP, skew=6.0)

    def pictured(self) -> dict[str, str]:
        """The panel after each pass."""
        slanted = {at: self.pass_at(at).skew or self.pass_at(at).bevel for at in range(1, self.passes + 1)}
        return {f"Pass {at}": f"trued-{at}" if cut else f"flat-{at}" for at, cut in slanted.items()}

    # -- the build -------------------------------------------------------------------------------------------------

    def check(self) -> None:
        super().check()
        if self.wide < self.narrow:
            raise InputError(
                "The widest strip is narrower than the narrowest, {narrow}. Make it {narrow} or more.", "wide",
                narrow=self.narrow,
            )  # fmt: skip
        for at in range(1, self.passes + 1):
            self._check(at, self.pass_at(at))

    def _check(self, at: int, one: Pass) -> None:
        if one.most < one.least:
            raise InputError(
                f"Pass {at} rips to less than it rips from, {{least}}. Take {{least}} or more.", f"most-{at}",
                least=one.least,
            )  # fmt: skip
        if one.bevel and one.turning is not Turning.NONE:
            raise InputError(
                f"Bevelled strips only nest as they lie. Leave those of pass {at} unturned, or set the bevel to 0.",
                f"turning-{at}",
            )  # fmt: skip
        if one.splice and (one.skew or one.bevel):
            raise InputError(
                f"A slanted rip leaves a wedge, which cannot be spliced in. Set skew and bevel of pass {at} to 0.",
                f"splice-{at}",
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        rng = np.random.default_rng(self.seed)
        woods = (self.light, self.mid, self.dark)
        widths = rng.uniform(self.narrow, self.wide, self.strips).round(1).tolist()
        first = [StripSpec(wood=woods[k % 3], width=width, mark=k + 1) for k, width in enumerate(widths)]
        length = self.panel_for(self.slices) * 2 ** sum(self.pass_at(k + 1).halve for k in range(self.passes)) + 30
        self.check_strips(length)
        stages: list[Stage] = [
            Mill(id="strips", thickness=self.row + 2 * self.flatten_panel, length=length, strips=first),
            Glue(id="panel", source="strips", shuffle=self.seed),
            Flatten(id="panel-flat", source="panel", to=self.row),
        ]
        for at in range(1, self.passes + 1):
            stages += self._pass(at, self.pass_at(at), stages, rng)
        lies = [list(Lie)[k] for k in rng.integers(0, 4, self.slices)]
        turned = {str(k + 1): lie.value for k, lie in enumerate(lies) if lie is not Lie.AS_CUT}
        return [
            *stages,
            self.sliced(stages[-1].id, self.slices),
            Arrange(id="rows", source="slices", rule="as-cut", shuffle=self.seed, turned=turned),
            Glue(id="board", source="rows", across="length", clamp_hours=24),
            *self.finished(flush=True, edge=1),
        ]

    def _pass(self, at: int, one: Pass, before: list[Stage], rng: np.random.Generator) -> list[Stage]:
        """The stages of one pass. How many strips the panel gives is measured on the panel itself."""
        stages: list[Stage] = []
        source = before[-1].id
        if one.halve:
            half = round(self._measured(before, at).size[1] / 2 - self.kerf - 0.1, 1)
            if half > LONGEST_SLICE:
                raise InputError(
                    f"Halves of {{half}} before pass {at} are longer than the {{most}} a crosscut can leave. Leave the "
                    "panel of that pass whole, or take fewer slices.", f"halve-{at}", half=half, most=LONGEST_SLICE,
                )  # fmt: skip
            stages += [
                Crosscut(id=f"halves-{at}", source=source, slice=half, count=2, kerf=self.kerf, squaring=0),
                Glue(id=f"doubled-{at}", source=f"halves-{at}"),
            ]
            source = f"doubled-{at}"
        piece = self._measured([*before, *stages], at).pieces[0]
        if (thin := float(piece.size()[2])) < THINNEST:
            raise InputError(
                f"The wood survives {at - 1} passes: before pass {at} the panel is only {{thin}} thick. Take {at - 1} "
                "passes, rip wider strips where they are rolled, or start thicker.", "passes", thin=thin,
            )  # fmt: skip
        start, end = reach(piece, 0, blade(0, one.skew, one.bevel))
        widths: list[float] = []
        while True:
            width = round(float(rng.uniform(one.least, one.most)), 1) if one.most > one.least else one.least
            if sum(widths) + len(widths) * self.kerf + width > end - start - 0.1:
                break
            widths.append(width)
        if len(widths) < 2:
            raise InputError(
                f"Pass {at} gets {len(widths) or 'no'} strip from a panel {{there}} wide, too few to glue. Rip "
                f"narrower, or take {max(at - 1, 1)} passes.", f"most-{at}", there=end - start,
            )  # fmt: skip
        left = end - start - sum(widths) - len(widths) * self.kerf
        rip = Rip(id=f"rip-{at}", source=source, widths=widths, kerf=self.kerf, skew=one.skew, bevel=one.bevel)
        glue = Glue(
            id=f"panel-{at}", source=rip.id, also=[rip.id + OFFCUT] if one.splice and left > 3 else [],
            shuffle=self.seed + at, **({"turns": one.turning.turns} if one.turning.turns else {}),
        )  # fmt: skip
        flat = Flatten(id=f"flat-{at}", source=f"panel-{at}", each_face=one.flatten, level=True, method="drum-sander")
        stages += [rip, glue, flat]
        if one.skew or one.bevel:
            stages.append(Trim(id=f"trued-{at}", source=f"flat-{at}", edge=0.5, flush=True))
        return stages

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)

    def _measured(self, stages: list[Stage], at: int) -> StageResult:
        """The wood after some stages, as simulated."""
        plan = Plan(format=FORMAT, version=VERSION, name=self.title, stages=tuple(stages))
        results, error = attempt(plan)
        if error is not None:
            raise _gives_out(error, at)
        return results[-1]


def pass_specs(at: int) -> list[Spec]:
    """The fields of a pass, from 1, as a form has them."""
    return [replace(spec, name=f"{spec.name}-{at}") for spec in specs(Pass)]


def _gives_out(error: StageError, at: int) -> InputError:
    """A stage that the wood did not survive, as a fault of the pass that broke it."""
    back = max(at - 2, 1)
    return InputError(
        f"The wood does not survive pass {max(at - 1, 1)}: {error.template} Take {back} passes, or start thicker or "
        "wider.", "passes", **error.mm,
    )  # fmt: skip
