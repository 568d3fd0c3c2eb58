"""Plan files: what is read, and what is refused with the path of the value."""

import json
from typing import Any

import pytest
from hypothesis import given

from laberinto.core.errors import PlanError
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan, read_plan
from tests.core.strategies import plans


@given(plans())
def test_a_plan_written_and_read_is_the_same(plan: Plan) -> None:
    assert read_plan(plan.as_json()) == plan


def minimal(**changes: Any) -> dict[str, Any]:
    data = json.loads(Alternating().plan("Minimal").as_json())
    data.update(changes)
    return data


def broken(path: list[Any], value: Any) -> dict[str, Any]:
    data = minimal()
    at: Any = data
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    return data


@pytest.mark.parametrize(
    ("data", "path", "says"),
    [
        ("{", "", "not JSON"),
        ("[" * 100_000, "", ""),
        ("[]", "", "A plan is an object"),
        ('{"stages": NaN}', "", "NaN is not a number"),
        ("x" * 2_000_001, "", "larger than 2 MB"),
        (minimal(format="other"), "format", "must be “laberinto-plan”"),
        (minimal(version=2), "version", "reads up to 1"),
        (minimal(colour="red"), "colour", "is not known here"),
        (minimal(stages=[]), "stages", "too few"),
        (broken(["stages", 0, "kind"], "melt"), "stages[0]", "no stage kind 'melt'"),
        (broken(["stages", 0, "strips", 3, "width"], -4), "stages[0].strips[3].width", "at least 3"),
        (broken(["stages", 3, "count"], 10**7), "stages[3].count", "at most 200"),
        (broken(["stages", 3, "kerf"], 1e9), "stages[3].kerf", "at most 8"),
        (broken(["stages", 2, "from"], "nowhere"), "", "“nowhere”, which is not in the plan"),
        (broken(["stages", 1, "from"], "board"), "", "comes only later"),
        (broken(["stages", 1, "from"], None), "", "does not say whose pieces"),
        (broken(["stages", 2, "from"], "strips"), "", "which “panel” already took"),
        (broken(["stages", 1, "id"], "strips"), "", "two stages are called “strips”"),
        (broken(["stages", 0, "strips", 1, "mark"], 1), "stages[0]", "two strips carry the mark 1"),
        (broken(["stages", 9, "grits"], [120, 80]), "stages[9].grits", "grits must rise"),
    ],
    ids=lambda value: value[:24] if isinstance(value, str) else None,
)
def test_refused_with_the_path_and_what_is_allowed(data: Any, path: str, says: str) -> None:
    with pytest.raises(PlanError) as caught:
        read_plan(data if isinstance(data, str) else json.dumps(data))
    at, text = caught.value.problems[0]
    assert at == path
    assert says in text


def test_loose_ends_are_named() -> None:
    data = minimal()
    data["stages"].append({"kind": "mill", "id": "spare", "strips": [{"wood": "elm", "width": 20}]})
    with pytest.raises(PlanError, match="“waxed” and “spare” are never brought together"):
        read_plan(data)


def test_a_count_lays_out_strips_with_running_marks() -> None:
    data = minimal()
    data["stages"][0]["strips"] = [{"wood": "elm", "width": 20, "count": 3, "mark": 5}, {"wood": "ash", "width": 30}]
    strips = read_plan(data).stages[0].laid_out()  # type: ignore[union-attr]
    assert [(s.wood, s.mark) for s in strips] == [("elm", 5), ("elm", 6), ("elm", 7), ("ash", 1)]
