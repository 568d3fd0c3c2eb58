"""The engine held against the plan format read a second time, by another solid modeller: the same pieces, each wood of
each filling the same room."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.drawn import acted, drawn, seeds
from tests.core.modeller import body, hulls, moments
from tests.core.reading import box, by_wood, read


@pytest.mark.seeded
@pytest.mark.parametrize("seed", [*seeds(60, 200), 110])
def test_the_engine_agrees_with_another_reading(seed: int) -> None:
    data = drawn(seed)
    sim = acted(data)
    if sim is None:
        pytest.skip("this plan cannot be built")
    again = read(data)
    for result in sim.results:
        mine = again[result.stage.id]
        assert len(mine) == len(result.pieces), result.stage.id
        for at, other in enumerate(mine):
            piece = result.pieces[at]
            assert piece.size() == pytest.approx(box(other)[1] - box(other)[0], abs=1e-5), (result.stage.id, at)
            size = max(piece.size())
            scale = np.repeat([1.0, size, size**2], [1, 3, 6])
            for wood, room in by_wood(other).items():
                mine_too = np.array([sim.strips[int(strip)].wood == wood for strip in piece.strip])
                ours = moments(hulls(piece.take(mine_too).moved(-piece.bounds()[0]))) / scale
                theirs = moments(room) / scale
                assert ours == pytest.approx(theirs, abs=1e-6 * theirs[0]), (result.stage.id, at, wood)
            whole = body(piece).volume()
            assert whole == pytest.approx(piece.volume(), rel=1e-6), f"wood inside wood at {result.stage.id}"


def test_most_drawn_plans_can_be_built() -> None:
    """Else the comparison says little."""
    assert sum(acted(drawn(seed)) is not None for seed in range(60)) >= 40
