"""A step of a figure, and what the same step once more comes to."""

from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from laberinto.core.edits import set_parameters, strips
from laberinto.core.edits.onward import once_more
from laberinto.core.errors import InputError
from laberinto.core.fields import specs, stepped
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.stages.mill import LEAST_WIDTH, MOST_WIDTH
from laberinto.core.units import Lengths

PLAN = Alternating(strips=6, slices=6).plan("Stepped")
MM, INCHES = Lengths(), Lengths("in", 32)


@given(
    width=st.floats(LEAST_WIDTH, MOST_WIDTH).map(lambda mm: round(mm, 2)),
    step=st.floats(-12, 12).map(lambda mm: round(mm, 2)),
    chosen=st.lists(st.integers(0, 5), min_size=1, unique=True),
)
def test_the_same_step_again_and_nothing_else(width: float, step: float, chosen: list[int]) -> None:
    assume(LEAST_WIDTH <= width + step <= MOST_WIDTH)

    def wide(mm: float) -> Plan:
        return strips.set_width(PLAN, "strips", chosen, mm).plan

    was, now = wide(width), wide(width + step)
    onward = once_more(was, now)
    after = width + 2 * step
    if not step or not LEAST_WIDTH <= round(after, 9) <= MOST_WIDTH:
        assert onward is None
    else:
        assert once_more(was, now, most=abs(step) * 0.99) is None
        assert onward is not None and onward == once_more(was, now, most=abs(step) * 1.01)
        assert strips.widths(onward, "strips") == pytest.approx(strips.widths(wide(after), "strips"))


def test_what_is_no_step_goes_no_further() -> None:
    wood = strips.set_wood(PLAN, "strips", [1], "pear").plan
    named = PLAN.model_copy(update={"name": "Another"})
    fewer = PLAN.with_stages([stage for stage in PLAN.stages if stage.id != "waxed"])
    apart = PLAN
    for at, width in ((1, 33.0), (2, 35.0)):
        apart = strips.set_width(apart, "strips", [at], width).plan
    for after in (PLAN, wood, named, fewer, apart):
        assert once_more(PLAN, after) is None


def test_figures_go_by_steps_no_further_than_they_may() -> None:
    """Kerf is a length from 0.5 to 8 mm in the stage's own table; a sixteenth of an inch is 1.5875 mm."""
    slices = PLAN.stage("slices")
    spec = {spec.name: spec for spec in specs(type(slices))}
    kerf, count = spec["kerf"], spec["count"]
    assert stepped(kerf, "3.2", 2, MM) == "5.2"
    assert [stepped(kerf, "3.2", by, MM) for by in (-100, 100)] == [f"{end:g}" for end in (kerf.least, kerf.most)]  # type: ignore[str-format]
    assert stepped(kerf, '1/8"', 1, INCHES) == '3/16"'
    assert stepped(count, "6", -1, MM) == "5" and stepped(count, "6", -10, MM) == f"{count.least:g}"
    assert set_parameters(PLAN, "slices", {"count": stepped(count, "6", 1, MM)}, MM).plan.stage("slices").count == 7  # type: ignore[attr-defined]
    with pytest.raises(InputError, match="not a length"):
        stepped(kerf, "thick", 1, MM)
    words = next(spec for spec in specs(type(PLAN.stage("strips"))) if spec.kind == "yes-no")
    with pytest.raises(InputError, match="does not go by steps"):
        stepped(words, "yes", 1, MM)
