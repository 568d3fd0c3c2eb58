"""Scores against faces worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.judging.scores import Score, Scored, scores
from laberinto.core.judging.scores.raster import Raster, repetition
from laberinto.core.plan.simulate import Simulation
from laberinto.core.stages import Ease
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.tones import lightness
from tests.core.stages.test_stages import mill, run


def face(rule: str, slices: int, *strips: tuple[str, float], then: tuple[dict[str, object], ...] = ()) -> Simulation:
    """Strips 20 thick, cut into slices that stand as rows 20 high."""
    return run(
        mill("s", *strips, thickness=20),
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 40, "count": slices, "squaring": 4},
        {"id": "r", "kind": "arrange", "from": "c", "rule": rule},
        {"id": "b", "kind": "glue", "from": "r", "across": "length"},
        *then,
    )


def found(sim: Simulation) -> dict[str, Score]:
    return {score.key: score for score in scores(Scored(sim))}


CHECKER = ("flip-every-other", 4, ("ash", 20), ("wenge", 20), ("ash", 20), ("wenge", 20))


def test_a_checker() -> None:
    """4 × 4 squares of 20: no wood meets its own, each patch is 1/16, joints run 12 × 20 across and 12 × 20 along, so
    the entropy over twelve classes is ln 2 / ln 12 = 0.279; shifted by two squares it is itself again."""
    by = found(face(*CHECKER))
    assert by["same-wood"].value == 0
    assert by["patch"].value == pytest.approx(1 / 16)
    assert by["angles"].value == pytest.approx(math.log(2) / math.log(12))
    assert by["sizes"].value == pytest.approx(0)
    assert by["repetition"].value == pytest.approx(1, abs=1e-6)
    assert len(by["repetition"].shown.boxes) == 2


def test_stripes_of_two_and_one() -> None:
    """Ash 20, ash 20, elm 30 in three rows as cut, 20 high. Joints along: ash to ash 3 × 20, ash to elm 3 × 20; across:
    two of 70, all to their own. Same wood: (60 + 140) / (120 + 140). The ash is one patch of 40 × 60 of 70 × 60. Blocks
    have sides 20, 20 and √600."""
    by = found(face("as-cut", 3, ("ash", 20), ("ash", 20), ("elm", 30)))
    assert by["same-wood"].value == pytest.approx(200 / 260)
    assert by["same-wood"].shown.lines.shape[1:] == (2, 2)
    assert by["patch"].value == pytest.approx(40 / 70)
    assert len(by["patch"].shown.polygons) == 6
    sides = np.array([20, 20, math.sqrt(600)])
    assert by["sizes"].value == pytest.approx(sides.std() / sides.mean())
    assert len(by["sizes"].shown.polygons) == 2  # one of 20 × 20 and one of 30 × 20
    # 120 along and 140 across: −Σ p ln p / ln 12
    p = np.array([120, 140]) / 260
    assert by["angles"].value == pytest.approx(-(p * np.log(p)).sum() / math.log(12))


def test_light_against_dark_is_the_lightest_ninth_less_the_darkest() -> None:
    """Three columns of 40: holly, pear and wenge; every ninth is of one wood."""
    by = found(face("as-cut", 6, ("holly", 40), ("pear", 40), ("wenge", 40)))
    light, dark = (lightness(LIBRARY[key].oiled) for key in ("holly", "wenge"))
    assert by["balance"].value * 100 == pytest.approx(light - dark, abs=1e-6)
    assert [round(box[0]) for box in by["balance"].shown.boxes] == [0, 80]


def test_the_face_is_scored_before_its_edges_are_eased() -> None:
    sim = face(
        *CHECKER, then=({"id": "t", "kind": "trim", "from": "b", "edge": 2}, {"id": "e", "kind": "ease", "from": "t"})
    )
    assert isinstance(sim.results[-1].stage, Ease)
    assert Scored(sim).result.stage.id == "t"


@given(dy=st.integers(12, 14), dx=st.integers(0, 9), seed=st.integers(0, 99))
def test_a_stretch_that_comes_twice_is_found_where_it_lies(dy: int, dx: int, seed: int) -> None:
    """Noise whose upper left is laid in again ``dy`` rows down and ``dx`` columns to the right."""
    light = np.random.default_rng(seed).random((24, 24))
    light[dy:, dx:] = light[: 24 - dy, : 24 - dx].copy()
    repeat = repetition(Raster(light, 2.0), 5.0)
    assert repeat.alike == pytest.approx(1, abs=1e-6) and repeat.turned == "as it lies"
    assert abs(repeat.there[0] - repeat.here[0]) == 2.0 * dx and abs(repeat.there[1] - repeat.here[1]) == 2.0 * dy
    assert repeat.here[2:] == repeat.there[2:] == (2.0 * (24 - dx), 2.0 * (24 - dy))


@given(st.integers(0, 999))
def test_a_mirrored_face_repeats_wholly(seed: int) -> None:
    half = np.random.default_rng(seed).random((10, 8))
    repeat = repetition(Raster(np.hstack([half, half[:, ::-1]]), 1.0), 3.0)
    assert repeat.alike == pytest.approx(1, abs=1e-6) and repeat.turned == "left for right"
    assert repeat.here == repeat.there == (0, 0, 16, 10)


@given(st.integers(0, 999))
def test_turning_a_face_changes_no_score_of_repetition(seed: int) -> None:
    light = np.random.default_rng(seed).random((12, 9))
    found_ = [repetition(Raster(turned, 1.0), 2.0).alike for turned in (light, light[::-1], light[:, ::-1])]
    assert found_ == pytest.approx([found_[0]] * 3)


def test_one_wood_all_over_repeats_wholly() -> None:
    assert found(face("as-cut", 2, ("ash", 30), ("ash", 30)))["repetition"].value == 1
