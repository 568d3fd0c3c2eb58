"""What other packages add: the example package is installed and used, and what is broken takes nothing down."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

import laberinto
from laberinto.cli import main
from laberinto.core.extensions import ExtensionWarning, Registry
from laberinto.core.patterns import Alternating, Family

ROOT = Path(__file__).resolve().parent.parent

USED = """
import sys
from pathlib import Path
from laberinto import FAMILIES, check, simulate
from laberinto.core.reckoners import RECKONERS
from laberinto.core.rules import RULES
from laberinto.web import create_app

made = FAMILIES["tideline"].of(left=250, right=300, slices=14, thickness=60)
Path("plan.json").write_text(made.plan("Tide").as_json())
heavy = [finding.rule for finding in check(simulate(made.plan("Tide")))]
print(list(FAMILIES)[-1], list(RULES)[-1], "heavy_to_carry" in heavy)
print([result.value for result in RECKONERS["boards-in-a-plank"]().results()])
visitor = create_app(Path("data")).test_client()
pages = [visitor.get(path, headers={"Host": "localhost"}) for path in
         ("/boards/new", "/boards/new/tideline", "/reckoners/boards-in-a-plank")]
print([page.status_code for page in pages], ["Tideline" in pages[0].text, "Right of the line" in pages[1].text])

from laberinto.cli import main
for words in (["simulate", "plan.json"], ["export", "plan.json", "tide.woods.txt"]):
    main(words, standalone_mode=False)
"""


def test_the_example_package_is_installed_and_used(tmp_path: Path) -> None:
    """558 wide: 250 + 8 + 300, less two edges of 3; 14 rows of 30, less two: 552 × 414 × 60 of sycamore, mostly, is over
    8 kg. (2400 + 3) / (650 + 3) is 3.68: three boards."""
    source, there = tmp_path / "source", tmp_path / "site"
    shutil.copytree(ROOT / "examples" / "tideline", source)
    pip = [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--no-build-isolation", "--no-index"]
    subprocess.run([*pip, "--target", there, source], check=True, capture_output=True)
    told = subprocess.run(
        [sys.executable, "-c", USED], cwd=tmp_path, env={"PYTHONPATH": f"{there}:{ROOT}", "PATH": "/usr/bin:/bin"},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert told.returncode == 0, told.stderr
    first, second, third, *simulated = told.stdout.splitlines()
    assert first == "tideline heavy_to_carry True" and second == "[3.0]"
    assert third == "[200, 200, 200] [True, True]"
    assert "552 × 414 × 60 mm" in "\n".join(simulated)
    assert (tmp_path / "tide.woods.txt").read_text().startswith("Sycamore\t")


def test_what_cannot_be_loaded_or_is_called_as_ours_is_left_out(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    info = tmp_path / "broken-1.dist-info"
    info.mkdir()
    (info / "METADATA").write_text("Metadata-Version: 2.1\nName: broken\nVersion: 1\n")
    (info / "entry_points.txt").write_text("[laberinto.trials]\nalternating = math:pi\nnowhere = no.such:thing\n")
    monkeypatch.syspath_prepend(str(tmp_path))
    with pytest.warns(ExtensionWarning) as said:
        assert dict(Registry[type[Family]]("trials", {"alternating": Alternating})) == {"alternating": Alternating}
    assert sorted(str(w.message).split(" is left out: ")[1] for w in said) == [
        "ModuleNotFoundError: No module named 'no'.", "something goes by this name already.",
    ]  # fmt: skip


def test_the_public_face_is_what_it_says() -> None:
    assert {name: getattr(laberinto, name) for name in laberinto.__all__}
    assert sorted(laberinto.__all__) == laberinto.__all__
    page = (ROOT / "docs" / "python.md").read_text()
    assert [name for name in laberinto.__all__ if name not in page] == []
    with pytest.raises(AttributeError, match="no attribute 'nothing'"):
        laberinto.nothing  # noqa: B018


def test_export_writes_what_the_ending_says(tmp_path: Path) -> None:
    plan = tmp_path / "plan.json"
    plan.write_text(Alternating(strips=4, slices=4).plan("Out").as_json())

    def ran(*words: object) -> Result:
        return CliRunner().invoke(main, ["export", str(plan), *map(str, words)])

    stl, report = tmp_path / "board.stl", tmp_path / "board.report.json"
    assert ran(stl).exit_code == 0 and stl.stat().st_size > 1000
    assert ran(report).exit_code == 0
    # 4 × 30 and 4 × 30, less two edges of 3
    board = json.loads(report.read_text())["board"]
    assert (board["width"], board["length"]) == pytest.approx((114, 114))
    wrong = ran("board.doc")
    assert wrong.exit_code == 2 and "ends like no format" in wrong.output and ".stl" in wrong.output
    assert ran("x", "--format", "hologram").exit_code == 2
