"""What the documentation shows is run, and what it lists is there."""

from __future__ import annotations

import hashlib
import json
import re
from pathlib import Path

import pytest

from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import AnyStage
from laberinto.core.steps import steps
from laberinto.files.schema import schemas
from scripts.engine_pictures import PICTURES

ROOT = Path(__file__).resolve().parent.parent
DOCS = sorted((ROOT / "docs").glob("*.md"))


def blocks(language: str) -> list[tuple[str, str]]:
    found = []
    for path in DOCS:
        for i, code in enumerate(re.findall(rf"```{language}\n(.*?)```", path.read_text(), re.S), 1):
            found.append((f"{path.name} {i}", code))
    return found


@pytest.mark.parametrize("page", sorted({name.split()[0] for name, _ in blocks("python")}))
def test_python_snippets_run(page: str) -> None:
    """In order: a snippet may use what those above it on its page made."""
    known: dict[str, object] = {"__name__": "snippet"}
    for name, code in blocks("python"):
        if name.split()[0] == page:
            exec(compile(code, name, "exec"), known)


def test_plans_in_the_docs_come_out_as_they_say() -> None:
    """Skerry 10 × 30 − 2 × 3 by 6 × 30 − 2 × 3. Three woods 40 + 20 by 6 × 40, standing. Bricks: four of 60 + 6, the
    shifted rows overlap by 264 − 33, and 6 × 30 + 5 × 6 long. Framed: 200 + 2 × 25 by 150 + 2 × 25. Two
    panels: 3 × 30 or 2 × 45 wide, twice 3 rows of 30, and the flattening is skipped. Two blocks:
    the first as it stands."""
    said = {
        "Skerry": (294, 174, 38), "Three woods round a corner": (60, 360, 40), "Ring chevron": (120, 400, 30),
        "Bricks": (231, 210, 40), "Framed": (250, 200, 80), "Inlaid": (200, 200, 80), "Two panels": (90, 180, 40),
        "Two blocks, one finish": (150, 200, 80),
    }  # fmt: skip
    sims = [simulate(read_plan(code)) for _, code in blocks("json plan")]
    assert {sim.plan.name: tuple(round(v, 6) for v in sim.board.size) for sim in sims} == said


@pytest.mark.parametrize("code", [c for _, c in blocks("json stage")], ids=[n for n, _ in blocks("json stage")])
def test_stages_in_the_docs_can_be_done(code: str) -> None:
    (skerry,) = (json.loads(c) for _, c in blocks("json plan") if "Skerry" in c)
    stage = json.loads(code) | {"id": "shown"}
    lying = stage["kind"] in ("flatten", "rip", "resaw", "crosscut", "profile", "joint")
    before = "panel-flat" if lying else "trimmed"
    at = [s["id"] for s in skerry["stages"]].index(before) + 1
    sim = simulate(read_plan({**skerry, "stages": [*skerry["stages"][:at], {**stage, "from": before}]}))
    moved = sim.board.outcome.waste
    assert sum(moved.values()) > 0 or not sim.board.stage.shapes_wood
    assert [step for step in steps(sim) if step.stage == "shown"]


def test_every_stage_kind_is_described() -> None:
    text = (ROOT / "docs" / "plan-format.md").read_text()
    kinds = {member.model_fields["kind"].default for member in AnyStage.__origin__.__args__}  # type: ignore[attr-defined]
    assert kinds == set(re.findall(r"`(\w+)`", " ".join(re.findall(r"^### .*$", text, re.M))))


def test_links_and_pictures_of_the_readme_are_there() -> None:
    readme = (ROOT / "README.md").read_text()
    for target in re.findall(r"\]\(([^)]+)\)", readme):
        assert (ROOT / target).exists(), target
    shown = set(re.findall(r"docs/screenshots/([\w-]+\.png)", readme))
    assert {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")} == shown


@pytest.mark.parametrize("name", PICTURES)
def test_the_engines_pictures_are_current(name: str) -> None:
    shown = re.findall(r"pictures/([\w-]+)\.svg", (ROOT / "docs" / "engine.md").read_text())
    assert name in shown
    there = (ROOT / "docs" / "pictures" / f"{name}.svg").read_text()
    assert there == PICTURES[name]() + "\n", "run `make pictures`"


def test_vendored_files_are_the_ones_that_were_fetched() -> None:
    vendor = ROOT / "laberinto" / "web" / "static" / "vendor"
    sums = json.loads((vendor / "manifest.json").read_text())["sha256"]
    there = {str(p.relative_to(vendor)) for p in vendor.rglob("*") if p.is_file() and p.name != "manifest.json"}
    assert there == set(sums)
    for name, wanted in sums.items():
        assert hashlib.sha256((vendor / name).read_bytes()).hexdigest() == wanted, name


def test_the_schemas_in_the_docs_are_current_and_hold() -> None:
    for name, text in schemas().items():
        assert (ROOT / "docs" / name).read_text() == text, f"run `laberinto schema` to refresh docs/{name}"
