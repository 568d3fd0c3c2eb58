"""What a reckoner is: a few numbers in, a few out, and the formula between them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar, Literal, Self

from pydantic import BaseModel, ConfigDict

from ..fields.spec import Spec, specs
from ..validation import checked


@dataclass(frozen=True, slots=True)
class Result:
    """One figure that comes out. Lengths are mm, volumes mm³, areas mm²; other kinds carry their unit in ``unit``."""

    label: str
    value: float | str
    kind: Literal["length", "fine", "volume", "area", "number", "text"] = "number"
    unit: str = ""


class Reckoner(BaseModel):
    """Fields as typed, declared like a stage's; ``results`` works them out."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    key: ClassVar[str]
    title: ClassVar[str]
    use: ClassVar[str]
    """What it is for, in a sentence."""
    formula: ClassVar[str]

    @classmethod
    def specs(cls) -> list[Spec]:
        """Its fields, in the order they are asked for."""
        return specs(cls)

    @classmethod
    def of(cls, **values: Any) -> Self:
        """From plain values; raises InputError that names the first that is not allowed."""
        return checked(cls, values)

    def results(self) -> tuple[Result, ...]:
        """What comes of it. Raises InputError where these numbers have no answer."""
        raise NotImplementedError
