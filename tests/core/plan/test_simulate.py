"""Plans acted out: the ledger, and boards worked out by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.analysis.figures import Figures, figures, rows
from laberinto.core.errors import StageError
from laberinto.core.geometry.faces import SECTIONS, Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import check
from laberinto.core.shop import Shop
from laberinto.core.stages import Arrange, Cause, Crosscut, Flatten, Rule, Trim
from laberinto.core.steps import Step, steps
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from tests.core.strategies import plans

CHECKER = Alternating(strips=12, strip_width=30, row=32, slices=10, thickness=36, panel_length=500, flatten_panel=1.5)
"""12 strips 30 mm wide, 32 mm thick after planing, sliced at 40 mm with 3 mm kerf."""


@given(plans())
def test_wood_in_is_board_and_offcuts_and_dust_at_every_stage(plan: Plan) -> None:
    sim = simulate(plan, remember=False)
    gone = 0.0
    for result in sim.results:
        gone += sum(result.outcome.waste.values())
        assert result.volume + gone == pytest.approx(sim.milled, rel=1e-9)
        offcut = result.outcome.waste.get(Cause.OFFCUT, 0.0)
        assert result.outcome.offcuts.volume() == pytest.approx(offcut, abs=1e-6)


@given(plans())
def test_joints_cover_what_meets_and_the_face_covers_the_board(plan: Plan) -> None:
    sim = simulate(plan, remember=False)
    width, _, thickness = sim["a"].size
    # rows are boxes of one width and thickness here, so every joint is that rectangle
    for joint in sim["b"].outcome.joints:
        assert joint.area == pytest.approx(width * thickness, rel=1e-9)
        assert joint.areas.sum() == pytest.approx(joint.area)
        assert joint.mixed == 0
    x, y, _ = sim["t"].size
    for side in (Side.TOP, Side.BOTTOM):
        assert face_of(sim["t"].pieces[0], side).areas().sum() == pytest.approx(x * y, rel=1e-9)


@given(plans())
def test_every_polygon_lies_where_its_map_carries_it(plan: Plan) -> None:
    board = simulate(plan, remember=False).board.pieces[0]
    for side in Side:
        face = face_of(board, side)
        for i in range(len(face)):
            corners = slice(face.ptr[i], face.ptr[i + 1])
            carried = face.local[corners] @ face.maps[i][:, :2].T + face.maps[i][:, 2]
            assert np.abs(carried - face.points[corners]).max() < 1e-9


def test_what_is_read_off_a_plan_is_worked_out_once_for_the_plan_and_the_woods_as_they_are() -> None:
    plan, shop = CHECKER.plan("Kept"), Shop()

    def read(of: Plan, here: Shop = shop) -> tuple[Step, Figures]:
        sim = simulate(of)
        return steps(sim, shop=here)[0], figures(sim, here)

    first = read(plan)
    assert all(one is same for one, same in zip(first, read(plan), strict=True))
    assert check(simulate(plan), shop=shop) == check(simulate(plan.model_copy()), shop=shop)
    other = read(plan, Shop.of(kerf=2.0))  # what was asked before it stays at hand
    assert other[0] is not first[0] and read(plan)[0] is first[0]
    twice = plan.model_copy(update={"times": 2})
    assert read(twice)[0].times == 2 and read(plan)[0] is first[0]
    wood = LIBRARY[plan.strip_woods[0]]
    try:
        LIBRARY.take_in([wood.model_copy(update={"density": 2 * wood.density})])
        assert read(plan)[1].weight > 1.2 * first[1].weight
    finally:
        LIBRARY.take_in(())
    assert read(plan)[1] == first[1]
    got = steps(simulate(plan), shop=shop)
    got.clear()  # what somebody does to their list is no one else's
    assert steps(simulate(plan), shop=shop)


def test_the_checker_worked_out_by_hand() -> None:
    """Panel 12 × 30 = 360 wide, strips 35 thick planed to 32, 500 long.

    Slices of 36 + 2 × 2 = 40; 5 squaring + 10 × (40 + 3) = 435 used, 65 left.
    Board 360 × (10 × 32 = 320) × 40, flattened to 36, trimmed 3 a side: 354 × 314 × 36.
    """
    sim = simulate(CHECKER.plan("Hand-worked"))
    sizes = {line.stage: (line.pieces, line.width, line.length, line.thickness) for line in figures(sim).stages}
    assert sizes["strips"] == (12, 30, 500, 35)
    assert sizes["panel"] == (1, 360, 500, 35)
    assert sizes["panel-flat"] == (1, 360, 500, 32)
    assert sizes["slices"] == pytest.approx((10, 360, 40, 32))
    assert sizes["rows"] == pytest.approx((10, 360, 32, 40))
    assert sizes["board"] == pytest.approx((1, 360, 320, 40))
    assert sizes["board-flat"] == pytest.approx((1, 360, 320, 36))
    assert sizes["trimmed"] == pytest.approx((1, 354, 314, 36))

    waste = {(r.stage.id, cause): v for r in sim.results for cause, v in r.outcome.waste.items()}
    assert waste["panel-flat", Cause.FLATTENING] == pytest.approx(360 * 500 * 3)
    assert waste["slices", Cause.KERF] == pytest.approx(11 * 3 * 360 * 32)  # squaring cut and ten slices
    assert waste["slices", Cause.OFFCUT] == pytest.approx((2 + 65) * 360 * 32)
    assert waste["board-flat", Cause.FLATTENING] == pytest.approx(360 * 320 * 4)
    assert waste["trimmed", Cause.TRIMMING] == pytest.approx((360 * 320 - 354 * 314) * 36)

    f = figures(sim)
    assert (f.rows, f.cells, f.joints) == (10, 120, 11 + 9)
    assert f.joint_area == pytest.approx(11 * 500 * 35 + 9 * 360 * 40)
    # 200 g/m² on both faces of 0.1925 + 0.1296 m²
    assert f.glue_grams == pytest.approx(250 * 0.3221)


def test_weight_is_volume_times_density() -> None:
    """Half beech (710 kg/m³), half plum (795): a 300 × 300 × 40 block of 3.6 l weighs 2.709 kg before easing."""
    sim = simulate(Alternating(slices=10, thickness=40, edge=0).plan("x"))
    block = sim["trimmed"].pieces.cells
    kg = sum(v * 1e-9 * sim.woods[w].density for w, v in sim.wood_volumes(block).items())
    assert kg == pytest.approx(3.6e-3 * (710 + 795) / 2)


def test_easing_takes_the_prisms_it_should() -> None:
    """A 2 mm chamfer on the eight long edges of 294 × 384: each takes 2 mm² × length, and where two meet at a
    corner the pair takes 2·2·2/3 mm³ less than the two prisms together."""
    sim = simulate(Alternating().plan("x"))
    assert sim["eased"].outcome.waste[Cause.SHAPING] == pytest.approx(2 * (2 * 2 * (294 + 384) - 4 * 8 / 3))


def reading(sim: Simulation, row: int) -> list[str]:
    """Woods along a row of the finished face, left to right."""
    face, band = face_of(sim["trimmed"].pieces[0], Side.TOP), rows(sim)[row]
    middle = (band.start + band.end) / 2
    hit = []
    for i in range(len(face)):
        points = face.points[face.ptr[i] : face.ptr[i + 1]]
        if points[:, 1].min() < middle < points[:, 1].max():
            hit.append((points[:, 0].min(), sim.strips[int(face.strip[i])].wood))
    return [wood for _, wood in sorted(hit)]


def test_flipping_every_other_makes_a_checker() -> None:
    sim = simulate(Alternating(light="beech", dark="plum", strips=4, slices=3).plan("x"))
    assert reading(sim, 0) == ["beech", "plum", "beech", "plum"]
    assert reading(sim, 1) == ["plum", "beech", "plum", "beech"]
    assert reading(sim, 2) == reading(sim, 0)


@pytest.mark.parametrize("lie", Lie)
def test_a_slice_turned_twice_shows_its_first_face(lie: Lie) -> None:
    plan = Alternating(strips=4, slices=2).plan("x")
    arrange = plan.stage("rows")
    assert isinstance(arrange, Arrange)
    plain = arrange.model_copy(update={"rule": Rule.AS_CUT})
    once = simulate(plan.with_stage(plain.model_copy(update={"turned": {2: lie}})))
    assert (reading(once, 1) == reading(once, 0)) is not lie.reverses
    twice = simulate(plan.with_stage(plain.model_copy(update={"turned": {2: lie.then(lie)}})))
    assert reading(twice, 1) == reading(twice, 0)


def test_rings_mirror_when_a_slice_is_flipped() -> None:
    """The map of a flipped slice's strip is the unflipped one mirrored left to right, so its rings are too."""
    sim = simulate(Alternating(strips=4, slices=2, edge=0).plan("x"))
    face = face_of(sim["board"].pieces[0], Side.TOP)
    middles = [face.points[face.ptr[i] : face.ptr[i + 1], 1].mean() for i in range(len(face))]
    mine = sorted((middle, i) for i, middle in enumerate(middles) if face.strip[i] == 0)
    assert {SECTIONS[s] for s in face.section} == {"end"}
    first, second = (face.maps[i][:, :2] for _, i in mine)
    assert (second @ np.linalg.inv(first)).tolist() == [[-1, 0], [0, 1]]


def test_only_what_follows_an_edit_is_cut_again() -> None:
    plan = Alternating().plan("x")
    before = simulate(plan)
    ease = plan.stage("eased").model_copy(update={"size": 4.0})
    after = simulate(plan.with_stage(ease))
    assert after["board"].outcome is before["board"].outcome
    assert after["eased"].outcome is not before["eased"].outcome


@pytest.mark.parametrize(
    ("stage", "changes", "says", "fix"),
    [
        # 5 + 13 × 45 = 590 of 650 are used; 15 slices need 680
        ("slices", {"count": 15}, "27 mm too short", "Make the panel 27 mm longer, or cut 14 slices"),
        ("panel-flat", {"to": None, "each_face": 14.0}, "leaves 5 mm, 1 mm less", "at most 13.5 mm off each face"),
        ("board-flat", {"to": 43.0}, "only 42 mm thick", "Flatten to 41 mm or less"),
        ("trimmed", {"length": 400.0}, "10 mm short of 400 mm", "390 mm or less, or add slices"),
        ("eased", {"size": 19.5}, "eats the whole edge", "under 19 mm"),
        ("rows", {"order": (1, 1)}, "laid twice", "one row"),
    ],
)
def test_what_cannot_be_done_says_where_by_how_much_and_what_would(
    stage: str, changes: dict[str, object], says: str, fix: str
) -> None:
    plan = Alternating().plan("x")
    with pytest.raises(StageError) as caught:
        simulate(plan.with_stage(plan.stage(stage).model_copy(update=changes)))
    assert caught.value.stage == stage
    assert says in str(caught.value)
    assert fix in str(caught.value)


def test_a_message_speaks_the_shops_units() -> None:
    plan = Alternating().plan("x")
    slices = plan.stage("slices").model_copy(update={"count": 15})
    with pytest.raises(StageError) as caught:
        simulate(plan.with_stage(slices))
    # 30 mm is 75.6/64 in: 38/32 is 0.16 mm over
    assert 'Make the panel 1 1/16" longer' in caught.value.say(Lengths("in", 32))


@given(st.floats(0.1, 20))
def test_a_squaring_cut_thinner_than_the_blade_is_all_dust(squaring: float) -> None:
    base = CHECKER.changed(squaring=squaring)
    out = simulate(base.plan("x"))["slices"].outcome
    kerf = (10 * 3 + min(squaring, 3)) * 360 * 32
    assert out.waste[Cause.KERF] == pytest.approx(kerf)


def test_parameters_are_validated_where_they_are_declared() -> None:
    with pytest.raises(ValueError, match="either a thickness"):
        Flatten(id="f", source="p", to=30, each_face=1)
    with pytest.raises(ValueError, match="less than or equal to 8"):
        Crosscut(id="c", source="p", kerf=9)
    assert Trim(id="t", source="p").width is None
