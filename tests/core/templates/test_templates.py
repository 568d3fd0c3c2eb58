"""Templates: how far their edges lie from the cut, worked out by hand, and how sheets cover them."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import (
    Cove,
    Crosscut,
    Feet,
    Flatten,
    Glue,
    Groove,
    Hollow,
    Inlay,
    Mill,
    Notch,
    Profile,
    Rip,
    Shape,
    Stage,
    StripSpec,
    Well,
)
from laberinto.core.templates import MAKERS, Line, Template, templates, tiles
from laberinto.core.templates.tiling import OVERLAP
from laberinto.core.units import Lengths

SHOP = Shop.of(bush=24, guide_bit=12)
MM = Lengths()


def made(*stages: Stage, shop: Shop = SHOP, width: float = 200, length: float = 300) -> dict[str, Template]:
    """Templates of a board 200 × 300 × 40 that gets these stages, by their keys."""
    strip = StripSpec(wood="beech", width=width / 4)
    board = (Mill(id="s", thickness=40, length=length, strips=(strip,) * 4), Glue(id="g", source="s"))
    last, chained = "g", []
    for stage in stages:
        chained.append(stage.model_copy(update={"source": last}))
        last = stage.id
    plan = Plan(name="Try", stages=(*board, *chained))
    return {one.key: one for one in templates(simulate(plan), shop, MM)}


def box(template: Template, line: Line) -> tuple[float, ...]:
    """Left, lower, right and upper end of its lines of one kind."""
    return tuple(shapely.MultiPoint(np.concatenate([s.points for s in template.strokes if s.line is line])).bounds)


def test_a_groove_gets_a_plate_within_and_a_frame_round_it() -> None:
    """Middle 20 in from the edges of 200 × 300: 160 × 260 with arcs of 15. Half a bush of 24 inside and outside that;
    the arcs then have 15 − 12 = 3 and 15 + 12 = 27."""
    found = made(Groove(id="r", inset=20, corner_radius=15, width=12, depth=6))
    assert box(found["r.inner"], Line.CUT) == pytest.approx((32, 32, 168, 268), abs=0.01)
    assert box(found["r.outer"], Line.CUT) == pytest.approx((8, 8, 192, 292), abs=0.01)
    square = (math.pi - 4) * np.array([3.0**2, 27.0**2])
    assert found["r.inner"].area(Line.CUT) == pytest.approx(136 * 236 + square[0], abs=12)
    assert found["r.outer"].area(Line.CUT) == pytest.approx(184 * 284 + square[1], abs=12)
    assert box(found["r.inner"], Line.MADE) == pytest.approx((14, 14, 186, 286), abs=0.01)


def test_what_a_bush_cannot_turn_is_said() -> None:
    """Half a bush of 24 is 12: arcs of 8 come out of a frame but not round a plate. A bit of 26 goes through no such
    bush, so there is no template at all, only the groove."""
    found = made(Groove(id="r", inset=30, corner_radius=8, width=12, depth=6))
    assert any("come out with 12 mm" in words for words in found["r.inner"].says)
    assert not any("come out with" in words for words in found["r.outer"].says)
    wide = made(Groove(id="r", inset=30, width=26, depth=6))
    assert list(wide) == ["r.groove"] and not wide["r.groove"].area(Line.CUT)
    assert any("does not go through" in words for words in wide["r.groove"].says)
    with pytest.raises(InputError, match="through the guide bush") as error:
        Shop.of(bush=12, guide_bit=12)
    assert error.value.field == "guide_bit"


def test_an_opening_is_wider_than_the_pocket_by_the_offset() -> None:
    """(24 − 12) ÷ 2 = 6 all round a pocket of 60 × 60 with corners of 10: 72 × 72 with corners of 16."""
    opening = made(Well(id="w", width=60, length=60, radius=10, inset=15))["w.opening"]
    assert box(opening, Line.CUT) == pytest.approx((119, 9, 191, 81), abs=0.01)
    assert opening.area(Line.CUT) == pytest.approx(72 * 72 - (4 - math.pi) * 16**2, rel=2e-3)
    bearing = made(Well(id="w", width=60, length=60, radius=4), shop=Shop.of(guided="bearing", guide_bit=12))[
        "w.opening"
    ]
    assert box(bearing, Line.CUT) == pytest.approx(box(bearing, Line.MADE), abs=0.01)
    assert any("want a bit of 8 mm or less" in words for words in bearing.says)


def test_the_underside_is_drawn_as_it_is_seen() -> None:
    top = made(Well(id="w", place="front-left"))["w.opening"]
    under = made(Well(id="w", place="front-left", face="bottom"))["w.opening"]
    left, low, right, high = box(top, Line.CUT)
    assert box(under, Line.CUT) == pytest.approx((200 - right, low, 200 - left, high))
    assert any("from below" in words for words in under.says)


def test_an_outline_is_smaller_for_a_bush() -> None:
    """The bit runs outside the board: its middle 6 beside the outline, the bush 12 farther in, so the edge 6 in."""
    outline = made(Shape(id="o", radius=20))["o.outline"]
    assert box(outline, Line.CUT) == pytest.approx((6, 6, 194, 294), abs=0.01)
    assert box(outline, Line.BIT) == pytest.approx((-6, -6, 206, 306), abs=0.01)
    inwards = Shape(id="o", outline="own", radius=0, points=((0, 0), (200, 0), (200, 300), (100, 150), (0, 300)))
    assert any("bulges inwards" in words for words in made(inwards)["o.outline"].says)


def test_a_notch_and_channels() -> None:
    notch = made(Notch(id="n", sides="left", width=90, depth=20, radius=10, shift=10))["n.notch"]
    left, _, right, high = box(notch, Line.CUT)  # on an edge of 300: 115 to 205, 6 wider all round
    assert (left, right, high) == pytest.approx((109, 211, 26), abs=0.01)
    strip = Mill(id="k", thickness=9, length=320, strips=(StripSpec(wood="elm", width=14),))
    plan = Plan(
        name="Let in",
        stages=(
            Mill(id="s", thickness=40, length=300, strips=(StripSpec(wood="beech", width=50),) * 4),
            Glue(id="g", source="s"), strip,
            Inlay(id="i", source="g", **{"with": ("k",)}, at=(60,), depth=5),
        ),
    )  # fmt: skip
    found = {one.key: one for one in templates(simulate(plan), SHOP, MM)}
    assert box(found["i.channels"], Line.MADE) == pytest.approx((53, 0, 67, 300))
    assert box(found["i.channels"], Line.CUT) == pytest.approx((47, -40, 73, 340))
    assert found["i.key"].size[0] >= 14 and any("4 mm stand proud" in words for words in found["i.key"].says)


def test_arcs_and_coves() -> None:
    """An arc of 300 that is 12 deep spans 2 √(2·300·12 − 144) = 167.999 mm; a cove of radius 9.5 that is 8 deep opens
    2 √(9.5² − 1.5²) = 18.761 mm."""
    found = made(Hollow(id="h", radius=300, depth=12, knife=250), width=240)
    card = found["h.hollow"].strokes[0].points
    bottom = card[card[:, 1] < 12.001]
    assert np.ptp(bottom[:, 0]) == pytest.approx(2 * math.sqrt(2 * 300 * 12 - 12**2), abs=0.01)
    assert np.hypot(bottom[:, 0], bottom[:, 1] - 300) == pytest.approx(np.full(len(bottom), 300.0))
    assert "h.knife" in found
    cove = made(Cove(id="c", length=100, radius=9.5, depth=8))["c.cove-1"]
    left, low, right, high = box(cove, Line.MADE)
    assert high - low == pytest.approx(18.761, abs=0.01) and low + high == pytest.approx(40, abs=0.01)
    assert box(cove, Line.BIT)[::2] == pytest.approx((150 - 40.5, 150 + 40.5))
    assert right - left < 100


def test_sections_and_angles() -> None:
    """A diamond in a square has four right angles and is sawn at 45°; a gauge of 70 × tan 22.5° leans 28.995."""
    diamond = made(Profile(id="p", section="diamond"), width=160)
    assert [label.words for label in diamond["p.section"].labels].count("90°") == 0  # 160 × 40: flat, not square
    strips = Plan(
        name="Square",
        stages=(Mill(id="s", thickness=40, length=300, strips=(StripSpec(wood="beech", width=40),) * 2),
                Profile(id="p", source="s", section="diamond", rest_on=1), Glue(id="g", source="p")),
    )  # fmt: skip
    square = {one.key: one for one in templates(simulate(strips), SHOP, MM)}
    assert {label.words for label in square["p.section"].labels} == {"90°"} and "p.tilt-45" in square
    gauge = made(Crosscut(id="c", slice=40, count=2, skew=-22.5))["c.skew-22.5"]
    (card,) = gauge.strokes
    assert np.ptp(card.points[:, 0]) - 60 == pytest.approx(70 * math.tan(math.radians(22.5)))
    assert not made(Crosscut(id="c", slice=40, count=2)) and "r.tilt-30" in made(Rip(id="r", width=40, bevel=30))


def test_cauls_fill_what_leans_and_only_that() -> None:
    """Strips 40 thick ripped at 15° lean by 40 · tan 15° = 10.718 on both sides of their glue-up: a caul is 30 · 40 and a
    triangle of 40 · 10.718 ÷ 2."""
    found = made(Rip(id="r", width=30, count=4, bevel=15, squaring=15), Glue(id="p"))
    assert {key for key in found if key.startswith("p")} == {"p.caul-left", "p.caul-right"}
    for key in ("p.caul-left", "p.caul-right"):
        assert found[key].area(Line.CUT) == pytest.approx(1200 + 40 * 40 * math.tan(math.radians(15)) / 2, rel=1e-4)
    assert not any("caul" in key for key in made(Flatten(id="f", each_face=1)))


FLATTENED = Flatten(id="f", each_face=1, method="router-sled")


def test_the_base_of_a_router_sled() -> None:
    """Over 300 the middle of a bit of 38 runs 300 + 38 + 2 × 5 = 348, in an opening 3 wider on every side: 392 × 44. The
    stops stand 348 and the router's 170 apart, with 20 of stop and cheek round them: 558 × 210."""
    base = made(FLATTENED, shop=Shop.of(sled_bit=38, sled_base=170))["f.sled"]
    plate, opening = (stroke for stroke in base.strokes if stroke.line is Line.CUT)
    assert base.size == pytest.approx((558, 210))
    assert tuple(np.ptp(opening.points, axis=0)) == pytest.approx((392, 44))
    assert opening.points.mean(axis=0) == pytest.approx(plate.points.mean(axis=0), abs=0.01)
    ways = np.ptp(box(base, Line.BIT)[::2]), box(base, Line.BIT)[1]
    assert ways == pytest.approx((348, 105))
    assert "f.sled" not in made(Flatten(id="f", each_face=1))
    # the rails carry it: 300 and twice the bit between them, 40 each; with a small router that is what counts
    small = made(FLATTENED, shop=Shop.of(sled_bit=38, sled_base=60))["f.sled"]
    assert small.size == pytest.approx((300 + 76 + 80, 100))


def test_feet_and_wedges() -> None:
    corner = made(Feet(id="t", inset=30, pilot=3))["t.corner"]
    assert box(corner, Line.MADE) == pytest.approx((28.5, 28.5, 31.5, 31.5), abs=0.05)
    wedge = made(FLATTENED)["f.shim"]
    for stroke in wedge.strokes[1:]:
        (x, _), (_, high) = stroke.points
        assert high == pytest.approx(x * 6 / 120)  # 6 mm over 120


def test_a_row_strip_is_as_long_as_the_rows() -> None:
    """Six slices of 38 flattened from 40 are rows of 40 in the clamps, as thick as the panel is: 5 lines between."""
    plan = FAMILIES["alternating"](strips=4, slices=6).plan("Rows")
    sim = simulate(plan)
    (strip,) = [one for one in templates(sim, SHOP, MM) if one.title == "Row strip"]
    glue = sim[strip.stage]
    assert strip.size[1] == pytest.approx(float(glue.pieces[0].size()[1]))
    lines = sorted(s.points[0][1] for s in strip.strokes if s.line is Line.BOARD)
    each = strip.size[1] / 6
    assert lines == pytest.approx([each * k for k in range(1, 6)])
    marks = [label for label in strip.labels if label.words.isdigit()]
    assert sorted(int(label.words) for label in marks) == [1, 2, 3, 4, 5, 6]
    assert "flip" in {label.words for label in strip.labels}


@pytest.mark.parametrize("family", sorted(FAMILIES))
def test_every_board_of_the_gallery_has_what_it_needs(family: str) -> None:
    plan = FAMILIES[family]().plan("All")
    found = templates(simulate(plan), SHOP, MM)
    assert len({one.key for one in found}) == len(found)
    assert {plan.stage(one.stage).__class__ for one in found} <= set(MAKERS)
    for one in found:
        assert one.says and all(np.isfinite(s.points).all() and len(s.points) > 1 for s in one.strokes)


@given(
    st.floats(1, 1200), st.floats(1, 1200), st.floats(100, 300), st.floats(100, 300), st.floats(0.95, 1.05)
)  # fmt: skip
def test_sheets_cover_a_drawing_and_overlap(width: float, height: float, wide: float, high: float, by: float) -> None:
    every = tiles(width, height, (wide, high), by)
    assert max(t.left + t.width for t in every) >= width - 1e-6
    assert max(t.top + t.height for t in every) >= height - 1e-6
    columns = sorted({t.left for t in every})
    for left, following in pairwise(columns):
        assert (left + wide / by - following) * by == pytest.approx(OVERLAP)
    assert all(t.width * by == pytest.approx(wide) and t.height * by == pytest.approx(high) for t in every)
    # no sheet more than it takes
    assert len(columns) == 1 or columns[-1] + OVERLAP / by < width + 1e-6
