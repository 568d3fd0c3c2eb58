"""What a pattern family is: few honest parameters in the trade's words, and a whole build made from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Self

from pydantic import BaseModel, ConfigDict, ValidationError

from ..errors import InputError
from ..fields.allowances import USUAL
from ..fields.spec import Spec, millimetres, specs
from ..plan.model import FORMAT, VERSION, Origin, Plan, refused
from ..plan.simulate import Simulation
from ..stages import (
    Arrange,
    Border,
    Crosscut,
    Ease,
    Feet,
    Flatten,
    Glue,
    Mill,
    Oil,
    Profile,
    Sand,
    Spread,
    Stage,
    StripSpec,
    Trim,
    Wax,
)
from ..stages.crosscut import length_needed
from ..stages.mill import LONGEST_STRIP
from ..validation import checked

LEFT_TO_HOLD = 60.0
"""Remainder left on a panel so that the last slice can still be held, mm."""

GRITS = (80, 120, 180, 220, 320, 400)
"""None is skipped on the way to the last."""


@dataclass(frozen=True, slots=True)
class Truth:
    """Something this pattern must get right, as measured on the simulated wood: what, how much it is off (mm, or mm³
    for gaps), and whether that is as good as none."""

    what: str
    off: float
    unit: str = "mm"

    @property
    def holds(self) -> bool:
        """Whether it is as good as none."""
        return abs(self.off) < 0.01


@dataclass(frozen=True, slots=True)
class Handles:
    """The parameters that make a board of this family larger: how many lie across it and along it, and which lengths
    make each wider (``pitch``) or higher (``rise``). Where pitch and rise are the same, one length makes both. Counts
    go in steps, so that the pattern stays whole."""

    across: str = ""
    along: str = ""
    pitch: tuple[str, ...] = ()
    rise: tuple[str, ...] = ()
    across_step: int = 1
    along_step: int = 1

    @property
    def tied(self) -> bool:
        """Whether one length makes cells both wider and higher."""
        return self.pitch == self.rise

    @property
    def names(self) -> tuple[str, ...]:
        """All of them, each once."""
        return tuple(dict.fromkeys(name for name in (self.across, *self.pitch, self.along, *self.rise) if name))


class Family(BaseModel):
    """Parameters of a family; lengths in mm. Fields declared with ``millimetres``, ``whole``, ``wood`` and the like
    stand in the form; the rest are this shop's allowances."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    key: ClassVar[str]
    title: ClassVar[str]
    summary: ClassVar[str]
    """What makes it, in a sentence."""
    handles: ClassVar[Handles]

    thickness: float = millimetres(38.0, label="Finished thickness", help="Of the board.", least=12, most=150)
    kerf: float = USUAL.kerf
    squaring: float = USUAL.squaring
    flatten_panel: float = USUAL.flatten_panel
    flatten_board: float = USUAL.flatten_board
    edge: float = USUAL.edge
    planer_shortest: float = 300.0
    last_grit: str = "220"
    raise_grain: str = "once"
    finish: str = "mineral"
    spread: str = "both"
    feet: str = "none"

    @classmethod
    def specs(cls) -> list[Spec]:
        """The parameters a form asks for: woods first, the finished thickness last."""
        order = {"wood": 0, "choice": 1}
        return sorted(specs(cls), key=lambda spec: (order.get(spec.kind, 2), spec.name == "thickness"))

    @classmethod
    def specs_for(cls, values: Mapping[str, str]) -> list[Spec]:
        """The fields of a form in which ``values`` are typed: some families have more the more they are asked for."""
        return cls.specs()

    def value(self, name: str) -> Any:
        """A parameter by the name its field has in the form."""
        return getattr(self, name)

    def pictured(self) -> dict[str, str]:
        """Stages whose wood is worth a picture of its own in the form, by the heading it stands under."""
        return {}

    @classmethod
    def wood_fields(cls) -> list[str]:
        """The parameters that name a wood, lightest first."""
        return [spec.name for spec in specs(cls) if spec.kind == "wood"]

    @classmethod
    def of(cls, **values: Any) -> Self:
        """A family with these parameters; raises InputError that names the first that is not allowed."""
        return checked(cls, values, say="{label}: {words}.")

    def changed(self, **values: Any) -> Self:
        """This family with some parameters changed; raises InputError as ``of`` does."""
        return self.of(**{**self.model_dump(), **values})

    @property
    def slice(self) -> float:
        """Slice to cut: finished thickness plus flattening off both faces."""
        return self.thickness + 2 * self.flatten_board

    def panel_for(self, slices: int) -> float:
        """Shortest panel that yields the slices and leaves enough to hold, rounded up to 5 mm. Raises InputError as
        ``check_strips`` does."""
        length = -(-(length_needed(self.squaring, slices, self.slice, self.kerf) + LEFT_TO_HOLD) // 5) * 5.0
        self.check_strips(length)
        return length

    def check(self) -> None:
        """Raise InputError, with the number that would work, where these cannot make the pattern."""
        self.differ(*self.wood_fields())

    def stages(self) -> list[Stage]:
        """Every stage of the build. Glue is spread as the shop says where a stage does not."""
        raise NotImplementedError

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """What must be right in this pattern, measured on the wood."""
        return ()

    def plan(self, name: str) -> Plan:
        """The whole build under a name. Raises InputError as ``check`` does."""
        self.check()
        try:
            origin = Origin(family=self.key, parameters=self.model_dump(mode="json"))
            stages = tuple(map(self._spread, self.stages()))
            return Plan(format=FORMAT, version=VERSION, name=name, pattern=origin, stages=stages)
        except ValidationError as error:
            raise refused(error) from None

    def _spread(self, stage: Stage) -> Stage:
        """A stage of the build as this shop spreads its glue, where it glues and does not say how."""
        if "spread" in stage.model_fields_set or not isinstance(stage, Glue | Border):
            return stage
        return stage.model_copy(update={"spread": Spread(self.spread)})

    def check_strips(self, longest: float) -> None:
        """Raise InputError where strips would be longer than any that are milled."""
        if longest > LONGEST_STRIP:
            along = self.handles.along
            fit = int(getattr(self, along) * (LONGEST_STRIP - 2 * LEFT_TO_HOLD) / longest) if along else 0
            cure = f"Take {fit} {self._label(along).lower()} or fewer, or plan" if fit else "Plan"
            raise InputError(
                f"That takes strips of {{longest}}, longer than the {{most}} milled at most. {cure} a thinner board.",
                along if fit else "thickness", longest=longest, most=LONGEST_STRIP,
            )  # fmt: skip

    def even(self, field: str = "strips") -> None:
        """Raise InputError where strips of two woods that alternate are an odd number."""
        count = getattr(self, field)
        if count % 2:
            raise InputError(
                f"With {count} strips each row reads the same from both ends, so flipping every other changes "
                f"nothing. Take {count - 1 if count > 2 else 2} or {count + 1}.",
                field,
            )

    def differ(self, *fields: str) -> None:
        """Raise InputError where two woods that must tell apart are the same."""
        seen: dict[str, str] = {}
        for field in fields:
            wood = getattr(self, field)
            if wood in seen:
                raise InputError(
                    f"{self._label(seen[wood])} and {self._label(field).lower()} are the same wood, so there is no "
                    "pattern. Choose two.", field,
                )  # fmt: skip
            seen[wood] = field

    def _label(self, field: str) -> str:
        return type(self).model_fields[field].title or field

    # -- what most builds share ---------------------------------------------------------------------------------

    def laminate(self, strips: list[StripSpec], row: float, slices: int, name: str = "") -> list[Stage]:
        """Strips to a panel, flattened to ``row``, cut into slices: ``strips``, ``panel``, ``panel-flat``,
        ``slices``, with ``name-`` before each where given."""
        at = f"{name}-" if name else ""
        return [
            Mill(
                id=f"{at}strips", thickness=row + 2 * self.flatten_panel, length=self.panel_for(slices), strips=strips
            ),
            Glue(id=f"{at}panel", source=f"{at}strips"),
            Flatten(id=f"{at}panel-flat", source=f"{at}panel", to=row, method=self.flattener(self.panel_for(slices))),
            self.sliced(f"{at}panel-flat", slices, f"{at}slices"),
        ]

    def flattener(self, length: float) -> str:
        """What flattens a panel of this length: nothing short goes through a planer."""
        return "planer" if length >= self.planer_shortest else "drum-sander"

    def sliced(self, source: str, slices: int, name: str = "slices") -> Crosscut:
        """The crosscut that yields the slices."""
        return Crosscut(id=name, source=source, slice=self.slice, count=slices, kerf=self.kerf, squaring=self.squaring)

    def laid(self, rule: str, source: str = "slices", **glue: Any) -> list[Stage]:
        """Slices stood up under a rule and glued to a board: ``rows``, ``board``."""
        return [
            Arrange(id="rows", source=source, rule=rule),
            Glue(id="board", source="rows", across="length", clamp_hours=24, **glue),
        ]

    def finished(self, *shaping: Stage, flush: bool = False, source: str = "board", **trim: Any) -> list[Stage]:
        """Flatten, trim, shape, ease, sand, oil and wax. ``shaping`` stages come one after the other before easing."""
        trim = {"edge": self.edge, **trim, **({"flush": True} if flush else {})}
        return [
            Flatten(id="board-flat", source=source, to=self.thickness, method="drum-sander"),
            *self.dressed("board-flat", Trim(id="trimmed", **trim), *shaping),
        ]

    def dressed(self, source: str, *shaping: Stage) -> list[Stage]:
        """``shaping`` stages one after the other, then ease, sand, oil and wax."""
        grits = [grit for grit in GRITS if grit <= int(self.last_grit)]
        last: list[Stage] = [
            Ease(id="eased", size=2.0),
            *([Feet(id="feet")] if self.feet == "four" else []),
            Sand(id="sanded", grits=grits, raise_grain=self.raise_grain != "none"),
            Oil(id="oiled", oil=self.finish),
            *([Wax(id="waxed")] if self.finish != "wax-oil" else []),
        ]
        stages: list[Stage] = []
        for stage in (*shaping, *last):
            stages.append(stage.model_copy(update={"source": stages[-1].id if stages else source}))
        return stages


def alternating(count: int, *strips: StripSpec) -> list[StripSpec]:
    """``count`` strips that repeat ``strips``, marked from 1."""
    return [strips[i % len(strips)].model_copy(update={"mark": i + 1}) for i in range(count)]


def stock(name: str, wood: str, width: float, thickness: float, count: int, length: float, mark: int) -> Mill:
    """Strips of one wood for a stage of their own, marked from ``mark``; lengths in mm."""
    strips = [StripSpec(wood=wood, width=width, count=count, mark=mark)]
    return Mill(id=name, thickness=thickness, length=length, strips=strips)


def section(name: str, source: str, kerf: float, *points: tuple[float, float]) -> Profile:
    """Pieces sawn to a section through these corners (x, z), mm, anticlockwise from the lower left."""
    return Profile(id=name, source=source, section="own", points=list(points), kerf=kerf)
