"""Lists set on a drawing, worked out by hand on a panel of 240 × 300 × 30 and boards made of it."""

from __future__ import annotations

from typing import Any

import pytest

from laberinto.core.edits import drawn
from laberinto.core.errors import InputError
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.units import Lengths

MM = Lengths()


def plan(*stages: dict[str, Any]) -> Plan:
    strips = [{"wood": "ash", "width": 60, "count": 2}, {"wood": "elm", "width": 60, "count": 2}]
    first = [
        {"id": "s", "kind": "mill", "thickness": 30, "length": 300, "strips": strips},
        {"id": "p", "kind": "glue", "from": "s"},
    ]
    return read_plan({"format": "laberinto-plan", "version": 1, "name": "Drawn", "stages": [*first, *stages]})


def rip(**more: Any) -> Plan:
    return plan({"id": "r", "kind": "rip", "from": "p", "kerf": 3, **more})


def widths(made: Plan) -> tuple[float, ...]:
    return made.stage("r").widths  # type: ignore[attr-defined, no-any-return]


def test_a_line_of_a_rip_widens_one_side_and_narrows_the_other() -> None:
    """Widths 50, 60, 70 with kerfs of 3 after a first cut of 4: lines at 54, 117 and 190. The second dragged to 127
    makes 70 and 60."""
    before = rip(widths=[50, 60, 70], squaring=4)
    found = drawn.pad_of(before, "r")
    assert found is not None
    assert [run[0][0] for run in found[0].runs] == [54, 117, 190] and found[0].size == (240, 30)
    assert widths(drawn.move(before, "r", 1, 0, (127.1, 9), MM).plan) == (50, 70, 60)
    # the strips' joints hold a drag: at 120 lies one
    assert 120.0 in found[0].snaps[0]
    # put in at 30: 26 from the first cut, and 50 − 26 − 3 behind the kerf
    assert widths(drawn.add(before, "r", 0, 0, (30, 0), MM).plan) == (26, 21, 60, 70)
    # taken out: two pieces and the kerf between them become one; the last goes
    assert widths(drawn.remove(before, "r", 0, 0, MM).plan) == (113, 70)
    assert widths(drawn.remove(before, "r", 2, 0, MM).plan) == (50, 60)


def test_one_width_for_all_becomes_a_list_when_it_is_drawn_on() -> None:
    """40 wide with kerfs of 3: five fit into 240, lines at 40, 83, 126, 169, 212; the first dragged to 44.2, which is
    44 on paper, narrows the second by 4."""
    made = drawn.move(rip(width=40), "r", 0, 0, (44.2, 0), MM).plan
    assert widths(made) == (44, 36, 40, 40, 40)
    assert [round(float(w), 6) for w in simulate(made)["r"].pieces.cells.piece_sizes()[:, 0]] == [44, 36, 40, 40, 40]


def test_no_line_is_drawn_where_no_piece_would_be_left() -> None:
    with pytest.raises(InputError, match="no room for a cut"):
        drawn.move(rip(widths=[50, 60]), "r", 0, 0, (112.8, 0), MM)
    with pytest.raises(InputError, match="not there any more"):
        drawn.move(rip(widths=[50, 60]), "r", 7, 0, (10, 0), MM)


def test_corners_are_dragged_mirrored_put_in_and_taken_out() -> None:
    before = plan({"id": "o", "kind": "shape", "from": "p", "radius": 0})
    found = drawn.pad_of(before, "o")
    assert found is not None and found[0].runs == (((0, 0), (240, 0), (240, 300), (0, 300)),)  # the board as it is
    one = drawn.move(before, "o", 0, 2, (210, 280), MM, mirrored=True).plan
    assert one.stage("o").points == ((0, 0), (240, 0), (210, 280), (30, 280))  # type: ignore[attr-defined]
    two = drawn.add(one, "o", 0, 2, (120, 300), MM).plan
    assert two.stage("o").points[3] == (120, 300)  # type: ignore[attr-defined]
    # the trapezium 240 and 180 wide, 280 high, and a roof of 180 × 20 on it: 58800 + 1800 mm²
    assert simulate(two)["o"].volume == pytest.approx((58800 + 1800) * 30)
    three = drawn.remove(drawn.remove(two, "o", 0, 3, MM).plan, "o", 0, 2, MM).plan
    assert len(three.stage("o").points) == 3  # type: ignore[attr-defined]
    with pytest.raises(InputError, match="Three corners"):
        drawn.remove(three, "o", 0, 0, MM)


def test_runs_of_a_groove_are_begun_drawn_on_and_given_up() -> None:
    before = plan({"id": "g", "kind": "groove", "from": "p", "depth": 4, "width": 6})
    one = drawn.add(before, "g", 0, 0, (120, 0), MM).plan
    assert one.stage("g").runs == (((120, 60), (120, 240)),)  # type: ignore[attr-defined]
    two = drawn.add(drawn.add(one, "g", 0, 1, (180, 240), MM).plan, "g", 1, 0, (60, 0), MM).plan
    assert [len(run) for run in two.stage("g").runs] == [3, 2]  # type: ignore[attr-defined]
    gone = drawn.remove(two, "g", 1, 0, MM).plan
    assert [len(run) for run in gone.stage("g").runs] == [3]  # type: ignore[attr-defined]


def test_a_section_is_drawn_from_what_it_is() -> None:
    """The diamond in a panel of 240 × 30 as a start; its top dragged to the left."""
    before = plan({"id": "d", "kind": "profile", "from": "p", "section": "diamond", "kerf": 2})
    made = drawn.move(before, "d", 0, 2, (100, 30), MM).plan.stage("d")
    assert made.points == ((120, 0), (240, 15), (100, 30), (0, 15))  # type: ignore[attr-defined]


def test_places_of_inlaid_strips_are_dragged() -> None:
    lines = {
        "id": "l",
        "kind": "mill",
        "thickness": 6,
        "length": 320,
        "strips": [{"wood": "holly", "width": 5, "count": 3}],
    }
    before = plan(lines, {"id": "i", "kind": "inlay", "from": "p", "with": ["l"], "at": [60, 180], "depth": 4})
    made = drawn.add(drawn.move(before, "i", 0, 0, (80.1, 4), MM).plan, "i", 0, 0, (120, 9), MM).plan
    assert made.stage("i").at == (80, 120, 180)  # type: ignore[attr-defined]
    assert drawn.remove(made, "i", 1, 0, MM).plan.stage("i").at == (80, 180)  # type: ignore[attr-defined]


def test_what_has_no_list_or_no_wood_has_no_drawing() -> None:
    assert drawn.pad_of(rip(width=40), "p") is None
    assert drawn.pad_of(plan({"id": "r", "kind": "rip", "from": "p", "width": 400, "kerf": 3}), "p") is None
    with pytest.raises(InputError, match="Nothing can be drawn here"):
        drawn.move(rip(width=40), "p", 0, 0, (1, 1), MM)


def test_more_lines_than_a_hand_can_tell_apart_are_not_drawn() -> None:
    """3 wide with kerfs of 3: forty fit into 240; 2.8 wide, one more."""
    assert [drawn.pad_of(rip(width=width), "r") is not None for width in (3.0, 2.8)] == [True, False]
