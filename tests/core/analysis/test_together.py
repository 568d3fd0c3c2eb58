"""Boards added up, by hand."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from laberinto.core.analysis.together import CHOICES, Made, added, faults, months, woods


def made(number: int, month: int | None, **more: object) -> Made:
    finished = datetime(2026, month, 3, tzinfo=UTC) if month else None
    values = {"hours": 10.0, "price": 200.0, "materials": 50.0, "waste": 0.3, "woods": {"plum": 2.0}} | more
    return Made(number, f"Board {number}", datetime(2026, 1, 1, tzinfo=UTC), finished, **values)  # type: ignore[arg-type]


ONE = made(1, 3, real_hours=12.0, got=260.0, faults=("void", "void", "chip"))
TWO = made(2, 3, waste=0.5, woods={"plum": 1.0, "elm": 4.0}, got=150.0, faults=("void",))
THREE = made(3, 5, real_hours=8.0)
OPEN = made(4, None)


def test_what_is_known_is_set_against_what_was_planned_of_the_same() -> None:
    """Hours of 1 and 3: 20 planned, 20 taken. Money of 1 and 2: 400 asked, 410 got. (260 − 50) ÷ 12 = 17.5 an hour, of the
    one board of which both are known. Waste (0.3 + 0.5 + 0.3) ÷ 3."""
    total = added([ONE, TWO, THREE])
    assert (total.boards, total.hours, total.real_hours, total.price, total.got) == (3, 20, 20, 400, 410)
    assert total.an_hour == pytest.approx(17.5) and total.waste == pytest.approx(1.1 / 3)
    assert ONE.an_hour == pytest.approx(17.5) and TWO.an_hour is None and THREE.an_hour is None
    assert added([]).an_hour is None and added([]).waste == 0


def test_months_leave_none_out_and_what_is_not_finished_is_in_none() -> None:
    assert [(name, len(boards)) for name, boards in months([ONE, THREE, TWO, OPEN])] == [
        ("2026-03", 2), ("2026-04", 0), ("2026-05", 1),
    ]  # fmt: skip
    assert months([OPEN]) == []


def test_woods_and_faults_are_counted_by_board() -> None:
    assert woods([ONE, TWO]) == [("elm", 4.0), ("plum", 3.0)]
    assert faults([ONE, TWO, THREE]) == [("void", 2), ("chip", 1)]
    opened = {kind: [one.id for one in (ONE, TWO, THREE) if CHOICES[kind](one, value)]
              for kind, value in (("month", "2026-05"), ("wood", "elm"), ("fault", "chip"))}  # fmt: skip
    assert opened == {"month": [3], "wood": [2], "fault": [1]}
