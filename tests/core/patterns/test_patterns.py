"""Every pattern family: what it promises holds over the range of its parameters, and what cannot be is refused with
the number that would."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from laberinto.core.analysis.effort import effort
from laberinto.core.edits import pattern, rows, stages, strips
from laberinto.core.errors import InputError, StageError
from laberinto.core.fields import Spec
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.patterns.palettes import palettes
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import Severity, check
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY, Tone
from tests.core.instructions.follower import ends_alike

MM = Lengths()
KEYS = sorted(FAMILIES)


def made(key: str, **values: Any) -> tuple[Family, Simulation]:
    family = FAMILIES[key].of(**values)
    return family, simulate(family.plan("Trial"))


def values(spec: Spec, start: Any, far: bool) -> st.SearchStrategy[Any]:
    """Values of a parameter from half to twice where it starts, or as ``far`` as it goes."""
    if spec.kind == "choice":
        return st.sampled_from([value for value, _ in spec.choices])
    if spec.kind == "yes-no":
        return st.booleans()
    if spec.kind == "count":
        least, most = int(spec.least or 0), int(spec.most or 99)
        return st.integers(least, most) if far else st.integers(max(least, start // 2), min(most, start + 4))
    low, high = spec.least or 0.0, spec.most or 1e6
    room = max(abs(start) / 2, 0.01)
    low, high = (low, high) if far else (max(low, start - room), min(high, start + 1.2 * room))
    return st.floats(low, high).map(lambda value: round(value, 2))


@st.composite
def asked_of(draw: st.DrawFn, family: type[Family]) -> dict[str, Any]:
    """All that a form asks for; up to two of it from the whole range, the rest near where it starts."""
    passes = {"passes": str(draw(st.integers(1, 4)))} if "passes" in family.model_fields else {}
    start = family.of(**{name: int(value) for name, value in passes.items()})
    plain = [spec for spec in family.specs_for(passes) if spec.kind != "wood" and not spec.optional]
    plain = [spec for spec in plain if spec.name not in passes]
    far = draw(st.sets(st.sampled_from([spec.name for spec in plain]), max_size=2))
    found = {spec.name: draw(values(spec, start.value(spec.name), spec.name in far), label=spec.name) for spec in plain}
    return found | {name: int(value) for name, value in passes.items()}


ADVICE = re.compile(r"(?:[Tt]ake|Make it) (\d+|\{(\w+)\})(?: (\w+))?")
TO_NOTHING = re.compile(r"[Ss]et (?:the )?(?:skew and )?bevel.* to 0")


def followed(asked: dict[str, Any], refusal: InputError) -> dict[str, Any] | None:
    """What is asked once the refusal's advice is taken, None where it names no number."""
    if TO_NOTHING.search(refusal.template):
        at = refusal.field.rpartition("-")[2]
        return asked | {f"skew-{at}": 0.0, f"bevel-{at}": 0.0}
    advice = ADVICE.search(refusal.template)
    if not advice:
        return None
    number, name, noun = advice.groups()
    field = noun if noun in asked else refusal.field
    value = refusal.mm[name] if name else int(number)
    return asked | {field: value} if asked.get(field) != value else None


REFUSED = 0.25
"""Most that a family may refuse though its advice is taken: more, and the test would test nothing."""
PATIENCE = 6
"""Refusals in a row that are followed."""
FOLLOWED = 3
"""One of so many plans is built by its instructions, too, as random plans of all stages are elsewhere."""


def advised(key: str, asked: dict[str, Any]) -> tuple[Family, Simulation] | None:
    """A family made as asked, or as its refusals advise; None where their advice ends."""
    for _ in range(PATIENCE):
        if key == "weave" and asked["way"] == "same-way":
            asked["plane_sides"] = asked["plane"]  # the exact setting; the next test sets it wrong
        try:
            return made(key, **asked)
        except InputError as wrong:
            assert wrong.field in asked and str(wrong).strip()
            better = followed(asked, wrong)
        except StageError as cannot:  # a hollow or a saw that reaches out of the wood says so
            assert str(cannot).strip()
            better = None
        if better is None:
            return None
        asked = better
    return None


@pytest.mark.parametrize("key", KEYS)
def test_a_family_keeps_its_promises_over_its_range(key: str) -> None:
    tried, refused = [0], [0]

    @settings(max_examples=settings.default.max_examples * 3 // 5)  # type: ignore[union-attr]
    @given(asked=asked_of(FAMILIES[key]))
    def promises(asked: dict[str, Any]) -> None:
        tried[0] += 1
        found = advised(key, asked)
        if found is None:
            refused[0] += 1
            return
        family, sim = found
        truths = family.truths(sim)
        assert truths and not [truth for truth in truths if not truth.holds]
        assert math.isclose(sim.board.size[2], family.thickness, abs_tol=1e-6)
        if tried[0] % FOLLOWED == 1:
            ends_alike(sim)

    promises()
    assert refused[0] <= REFUSED * tried[0]


@pytest.mark.parametrize("key", KEYS)
def test_a_family_as_it_starts_is_a_board_nothing_stops(key: str) -> None:
    family, sim = made(key)
    assert [finding.why for finding in check(sim, MM) if finding.severity is Severity.STOP] == []
    assert sim.plan.pattern and sim.plan.pattern.family == key
    assert pattern.family_of(sim.plan) == family
    asked = effort(sim)
    on_end = sim.board.pieces.cells.on_end  # what stands was glued at least twice
    assert asked.glue_ups >= 1 + on_end and asked.cuts > 8 and 3 + 2 * on_end <= asked.days <= asked.glue_ups + 5


def test_a_weave_planed_unevenly_says_by_how_much_its_bands_miss() -> None:
    """Two bands, the same way round, in bars planed 1 mm on their sides and 2 mm on their faces. A band's middle runs
    along y = x − s/2 from the middle of the square; at y = −(s/2 − 1) it leaves at x = 1, and the next row takes it up
    at x = −1: 2 mm apart. It crosses from bar to bar half way up, whatever was planed."""
    family, sim = made("weave", way="same-way", bands="double", band=8, plane_sides=1.0, plane=2.0)
    bars, level = family.truths(sim)
    assert level.off == pytest.approx(2.0, abs=1e-6) and not level.holds
    assert bars.off == pytest.approx(0.0, abs=1e-6)
    single, sim = made("weave", way="same-way", plane_sides=1.0, plane=2.0)
    assert single.truths(sim)[0].off == pytest.approx(2.0, abs=1e-6)


def test_sizes_worked_out_by_hand() -> None:
    """Brick: half (54 − 6) / 2 = 24 and five of 6 + 54 make 324, less two edges of 3; ten courses of 26 and nine of
    mortar make 314. Tumbling: six hexagons of 28 √3 less half of one and 2; seven rows of 1.5 × 28, 14 and 14 cut off
    at the ends, 8 × 42 + 14 − 28, less 2. Round: what it says. Crossing weave: 8 and 10 squares of 36, less 2. Layered
    diamonds: 8 and 10 squares of 38, nothing off. Zigzag: 8 segments of 36 and 7 stripes of 8, less 2. Slab: 5 blocks
    of 54 less half of one and 6, two rims of 28, less 4; six rows of 48 less 6, two rims of 44, less 4. Long grain: 9
    strips of 28 less 6, and as long as asked."""
    assert made("brick")[1].board.size == pytest.approx((318, 308, 38))
    assert made("tumbling")[1].board.size == pytest.approx((5.5 * 28 * math.sqrt(3) - 2, 8 * 42 + 14 - 28 - 2, 38))
    assert made("round")[1].board.size == pytest.approx((300, 300, 38))
    assert made("crossing")[1].board.size == pytest.approx((286, 358, 38))
    assert made("layered")[1].board.size == pytest.approx((304, 380, 38))
    assert made("zigzag")[1].board.size[0] == pytest.approx(342)
    assert made("slab")[1].board.size == pytest.approx((289, 366, 38))
    assert made("along")[1].board.size == pytest.approx((246, 380, 38))
    # diamonds: squares of 32; the bar before it is cut: (32 + 2) √2 across
    diamonds = made("diamonds")[1]
    assert diamonds["slabs"].size[0] == pytest.approx(34 * math.sqrt(2))
    assert diamonds.board.size == pytest.approx((8 * 32, 10 * 32, 38))
    # mitred chevron: nine layers of 8 at 15° less a climb of 40 tan 15° and 0.5 off either face
    row = 72 / math.cos(math.radians(15)) - 40 * math.tan(math.radians(15)) - 1
    assert made("chevron")[1]["panel-flat"].size[2] == pytest.approx(row)


def test_four_bars_close_to_a_diamond() -> None:
    """Squares of 32, four round each corner. A triangle's middle lies 32/3 from both its short sides: at (64, 32) the
    right angles of four light ones meet, at (32, 64) those of four dark ones, and at (32, 32) only seams end."""
    sim = made("diamonds")[1]
    face = face_of(sim["board"].pieces[0], Side.TOP)
    middles = [face.points[a:b].mean(axis=0) for a, b in zip(face.ptr, face.ptr[1:], strict=False)]
    reach = math.hypot(32 / 3, 32 / 3) + 1e-6
    met = []
    for corner in ((32, 32), (64, 32), (32, 64)):
        near_it = [k for k, middle in enumerate(middles) if math.dist(middle, corner) < reach]
        met.append([sim.strips[int(face.strip[k])].wood for k in near_it])
    assert met[0] == [] and sorted(met[1:]) == [["holly"] * 4, ["plum"] * 4]


@pytest.mark.parametrize(
    ("key", "values", "field", "says"),
    [
        ("alternating", {"strips": 9}, "strips", "Take 8 or 10"),
        ("bands", {"bands": 9, "peak": 50}, "peak", "take 10 bands"),
        ("bands", {"wide": 10}, "wide", "Make it 12 mm or more"),
        ("brick", {"mortar": 20}, "mortar", "Take 13 mm or less"),
        ("rings", {"strips": 7}, "strips", "Take 8"),
        ("blocks", {"depth": 40}, "depth", "Take 34 mm or less"),
        ("weave", {"plane": 15}, "plane", "bear 7.7 mm or less"),
        ("weave", {"way": "same-way", "plane": 12, "square": 20, "band": 10, "plane_sides": 0}, "plane", "off or less"),
        ("weave", {"band": 40}, "band", "Take 25 mm or less"),
        ("diamonds", {"rows": 5}, "rows", "Take 6"),
        ("chevron", {"angle": 40, "layers": 3}, "layers", "layers, or a smaller tilt"),
        ("hollowed", {"depth": 30}, "depth", "Take 26 mm or less"),
        ("round", {"diameter": 80, "cell": 50}, "cell", "Take 40 mm or less"),
        ("stairs", {"dark": "hornbeam"}, "dark", "same wood"),
        ("framed", {"cell": 5}, "cell", "at least 10"),
    ],
)
def test_what_cannot_be_is_refused_with_what_could(key: str, values: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(InputError) as caught:
        FAMILIES[key].of(**values).plan("Trial")
    assert caught.value.field == field
    assert says in str(caught.value)


def test_the_planing_a_weave_can_bear_is_what_it_names() -> None:
    thin = {"way": "same-way", "square": 20, "band": 10, "plane_sides": 0}
    with pytest.raises(InputError) as caught:
        FAMILIES["weave"].of(**thin, plane=12).check()
    most = caught.value.mm["most"]
    FAMILIES["weave"].of(**thin, plane=most).check()
    with pytest.raises(InputError):
        FAMILIES["weave"].of(**thin, plane=most + 0.2).check()


def test_palettes_share_no_wood_and_step_down_in_tone() -> None:
    found = palettes(LIBRARY.values())
    woods = [key for palette in found for key in (palette.light, palette.mid, palette.dark)]
    assert len(found) == 3 and len(set(woods)) == 9
    for palette in found:
        tones = [LIBRARY[key].tone for key in (palette.light, palette.mid, palette.dark)]
        assert tones == [Tone.LIGHT, Tone.MID, Tone.DARK]
    assert palettes([LIBRARY["beech"], LIBRARY["wenge"]]) == []


# -- changing the pattern's numbers on a board that hands have changed --------------------------------------------


def bricks() -> Plan:
    plan = FAMILIES["brick"]().plan("Trial")
    plan = rows.turn(plan, "rows", [2], Lie.END_FOR_END).plan
    plan = strips.set_wood(plan, "strips", [0], "elm").plan
    return stages.insert(plan, "board-flat", "rest").plan


def test_a_pattern_changed_later_keeps_what_hands_did() -> None:
    edit = pattern.set_pattern(bricks(), {"bricks": "3", "courses": "4"}, MM)
    plan = edit.plan
    assert edit.words == "Brick: whole bricks 5 → 3, courses 10 → 4"
    assert len(plan.stage("strips").strips) == 7 and plan.stage("strips").strips[0].wood == "elm"
    assert plan.stage("rows").turned == bricks().stage("rows").turned
    assert plan.stage("rest").source == "board-flat" and plan.stage("trimmed").source == "rest"
    # half 24, three of 60, edges of 3; four courses of 26 and three mortar rows of 6
    assert simulate(plan).board.size == pytest.approx((24 + 180 - 6, 4 * 26 + 18 - 6, 38))


def test_what_no_longer_fits_is_named_and_left_out() -> None:
    """Trimmed by hand to 300 wide; with two bricks the board is 24 + 120 wide."""
    plan = FAMILIES["brick"]().plan("Trial")
    plan = plan.with_stage(plan.stage("trimmed").model_copy(update={"width": 300.0}))
    edit = pattern.set_pattern(plan, {"bricks": "2"}, MM)
    assert edit.words.endswith("changes by hand at trimmed did not fit and were left out")
    assert simulate(edit.plan).board.size[0] == pytest.approx(138)


def test_a_stage_taken_out_stays_out() -> None:
    plan = stages.remove(FAMILIES["bands"]().plan("Trial"), "eased").plan
    after = pattern.set_pattern(plan, {"row": "30"}, MM).plan
    assert "eased" not in [stage.id for stage in after.stages]
    assert after.stage("sanded").source == "trimmed" and after.stage("panel-flat").to == 30


def test_nothing_typed_changes_nothing_and_a_bad_number_is_refused() -> None:
    plan = bricks()
    assert pattern.set_pattern(plan, {"bricks": "5"}, MM).words == ""
    with pytest.raises(InputError, match="too thick") as caught:
        pattern.set_pattern(plan, {"mortar": "25"}, MM)
    assert caught.value.field == "mortar"
    with pytest.raises(InputError, match="not made from a pattern"):
        pattern.set_pattern(plan.model_copy(update={"pattern": None}), {}, MM)


@given(bricks_=st.integers(1, 7), courses=st.integers(2, 12), turned=st.sets(st.integers(0, 9), max_size=4))
def test_there_and_back_again_is_the_board_it_was(bricks_: int, courses: int, turned: set[int]) -> None:
    assume((bricks_, courses) != (5, 10))
    plan = FAMILIES["brick"]().plan("Trial")
    for row in turned:
        plan = rows.turn(plan, "rows", [row], Lie.OTHER_END_UP).plan
    away = pattern.set_pattern(plan, {"bricks": str(bricks_), "courses": str(courses)}, MM).plan
    back = pattern.set_pattern(away, {"bricks": "5", "courses": "10"}, MM).plan
    assert back.as_dict() == plan.as_dict()
