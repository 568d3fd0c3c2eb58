"""Photos of wood made into tiles: perspective, light, seams, and how a strip is drawn with them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import rings_for
from laberinto.drawing import looks
from laberinto.drawing.looks import Look, sampled
from laberinto.drawing.photograph import colour, evened, perspective, straightened, tile, tileable
from laberinto.drawing.texture import Patch, paint

WHOLE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))


def quarters() -> Image.Image:
    """Four squares, red, green, blue and white."""
    pixels = np.zeros((200, 200, 3), np.uint8)
    pixels[:100, :100], pixels[:100, 100:] = (255, 0, 0), (0, 255, 0)
    pixels[100:, :100], pixels[100:, 100:] = (0, 0, 255), (255, 255, 255)
    return Image.fromarray(pixels)


@given(st.lists(st.floats(-0.08, 0.08), min_size=8, max_size=8))
def test_a_picture_laid_aslant_is_straightened_again(off: list[float]) -> None:
    """Corners of the aslant picture are (0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8), each moved a little; the middle
    of each square of the straight one is of its colour."""
    corners = [
        (x + off[2 * k], y + off[2 * k + 1])
        for k, (x, y) in enumerate(((0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8)))
    ]
    seen = [(x * 400, y * 400) for x, y in corners]
    aslant = quarters().transform((400, 400), Image.Transform.PERSPECTIVE,
                                  perspective(seen, ((0, 0), (200, 0), (200, 200), (0, 200))))  # fmt: skip
    found = np.asarray(straightened(aslant, corners, (100, 100)))
    for (x, y), expected in {(25, 25): (255, 0, 0), (75, 25): (0, 255, 0), (25, 75): (0, 0, 255)}.items():
        assert np.abs(found[y, x].astype(int) - expected).max() < 30


@pytest.mark.parametrize(
    "corners", [((0, 0), (1, 1), (1, 0), (0, 1)), ((0, 0), (0.5, 0), (1, 0), (0, 1)), ((0.5, 0.5),) * 4]
)
def test_corners_that_cross_or_lie_in_a_line_are_refused(corners: tuple[tuple[float, float], ...]) -> None:
    with pytest.raises(ValueError, match="corners"):
        straightened(quarters(), corners, (50, 50))


def test_a_lamp_from_one_side_is_evened_and_the_mean_stays() -> None:
    """From 100 at the left to 200 at the right: afterwards the outer fifths differ by a tenth of that at most."""
    ramp = np.repeat(np.linspace(100, 200, 120)[None, :, None], 80, axis=0).repeat(3, axis=2)
    flat = np.asarray(evened(Image.fromarray(ramp.astype(np.uint8))), float)
    assert abs(flat[:, :24].mean() - flat[:, -24:].mean()) < 10
    assert flat.mean() == pytest.approx(150, abs=6)


def test_edges_of_a_tile_meet_and_its_contrast_stays() -> None:
    """Neighbours over the seam differ no more than neighbours inside do."""
    rng = np.random.default_rng(3)
    smooth = np.asarray(
        Image.fromarray(rng.integers(60, 200, (24, 32, 3), np.uint8)).resize((256, 192), Image.Resampling.BICUBIC)
    )
    made = tileable(Image.fromarray(smooth)).astype(float)
    inside = np.abs(np.diff(made, axis=1)).mean()
    assert np.abs(made[:, 0] - made[:, -1]).mean() < 1.5 * inside
    assert np.abs(made[0] - made[-1]).mean() < 1.5 * np.abs(np.diff(made, axis=0)).mean()
    assert made.std() == pytest.approx(smooth.std(), rel=0.2)


def test_a_wood_with_a_look_is_drawn_from_it_and_without_a_part_from_its_rings() -> None:
    """End grain from a photo of one grey; the face as ever. Oiled it darkens as the wood's colours do."""
    plum = LIBRARY["plum"].model_copy(update={"look": "abc", "raw": "#808080", "oiled": "#404040"})
    grey = np.full((64, 64, 3), 128, np.uint8)
    rings = rings_for(LIBRARY["plum"], 1, 30, 30)
    patch, face = (Patch(section, 0, 0, 0, 20, 20, 2) for section in ("end", "flat"))
    looks.keep({"abc": {"end": Look(lambda: grey, 40.0, 40.0, "raw")}})
    try:
        assert np.all(paint(plum, rings, patch, "raw") == 128)
        assert np.all(np.abs(paint(plum, rings, patch, "oiled").astype(int) - 64) <= 1)
        assert paint(plum, rings, face, "raw").std() > 1
    finally:
        looks.keep({})
    assert paint(plum, rings, patch, "raw").std() > 1


def test_a_tile_repeats_and_two_strips_begin_at_places_of_their_own() -> None:
    wood = LIBRARY["plum"].model_copy(update={"look": "abc"})
    made = tile(quarters().resize((300, 300)), WHOLE, 30, 30)
    looks.keep({"abc": {"end": Look(lambda: made, 30.0, 30.0, "raw")}})
    try:
        a = np.arange(0, 60, 0.5, dtype=np.float32)
        one, other = (sampled(wood, "end", a, a, seed, "raw").astype(int) for seed in (1, 2))
    finally:
        looks.keep({})
    assert np.abs(one[:60, :60] - one[60:, 60:]).max() <= 2 and np.abs(one - other).max() > 20


def test_the_mean_colour() -> None:
    assert colour(np.array([[[10, 20, 30], [30, 40, 50]]])) == "#141e28"
