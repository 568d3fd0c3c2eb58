"""Everything that can go wrong, as one small tree.

::

    LaberintoError
    ├── InputError      a typed value is not one we can take (names the field)
    ├── PlanError       a plan file cannot be read (names the place in the file)
    ├── StageError      a stage cannot be done to this wood (names the stage and the cure)
    │   └── FaultError      we failed at a stage: a fault of ours, never of the plan
    ├── DataError       what is kept cannot be opened, saved or put back (says the cure)
    ├── TooManyCellsError   a cut would make more cells than one build can hold
    └── GeometryError   the kernel contradicted itself: a fault of ours, never of the plan

Every message says which value, what is allowed and what to change, in shop words.
"""

from __future__ import annotations

from math import copysign
from typing import Any, Protocol


class Shows(Protocol):
    """Anything that writes a length in mm for reading."""

    def show(self, mm: float) -> str: ...


def tenths(mm: float) -> str:
    """Millimetres with at most one decimal and no trailing zero; halves away from zero, whatever the last bit says."""
    text = f"{mm + copysign(1e-6, mm):.1f}".removesuffix(".0")
    return "0" if text == "-0" else text


class Millimetres:
    """Lengths in mm to a tenth, as messages show them unless told otherwise."""

    def show(self, mm: float) -> str:
        return tenths(mm) + " mm"


class LaberintoError(Exception):
    """Root of all errors that Laberinto raises on purpose.

    Lengths in a message stand as ``{name}`` and come as keywords in mm, so that ``say`` can write them
    in the reader's units.
    """

    def __init__(self, message: str, **mm: float) -> None:
        self.template = message
        self.mm = mm
        super().__init__(self.say())

    def __reduce__(self) -> tuple[Any, ...]:
        # each kind takes arguments of its own, so it is carried to another process as what it holds
        return _as_it_was, (type(self), self.args, self.__dict__)

    def say(self, lengths: Shows | None = None) -> str:
        """The message with lengths as ``lengths`` shows them, in mm by default."""
        return _filled(self.template, self.mm, lengths)


def _as_it_was(kind: type[LaberintoError], args: tuple[Any, ...], kept: dict[str, Any]) -> LaberintoError:
    error = kind.__new__(kind, *args)
    error.__dict__.update(kept)
    return error


def _filled(template: str, mm: dict[str, float], lengths: Shows | None) -> str:
    # only messages with lengths hold braces of ours; others may quote what somebody typed
    how = lengths or Millimetres()
    return template.format(**{name: how.show(value) for name, value in mm.items()}) if mm else template


class DataError(LaberintoError):
    """What is kept cannot be opened, written, backed up or put back; the message says why and the cure."""


class InputError(LaberintoError):
    """A typed value cannot be taken.

    ``field`` is the name of the field the value was typed in, or ``""``.
    """

    def __init__(self, message: str, field: str = "", **mm: float) -> None:
        super().__init__(message, **mm)
        self.field = field


class PlanError(LaberintoError):
    """A plan cannot be read. ``problems`` pairs a path in the file with what is wrong there."""

    def __init__(self, problems: list[tuple[str, str]]) -> None:
        self.problems = problems
        super().__init__("; ".join(f"{path}: {text}" if path else text for path, text in problems))


class StageError(LaberintoError):
    """A stage asks for what this wood cannot give.

    ``stage`` is the stage's id, ``field`` the parameter to change (or ``""``) and ``fix`` one
    sentence that says what would work.
    """

    def __init__(self, stage: str, message: str, fix: str, field: str = "", **mm: float) -> None:
        super().__init__(f"{message} {fix}".strip(), **mm)
        self.stage = stage
        self.field = field


class FaultError(StageError):
    """Working a stage out failed: a fault of ours, kept to that stage so that the rest of the plan can be seen and the
    stage taken out. What happened is its ``__cause__``."""

    def __init__(self, stage: str, cause: Exception) -> None:
        super().__init__(
            stage, "Laberinto could not work this stage out; that is a fault of ours, not of the plan.",
            "Change it or take it out; the server's log says what happened.",
        )  # fmt: skip
        self.__cause__ = cause


class GeometryError(LaberintoError):
    """The cutting kernel found its own result inconsistent."""


class TooManyCellsError(LaberintoError):
    """A cut would make more cells than one build can hold; ``simulate`` names the stage."""
