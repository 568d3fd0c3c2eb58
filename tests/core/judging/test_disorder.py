"""Disorder against faces whose order nobody would dispute."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.judging.outlook import outlook
from laberinto.core.judging.scores import Scored, disorder_of
from laberinto.core.judging.scores.disorder import disorder
from laberinto.core.judging.scores.raster import Raster
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate

CELL = 5


def of(grid: np.ndarray) -> float:
    """The disorder of a face of squares of 20 mm whose woods a grid names."""
    light = 0.2 + 0.3 * np.kron(grid, np.ones((CELL, CELL)))
    return disorder(Raster(light, 20.0 / CELL), grid.size, 20.0)


def shuffled(n: int, woods: int, seed: int, columns: int = 0) -> np.ndarray:
    cells = np.arange(n * (columns or n)) % woods
    return np.random.default_rng(seed).permutation(cells).reshape(n, columns or n)


def regular(n: int) -> dict[str, np.ndarray]:
    i, j = np.indices((n, n))
    panel = shuffled(1, 2, 3, n)[0]
    half = shuffled(n, 2, 4, n // 2)
    return {
        "checker": (i + j) % 2, "stripes": j % 2, "rows": i % 2, "three woods aslant": (i + j) % 3,
        "a band that wanders": np.where(i % 2 == 0, j * j // n % 2, (n - 1 - j) ** 2 // n % 2),
        "one panel, every other row flipped": np.stack([panel if row % 2 else panel[::-1] for row in range(n)]),
        "two halves alike": np.hstack([half, half]), "one wood": np.zeros((n, n), int),
    }  # fmt: skip


@pytest.mark.parametrize("n", [8, 12, 16])
@pytest.mark.parametrize("name", sorted(regular(8)))
def test_whatever_repeats_has_none(name: str, n: int) -> None:
    assert of(regular(n)[name]) == pytest.approx(0, abs=0.02)


@given(st.sampled_from([8, 12, 16]), st.sampled_from([2, 3, 4]), st.integers(0, 9999))
def test_a_true_shuffle_has_most_of_it(n: int, woods: int, seed: int) -> None:
    assert 0.6 <= of(shuffled(n, woods, seed)) <= 1


@given(st.sampled_from([8, 12, 16]), st.integers(0, 9999))
def test_mirrored_halves_lie_between(n: int, seed: int) -> None:
    half = shuffled(n, 2, seed, n // 2)
    assert 0.3 <= of(np.hstack([half, half[:, ::-1]])) <= 0.52


@given(st.sampled_from([8, 12]), st.integers(0, 9999))
def test_turning_a_face_changes_nothing(n: int, seed: int) -> None:
    grid = shuffled(n, 2, seed)
    assert [of(grid[::-1]), of(grid[:, ::-1]), of(grid.T)] == pytest.approx([of(grid)] * 3)


def test_boards_of_regular_families_have_little_and_a_pass_gives_some() -> None:
    found = {}
    for family in ("alternating", "brick", "stairs", "bands", "chaos"):
        found[family] = disorder_of(Scored(simulate(FAMILIES[family]().plan("Order"))))
    assert max(value for family, value in found.items() if family != "chaos") < 0.15 < found["chaos"]
    passes = outlook(FAMILIES["alternating"]().plan("Again"), seed=2, most=3)
    assert passes.points[0].disorder < 0.1 and passes.best > 0  # a checker is worth cutting again, for who wants chaos
    assert passes.points[passes.best].disorder > passes.points[0].disorder + 0.2
