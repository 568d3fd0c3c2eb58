"""One side alone, sides of their own width, and pieces of their own length, worked out by hand."""

from __future__ import annotations

from typing import Any

import pytest

from laberinto.core.analysis.names import names
from laberinto.core.edits import lamination
from laberinto.core.edits.lamination import Lamina, LaminationError
from laberinto.core.errors import PlanError, StageError
from laberinto.core.geometry.faces import Side
from laberinto.core.stages import Cause
from laberinto.core.units import Lengths
from tests.core.instructions.follower import ends_alike
from tests.core.stages.test_stages import mill, run, section

MM = Lengths()


def stacked(**flatten: Any) -> Any:
    """Ash 12 under elm 12, 60 wide, flattened."""
    return run(
        {"id": "s", "kind": "mill", "thickness": 12, "length": 400,
         "strips": [{"wood": "ash", "width": 60}, {"wood": "elm", "width": 60}]},
        {"id": "p", "kind": "glue", "from": "s", "across": "thickness"},
        {"id": "f", "kind": "flatten", "from": "p", **flatten},
    )  # fmt: skip


@pytest.mark.parametrize(
    ("flatten", "ash", "elm"),
    [
        ({"to": 20, "only": "upper"}, 12, 8), ({"to": 20, "only": "lower"}, 8, 12), ({"to": 20}, 10, 10),
        ({"each_face": 3, "only": "upper"}, 12, 9), ({"each_face": 3}, 9, 9),
    ],
)  # fmt: skip
def test_a_reference_face_loses_nothing(flatten: dict[str, Any], ash: float, elm: float) -> None:
    sim = stacked(**flatten)
    heights = {wood: max(z for _, z in corners) - min(z for _, z in corners) for wood, corners in section(sim, "f")}
    assert heights == {"ash": pytest.approx(ash), "elm": pytest.approx(elm)}
    assert sim["f"].outcome.waste[Cause.FLATTENING] == pytest.approx((24 - ash - elm) * 60 * 400)
    ends_alike(sim)


def test_what_one_side_cannot_give_is_said() -> None:
    with pytest.raises(StageError, match="at most"):
        stacked(each_face=19, only="upper")
    assert stacked(each_face=18, only="upper")["f"].size[2] == pytest.approx(6)


@pytest.mark.parametrize(
    ("trim", "size", "first"),
    [
        ({"edge": 7, "only": "left"}, (53, 400), 13.0), ({"edge": 7, "only": "right"}, (53, 400), 20.0),
        ({"length": 350, "only": "far"}, (60, 350), 20.0), ({"edge": 7, "only": "near"}, (60, 393), 20.0),
    ],
)  # fmt: skip
def test_one_edge_is_cut_against_the_others(trim: dict[str, Any], size: tuple[float, float], first: float) -> None:
    sim = run(
        mill("s", ("ash", 20), ("elm", 40)), {"id": "p", "kind": "glue", "from": "s"},
        {"id": "t", "kind": "trim", "from": "p", **trim},
    )  # fmt: skip
    assert sim["t"].size[:2] == pytest.approx(size)
    wood, corners = section(sim, "t")[0]
    assert wood == "ash" and max(x for x, _ in corners) == pytest.approx(first)
    ends_alike(sim)


def test_flush_takes_all_four_sides() -> None:
    with pytest.raises(PlanError, match="takes all four sides"):
        run(mill("s", ("ash", 20)), {"id": "t", "kind": "trim", "from": "s", "flush": True, "only": "left"})


def framed(**border: Any) -> Any:
    """A core of 200 × 150, standing 80 high, with sides 20 and ends 30 wide."""
    return run(
        {"id": "c", "kind": "mill", "thickness": 150, "length": 80, "strips": [{"wood": "ash", "width": 200}]},
        {"id": "core", "kind": "turn", "from": "c", "turns": ["stand up"]},
        mill("a", ("elm", 60), thickness=20, length=900),
        {"id": "a-cut", "kind": "crosscut", "from": "a", "slice": 80, "count": 10, "squaring": 3},
        {"id": "sides", "kind": "turn", "from": "a-cut", "turns": ["stand up"]},
        mill("b", ("plum", 60), thickness=30, length=1200),
        {"id": "b-cut", "kind": "crosscut", "from": "b", "slice": 80, "count": 13, "squaring": 3},
        {"id": "ends", "kind": "turn", "from": "b-cut", "turns": ["stand up"]},
        {"id": "frame", "kind": "border", "from": "core", "with": ["sides", "ends"], "stagger": False, **border},
    )


def test_each_pair_of_sides_has_its_own_pieces() -> None:
    """150 take three of 60 a side, so four of ten stay over; 240 take four an end, so five of thirteen do. Without a
    word on it, what is left of the first goes on to the ends."""
    sim = framed(sides=["sides", "ends"])
    assert sim["frame"].size == pytest.approx((240, 210, 80))
    assert sim["frame"].outcome.offcuts.pieces == 4 + 5
    left = section(sim, "frame", Side.TOP)
    assert {wood for wood, _ in left} == {"ash", "elm", "plum"}
    assert sum(name.noun == "slice" for name in names(sim)["frame:offcut"]) == 9
    ends_alike(sim)
    assert framed()["frame"].size[1] > 190  # ends begin with the four of 20 that are left


def test_four_sides_of_four_stages_and_what_is_not_taken() -> None:
    assert framed(sides=["sides", "ends", "ends", "sides"])["frame"].size == pytest.approx((250, 200, 80))
    with pytest.raises(StageError, match="a-cut"):
        framed(sides=["a-cut", "ends"])
    with pytest.raises(PlanError, match="four stages"):
        framed(sides=["sides", "ends", "ends"])


def test_strips_of_their_own_length() -> None:
    """A strip of 250 between two of 400 leaves the panel ragged at the far end: 30 × 20 × 150 mm³ are missing."""
    strips = [{"wood": "ash", "width": 30}, {"wood": "elm", "width": 30, "length": 250}, {"wood": "ash", "width": 30}]
    sim = run(
        {"id": "s", "kind": "mill", "thickness": 20, "length": 400, "strips": strips},
        {"id": "p", "kind": "glue", "from": "s"},
    )
    assert sim["p"].size == pytest.approx((90, 400, 20))
    assert sim["p"].volume == pytest.approx((90 * 400 - 30 * 150) * 20)
    ends_alike(sim)


@pytest.mark.parametrize(
    ("line", "strips"),
    [
        ("(ash 10, elm 20, plum 5) mirrored", [("ash", 10), ("elm", 20), ("plum", 5), ("elm", 20), ("ash", 10)]),
        ("(ash 10, elm 20) mirrored x2", [("ash", 10), ("elm", 20), ("ash", 10)] * 2),
        ("(ash 10) mirrored", [("ash", 10)]),
        ("ash 10, (elm 5, 2(plum 4))", None),
        ("beech 2x30 long 250", [("beech", 30, 250), ("beech", 30, 250)]),
        ("beech 30 long", None),
        ("beech 30 long 20", None),
    ],
)  # fmt: skip
def test_mirrored_groups_and_own_lengths_in_a_line(line: str, strips: list[tuple[Any, ...]] | None) -> None:
    if strips is None:
        with pytest.raises(LaminationError):
            lamination.parse(line, MM)
        return
    found = lamination.parse(line.replace("elm", "wych elm"), MM)
    assert found == [Lamina(*strip) for strip in strips]
