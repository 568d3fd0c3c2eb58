"""Random plans that can be built and pictures to make, for property tests."""

from __future__ import annotations

from hypothesis import strategies as st

from laberinto.core.geometry.rotations import Lie
from laberinto.core.picture import Picture
from laberinto.core.plan.model import Plan
from laberinto.core.stages import (
    Across,
    Arrange,
    Crosscut,
    Ease,
    Flatten,
    Glue,
    Mill,
    Rule,
    StripSpec,
    Trim,
)
from laberinto.core.stages.mill import StripTurn
from laberinto.core.woods import LIBRARY

millimetres = st.floats(10, 60).map(lambda v: round(v, 3))
strip = st.builds(
    StripSpec, wood=st.sampled_from(sorted(LIBRARY)), width=millimetres, turned=st.sampled_from(StripTurn)
)


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    """A plan with every kind of stage that moves wood."""
    strips = tuple(draw(st.lists(strip, min_size=2, max_size=7)))
    thickness = draw(st.floats(16, 50))
    count = draw(st.integers(2, 8))
    slice_ = draw(st.floats(20, 60))
    kerf = draw(st.floats(0.5, 4))
    squaring = draw(st.one_of(st.just(0.0), st.floats(0.2, 20)))
    needed = squaring + count * (slice_ + kerf)
    order = draw(st.one_of(st.just(()), st.permutations(range(1, count + 1)).map(tuple)))
    turned = draw(st.dictionaries(st.integers(1, count), st.sampled_from(Lie), max_size=count))
    edge = draw(st.floats(0, 3))
    return Plan(
        name="Random",
        stages=(
            Mill(id="s", thickness=thickness, length=max(needed + draw(st.floats(0, 100)), 80.0), strips=strips),
            Glue(id="g", source="s"),
            Flatten(id="f", source="g", each_face=draw(st.floats(0.1, 3))),
            Crosscut(id="c", source="f", slice=slice_, count=count, kerf=kerf, squaring=squaring),
            Arrange(id="a", source="c", rule=draw(st.sampled_from(Rule)), order=order, turned=turned),
            Glue(id="b", source="a", across=Across.LENGTH),
            Flatten(id="bf", source="b", to=slice_ - draw(st.floats(0, 6))),
            Trim(id="t", source="bf", edge=min(edge, 0.4)),
            Ease(
                id="e",
                source="t",
                size=draw(st.floats(0.5, 3)),
                corners=draw(st.booleans()),
                bottom=draw(st.booleans()),
            ),
        ),
    )


WOODS = ("sycamore", "plum", "robinia")


@st.composite
def pictures(draw: st.DrawFn, most: int = 6, letters: str = "ABC", even: bool | None = None) -> Picture:
    count, columns = draw(st.integers(1, most)), draw(st.integers(1, most))
    rows = draw(st.lists(st.text(letters, min_size=columns, max_size=columns), min_size=count, max_size=count))
    widths = draw(st.lists(st.sampled_from([10.0, 16.0, 25.5]), min_size=columns, max_size=columns))
    if even or (even is None and draw(st.booleans())):
        widths = [max(a, b) for a, b in zip(widths, widths[::-1], strict=True)]
    heights = draw(st.lists(st.sampled_from([12.0, 20.0]), min_size=count, max_size=count))
    return Picture.of(rows=rows, woods=WOODS, widths=widths, heights=heights)
