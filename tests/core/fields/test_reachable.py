"""Whatever a plan knows, a screen can change."""

from __future__ import annotations

import pytest

from laberinto.core.fields import specs
from laberinto.core.stages import AnyStage, Stage

KINDS: tuple[type[Stage], ...] = AnyStage.__origin__.__args__  # type: ignore[attr-defined]

BY_HAND = {
    ("mill", "strips"): "strip-move", ("glue", "turned"): "piece-end-for-end", ("glue", "shifted"): "piece-shift",
    ("arrange", "turned"): "row-flip",
}  # fmt: skip
"""Lists of single pieces, which have keys and drags instead of a field, with an operation that sets them."""

OF_EVERY_STAGE = {"id", "kind", "source", "skip"}
"""The stage's place in the thread, which has its own buttons."""


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_every_parameter_has_a_control(kind: type[Stage]) -> None:
    name = kind.model_fields["kind"].default
    known = {spec.name for spec in specs(kind)} | OF_EVERY_STAGE | {field for of, field in BY_HAND if of == name}
    assert set(kind.model_fields) <= known
    assert all(spec.label and (spec.help or spec.kind in ("wood", "yes-no")) for spec in specs(kind))
