"""A plan: an ordered list of stages, as validated, versioned JSON.

The file format is described in docs/plan-format.md. A plan is immutable; an edit makes another.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from ..errors import PlanError
from ..stages import AnyStage, Ease, Mill, Stage
from ..validation import explain

FORMAT = "laberinto-plan"
VERSION = 1
MOST_STAGES = 200
OFFCUT = ":offcut"
"""Behind a stage's id: its offcuts instead of its pieces."""
MOST_TIMES = 50
"""Largest batch of one plan."""
MOST_BYTES = 2_000_000


class Wanted(BaseModel):
    """The finished size someone asked for, mm; what is None is left open."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    width: float | None = Field(default=None, ge=20, le=2000)
    length: float | None = Field(default=None, ge=20, le=2000)
    thickness: float | None = Field(default=None, ge=4, le=200)


class Origin(BaseModel):
    """The pattern family a plan was made from, and its parameters, so that they can be changed later."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    family: str = Field(min_length=1, max_length=40)
    parameters: dict[str, Any] = Field(default_factory=dict, max_length=100)


class Plan(BaseModel):
    """An ordered list of stages. Each takes the pieces of an earlier one and every yield is used once."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    format: Literal["laberinto-plan"] = FORMAT  # type: ignore[assignment]
    version: Literal[1] = VERSION  # type: ignore[assignment]
    name: str = Field(min_length=1, max_length=80)
    note: str = Field(default="", max_length=4000)
    wanted: Wanted = Wanted()
    times: int = Field(default=1, ge=1, le=MOST_TIMES, description="how many times it is made, in one batch")
    pattern: Origin | None = None
    stages: tuple[AnyStage, ...] = Field(min_length=1, max_length=MOST_STAGES)

    @model_validator(mode="after")
    def _joined_up(self) -> Plan:
        yielded: dict[str, str | None] = {}
        for stage in self.stages:
            if stage.id in yielded:
                raise ValueError(f"two stages are called “{stage.id}”; each needs a name of its own")
            if isinstance(stage, Mill) and stage.source is not None:
                raise ValueError(f"stage “{stage.id}” mills new strips, so it takes no pieces; leave out “from”")
            if not isinstance(stage, Mill) and stage.source is None:
                raise ValueError(f"stage “{stage.id}” does not say whose pieces it takes; give “from”")
            if stage.skip and (len(stage.sources) != 1 or stage.sources[0].endswith(OFFCUT)):
                raise ValueError(f"stage “{stage.id}” brings pieces in, so it cannot be off; take it out instead")
            for source in stage.sources:
                self._take(stage.id, source, yielded)
            yielded[stage.id] = None
            yielded[stage.id + OFFCUT] = ""  # offcuts may be used or left
        loose = [stage for stage, taken in yielded.items() if taken is None]
        if len(loose) > 1:
            raise ValueError(f"the pieces of {' and '.join(f'“{s}”' for s in loose)} are never brought together")
        return self

    def _take(self, stage: str, source: str, yielded: dict[str, str | None]) -> None:
        """Note that a stage takes a source, or say why it cannot."""
        if source not in yielded:
            name = source.removesuffix(OFFCUT)
            later = any(other.id == name for other in self.stages)
            why = "comes only later (or is itself)" if later else "is not in the plan"
            raise ValueError(f"stage “{stage}” takes pieces from “{source}”, which {why}")
        if source.endswith(OFFCUT) and self.stage(source.removesuffix(OFFCUT)).skip:
            raise ValueError(f"stage “{stage}” takes offcuts of “{source.removesuffix(OFFCUT)}”, which is off")
        if taken := yielded[source]:
            raise ValueError(f"stage “{stage}” takes the pieces of “{source}”, which “{taken}” already took")
        yielded[source] = stage

    @property
    def strip_woods(self) -> tuple[str, ...]:
        """Keys of the woods its strips are of, each once, in the order of its stages."""
        mills = (stage for stage in self.stages if isinstance(stage, Mill))
        return tuple(dict.fromkeys(spec.wood for mill in mills for spec in mill.strips))

    def stage(self, stage_id: str) -> Stage:
        """The stage with this id; KeyError where there is none."""
        for stage in self.stages:
            if stage.id == stage_id:
                return stage
        raise KeyError(stage_id)

    def index(self, stage_id: str) -> int:
        """Position of a stage, from 0."""
        return next(i for i, stage in enumerate(self.stages) if stage.id == stage_id)

    def with_stage(self, stage: Stage) -> Plan:
        """This plan with the stage of the same id replaced; raises PlanError where that is not valid."""
        return self.with_stages(stage if s.id == stage.id else s for s in self.stages)

    def with_stages(self, stages: Iterable[Stage]) -> Plan:
        """This plan with other stages; raises PlanError where one is not valid or they do not fit together."""
        data = self.model_copy(update={"stages": ()}).as_dict()
        # those that were in this plan are valid as they are; only that they still fit together is checked again
        mine = {id(stage) for stage in self.stages}
        found = [s if id(s) in mine else s.model_dump(mode="json", by_alias=True) for s in stages]
        return read_plan(data | {"stages": found})

    def upto(self, count: int) -> Plan:
        """The first ``count`` stages alone, to be looked at: what they leave may not be one board."""
        return self.model_copy(update={"stages": self.stages[:count]})

    def undressed(self) -> Plan:
        """This plan without what comes last and leaves the pattern as it is: easing edges, sanding, oil and wax."""
        kept = list(self.stages)
        while len(kept) > 1 and (isinstance(kept[-1], Ease) or not kept[-1].shapes_wood):
            kept.pop()
        return self.model_copy(update={"stages": tuple(kept)})

    def as_dict(self) -> dict[str, Any]:
        """The plan as plain data, as it stands in a file."""
        return self.model_dump(mode="json", by_alias=True, exclude_defaults=False)

    def as_json(self, indent: int | None = None) -> str:
        """The plan as the text of a file; ``indent`` spaces a level where people are to read it."""
        return self.model_dump_json(by_alias=True, indent=indent)


def read_plan(data: str | bytes | dict[str, Any]) -> Plan:
    """A plan from JSON text or plain data. Raises PlanError that names the path of each wrong value."""
    if isinstance(data, str | bytes):
        if len(data) > MOST_BYTES:
            raise PlanError([("", f"The file is larger than {MOST_BYTES // 1_000_000} MB; no plan is.")])
        try:
            data = json.loads(data, parse_constant=_no_constant)
        except ValueError as error:
            raise PlanError([("", f"This is not JSON ({error}).")]) from None
        except RecursionError:
            raise PlanError([("", "The file nests too deep to be a plan.")]) from None
    if not isinstance(data, dict):
        raise PlanError([("", "A plan is an object with “format”, “version”, “name” and “stages”.")])
    if data.get("format") != FORMAT:
        raise PlanError([("format", f"This file does not say it is a plan; “format” must be “{FORMAT}”.")])
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise PlanError(
            [("version", f"This plan is of version {version}; this Laberinto reads up to {VERSION}. Update it.")]
        )
    try:
        return Plan.model_validate(data)
    except ValidationError as error:
        raise refused(error) from None


def refused(error: ValidationError) -> PlanError:
    """What pydantic refuses in a plan or a stage, with the path of each wrong value."""
    return PlanError([_problem(e) for e in error.errors(include_url=False)])


def _no_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number")


def _problem(error: Any) -> tuple[str, str]:
    """A pydantic error as a path into the file and a sentence."""
    path = ""
    for part in error["loc"]:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not (path.endswith("]") and part in _KINDS):  # the union's own tag is no part of the file
            path += f".{part}" if path else str(part)
    return path, explain(error)


_KINDS = frozenset(member.model_fields["kind"].default for member in Stage.__subclasses__()) | frozenset(
    sub.model_fields["kind"].default for member in Stage.__subclasses__() for sub in member.__subclasses__()
)
