"""A parameter as it stands in a form."""

from __future__ import annotations

from dataclasses import dataclass

from laberinto.core.fields import Spec


@dataclass(frozen=True, slots=True)
class FieldView:
    """One parameter: what is declared of it, the text in its field, and what is wrong with that. ``own`` where it
    differs from what is usual."""

    spec: Spec
    value: str
    error: str = ""
    own: bool = False
