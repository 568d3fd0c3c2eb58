"""Lessons found from figures, by hand."""

from __future__ import annotations

from laberinto.core.asbuilt.recurring import Found, Reading, recurring
from laberinto.core.patterns import Alternating, Brick
from laberinto.core.plan.model import Plan

CHECKER = Alternating(strips=6, slices=6).plan("Any")


def found(*offs: tuple[int, str, str, float], plan: Plan = CHECKER) -> list[Found]:
    return recurring([Reading(b, plan, stage, what, off) for b, stage, what, off in offs], str, "{:.1f} mm".format)


def test_three_short_boards_with_thin_panels_make_one_lesson_at_the_planer() -> None:
    """Medians: −0.3 of −0.3, −0.4, −0.2 and −4 of −4, −5, −3. The board before them, over plan, no longer counts."""
    read = [(1, "panel-flat.flatten", "to", 0.5)]
    for board, thin, short in ((2, -0.3, -4), (3, -0.4, -5), (4, -0.2, -3)):
        read += [(board, "panel-flat.flatten", "to", thin), (board, "trimmed.ends", "", short)]
    (one,) = found(*read)
    assert "4.0 mm under plan in" in one.text and "0.3 mm under plan. Plan 0.3 mm more there?" in one.text
    assert (one.when.family, one.when.kind, one.boards) == (CHECKER.pattern.family, "flatten", (2, 3, 4))  # type: ignore[union-attr]


def test_two_boards_mixed_signs_and_trifles_are_no_lesson() -> None:
    assert not found((1, "panel-flat.flatten", "to", -0.5), (2, "panel-flat.flatten", "to", -0.5))
    assert not found(*((b, "panel-flat.flatten", "to", off) for b, off in ((1, -0.5), (2, 0.5), (3, -0.5))))
    assert not found(*((b, "panel-flat.flatten", "to", off) for b, off in ((1, -0.5), (2, -0.1), (3, -0.5))))


def test_families_do_not_mix_and_what_a_plan_no_longer_has_is_left_out() -> None:
    other = Brick().plan("Other")
    read = [Reading(b, plan, "panel-flat.flatten", "to", -0.5) for b, plan in ((1, CHECKER), (2, other), (3, CHECKER))]
    assert not recurring(read, str, str)
    assert not found(*((b, "gone.flatten", "to", -0.5) for b in (1, 2, 3)))
