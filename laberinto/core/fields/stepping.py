"""A figure in a field made larger or smaller by steps, as the arrow keys do."""

from __future__ import annotations

from ..errors import InputError
from ..units import LONGEST, Lengths
from .spec import Spec
from .text import parse, shown

STEPPED = ("length", "count", "number")
"""Kinds of parameters that go by steps."""


def further(value: float, by: int, step: float, least: float, most: float) -> float:
    """A figure ``by`` steps on, no further than it may go."""
    return min(max(value + by * step, least), most)


def stepped(spec: Spec, text: str, by: int, lengths: Lengths) -> str:
    """The text of a field ``by`` steps on from what it says: a length by ``Lengths.nudge``, a count or another number
    by one of this maker's units, no further than the parameter may go. An empty field stays empty.

    Raises InputError where the text cannot be read, or the parameter is no figure."""
    if spec.kind not in STEPPED:
        raise InputError(f"{spec.label} does not go by steps; type it.", spec.name)
    now = parse(spec, text, lengths)
    if now is None:
        return ""
    step = lengths.nudge if spec.kind == "length" else 1 / lengths.scale(spec.unit) if spec.kind == "number" else 1
    least, most = (bound if bound is not None else far for bound, far in ((spec.least, 0.0), (spec.most, LONGEST)))
    return shown(spec, further(now, by, step, least, most), lengths)
