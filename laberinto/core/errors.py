"""Everything that can go wrong, as one small tree.

::

    LaberintoError
    ├── InputError      a typed value is not one we can take (names the field)
    ├── PlanError       a plan file cannot be read (names the place in the file)
    ├── StageError      a stage cannot be done to this wood (names the stage and the cure)
    └── GeometryError   the kernel contradicted itself: a fault of ours, never of the plan

Every message says which value, what is allowed and what to change, in shop words.
"""

from __future__ import annotations


class LaberintoError(Exception):
    """Root of all errors that Laberinto raises on purpose."""


class InputError(LaberintoError):
    """A typed value cannot be taken.

    ``field`` is the name of the field the value was typed in, or ``""``.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
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

    def __init__(self, stage: str, message: str, fix: str, field: str = "") -> None:
        super().__init__(f"{message} {fix}".strip())
        self.stage = stage
        self.message = message
        self.fix = fix
        self.field = field


class GeometryError(LaberintoError):
    """The cutting kernel found its own result inconsistent."""
