"""The command line: what is printed and written, and how a wrong file or option is refused."""

from __future__ import annotations

import json
import re
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
import trimesh
from click.testing import CliRunner, Result

from laberinto.cli import main
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.demo import fill as demo_fill
from laberinto.store import Store, open_database
from laberinto.trade import on_the_machine
from laberinto.web import create_app

PLAN = Alternating(strips=6, slices=5).plan("Meshed")


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    path = tmp_path / "plan.json"
    path.write_text(PLAN.as_json())
    return path


def run(*words: object) -> Result:
    return CliRunner().invoke(main, ["simulate", *map(str, words)])


def test_simulate_prints_what_each_stage_yields(tmp_path: Path) -> None:
    plan = tmp_path / "plan.json"
    plan.write_text(Alternating().plan("Printed").as_json())
    words = CliRunner().invoke(main, ["simulate", str(plan)])
    assert words.exit_code == 0 and "294 × 384 × 38 mm" in words.output
    report = json.loads(CliRunner().invoke(main, ["simulate", str(plan), "--json"]).output)
    assert report["milled"] == pytest.approx(report["board"]["volume"] + sum(report["waste"].values()))
    panel = report["stages"][1]
    # 10 strips of 30 × 650 × 33, half of each wood, nine joints of 650 × 33
    assert panel["pieces"][0]["woods"] == pytest.approx({"beech": 5 * 643500, "plum": 5 * 643500})
    assert [joint["area"] for joint in panel["joints"]] == pytest.approx([650 * 33] * 9)
    assert panel["joints"][0]["contacts"][0]["woods"] == ["beech", "plum"]
    assert [len(stage["pieces"]) for stage in report["stages"][:5]] == [10, 1, 1, 13, 13]


def test_simulate_draws_a_side(tmp_path: Path) -> None:
    plan, drawing = tmp_path / "plan.json", tmp_path / "front.svg"
    plan.write_text(Alternating().plan("Drawn").as_json())
    assert CliRunner().invoke(main, ["simulate", str(plan), "--face", "front", "--svg", str(drawing)]).exit_code == 0
    root = ElementTree.fromstring(drawing.read_text())
    assert root.get("viewBox") == "0 0 294 38"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "This is not JSON"),
        (
            '{"format": "laberinto-plan", "version": 1, "name": "x", "stages": [{"id": "a"}]}',
            "stages[0]: a stage must say its “kind”",
        ),
    ],
)
def test_simulate_refuses_a_wrong_file_in_one_line(tmp_path: Path, text: str, says: str) -> None:
    plan = tmp_path / "plan.json"
    plan.write_text(text)
    answer = CliRunner().invoke(main, ["simulate", str(plan)])
    assert answer.exit_code == 2 and says in answer.output and "Traceback" not in answer.output


def test_the_board_is_written_as_one_closed_solid(plan: Path, tmp_path: Path) -> None:
    stl = tmp_path / "board.stl"
    assert run(plan, "--stl", stl).exit_code == 0
    solid, board = trimesh.load(stl), simulate(PLAN).board
    assert solid.is_watertight and solid.volume == pytest.approx(board.volume, rel=1e-6)
    assert np.ptp(solid.bounds, axis=0) == pytest.approx(board.size, rel=1e-6)


def test_a_stage_is_written_with_a_part_for_each_wood_and_its_strips(plan: Path, tmp_path: Path) -> None:
    glb = tmp_path / "panel.glb"
    assert run(plan, "--glb", glb, "--stage", "panel").exit_code == 0
    sim = simulate(PLAN)
    scene = trimesh.load(glb)
    assert set(scene.geometry) == {strip.wood for strip in sim.strips}
    for wood, part in scene.geometry.items():
        assert part.volume * 1e9 == pytest.approx(sim.wood_volumes(sim["panel"].pieces.cells)[wood], rel=1e-5)
        # a panel of strips laid as sawn: where a corner lies in its strip is where it lies, less the strip's place
        numbers = part.vertex_attributes["_STRIP"].ravel().astype(int)
        left = np.array([30.0 * n for n in numbers])
        world = part.vertices[:, [0, 2, 1]] * [1000, -1000, 1000]  # metres with y up, back to the bench
        assert np.allclose(
            part.vertex_attributes["_LOCAL"] + np.column_stack([left, 0 * left, 0 * left]), world, atol=1e-3
        )


def test_a_side_of_a_piece_of_a_stage_is_drawn(plan: Path, tmp_path: Path) -> None:
    drawn = tmp_path / "slice.svg"
    assert run(plan, "--svg", drawn, "--stage", "slices", "--piece", 3, "--face", "front").exit_code == 0
    assert ElementTree.parse(drawn).getroot().get("viewBox") == "0 0 180 30"


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--stage", "lid", "--svg", "x.svg"), "There is no stage “lid”; there are strips, panel, panel-flat"),
        (("--stage", "slices", "--piece", 9, "--svg", "x.svg"), "There is no piece 9; this stage leaves 5"),
        (("--stl", "/nowhere/at/all.stl"), "Choose a folder that is there"),
        (("--face", "lid", "--svg", "x.svg"), "'lid' is not one of"),
    ],
)
def test_a_wrong_option_is_refused_in_one_line(plan: Path, words: tuple[object, ...], says: str) -> None:
    answer = run(plan, *words)
    assert answer.exit_code == 2 and says in answer.output and "Traceback" not in answer.output


def test_the_report_tells_grain_angles_and_what_must_fit_through_what(plan: Path) -> None:
    """A panel of 6 strips of 30: long grain on both sides of each joint, fibres side by side. The rows: end grain up,
    so the joint between two is long grain too. The crosscut sled takes the panel of 180 mm."""
    report = json.loads(run(plan, "--json").output)
    stages = {stage["id"]: stage for stage in report["stages"]}
    for glue in ("panel", "board"):
        for joint in stages[glue]["joints"]:
            assert sum(c["area"] for c in joint["contacts"]) == pytest.approx(joint["area"])
            for contact in joint["contacts"]:
                assert contact["fibre_angle"] == 0 and 0 <= contact["ring_angle"] <= 90
                assert set(contact["grain"]) <= {"face", "edge"}
    sled = stages["slices"]["passage"]
    assert (sled["machine"], sled["width"], sled["thickness"]) == ("crosscut sled", 180, 30)
    assert stages["panel"]["passage"] is None


def test_serving_tells_its_address_and_answers_there(tmp_path: Path) -> None:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [
        sys.executable,
        "-u",
        "-m",
        "laberinto",
        "serve",
        "--no-warm",
        "--data",
        str(tmp_path),
        "--port",
        str(port),
    ]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as served:
        try:
            assert served.stdout
            told = re.search(r"http://\S+", served.stdout.readline())
            assert told and told[0] == f"http://127.0.0.1:{port}/"
            assert b"Laberinto" in _once_there(told[0])
        finally:
            served.terminate()
    assert (tmp_path / "laberinto.db").exists()


@pytest.mark.usefixtures("own_log")
def test_a_port_in_use_is_told_in_one_line(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        told = CliRunner().invoke(main, ["serve", "--no-warm", "--data", str(tmp_path), "--port", port])
    assert told.exit_code == 1
    assert f"port {port}" in told.output and "--port" in told.output and "is at" not in told.output


def test_the_demo_empties_only_a_folder_that_it_made(tmp_path: Path) -> None:
    mine = tmp_path / "mine"
    mine.mkdir()
    (mine / "thesis.txt").write_text("years of work")
    refused = CliRunner().invoke(main, ["demo", "--fresh", "--only-fill", "--data", str(mine)])
    assert refused.exit_code == 1 and "nothing in it is touched" in refused.output
    assert [f.name for f in mine.iterdir()] == ["thesis.txt"]
    shop = tmp_path / "shop"
    create_app(shop)  # a shop of its own, no boards yet
    for words in (["--fresh"], []):
        assert CliRunner().invoke(main, ["demo", *words, "--only-fill", "--data", str(shop)]).exit_code == 1
    assert not Store(open_database(shop / "laberinto.db")).boards()


def test_the_demo_starts_fresh_and_keeps_what_is_not_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(demo_fill, "BOARDS", demo_fill.BOARDS[:1])
    monkeypatch.setattr(demo_fill, "hold", lambda _store, _board: None)
    monkeypatch.setenv("LABERINTO_DATA", str(tmp_path / "data"))
    assert CliRunner().invoke(main, ["demo", "--only-fill"]).exit_code == 0
    folder = tmp_path / "data" / "demo"  # within the data folder, wherever that is
    store = Store(open_database(folder / "laberinto.db"))
    store.delete(store.boards()[0].id)
    (folder / "thesis.txt").write_text("years of work")
    told = CliRunner().invoke(main, ["demo", "--fresh", "--only-fill"])
    assert told.exit_code == 0 and "laberinto.db" in told.output and "thesis" not in told.output
    assert len(Store(open_database(folder / "laberinto.db")).boards()) == 1
    assert (folder / "thesis.txt").read_text() == "years of work"


def _once_there(address: str) -> bytes:
    """What stands at ``address``; it is told just before it is listened at."""
    for _ in range(100):
        try:
            return bytes(urllib.request.urlopen(address, timeout=10).read())
        except OSError:
            time.sleep(0.1)
    raise AssertionError(f"nobody answers at {address}")


def test_simulated_instruments_end_with_whoever_started_them(tmp_path: Path) -> None:
    """However that ended: a demo that is killed leaves nothing behind."""
    command = [sys.executable, "-m", "laberinto", "devices", "--data", str(tmp_path), "--port", "0", "--beside"]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as instruments:
        assert instruments.stdout and "Devices speak at 127.0.0.1:" in instruments.stdout.readline()
        assert instruments.stdin and instruments.poll() is None
        instruments.stdin.close()
        assert instruments.wait(120) == 0


def trade(*words: object) -> Result:
    return CliRunner().invoke(main, [*map(str, words)])


def test_a_folder_of_plans_is_written_at_once(tmp_path: Path) -> None:
    plans, out = tmp_path / "plans", tmp_path / "out"
    plans.mkdir()
    for name in ("one", "two"):
        (plans / f"{name}.json").write_text(PLAN.as_json())
    (plans / "wrong.json").write_text("{}")
    (plans / "notes.txt").write_text("no plan")
    said = trade("export", plans, out, "--format", "dxf")
    assert said.exit_code == 2 and "wrong.json" in said.stderr and "“format” must be" in said.stderr
    assert sorted(path.name for path in out.iterdir()) == ["one.dxf", "two.dxf"]
    assert "Say which --format" in trade("export", plans, out).output
    assert "There is no plan file" in trade("export", out, plans, "--format", "dxf").output


def test_a_board_goes_out_of_a_shop_and_into_another(tmp_path: Path) -> None:
    here, there, file = tmp_path / "here", tmp_path / "there", tmp_path / "b.laberinto.zip"
    store = Store(open_database(here / "laberinto.db"))
    board = store.create(PLAN, order_for="The chandler")
    assert trade("export", "Meshed", file, "--data", here).exit_code == 0
    wrong = trade("export", "Nobody", file, "--data", here)
    assert wrong.exit_code == 2 and "none goes; there are 1 Meshed" in wrong.stderr
    assert "There is no laberinto.db" in trade("export", 1, file, "--data", tmp_path).stderr
    broken, plan = tmp_path / "c.laberinto.zip", tmp_path / "plan.json"
    broken.write_bytes(file.read_bytes()[:300])
    plan.write_text(PLAN.model_copy(update={"name": "A plan"}).as_json())
    said = trade("import", file, broken, plan, "--data", there, "--order")
    assert said.exit_code == 2 and "cut off on the way" in said.stderr
    other = Store(open_database(there / "laberinto.db"))
    assert {view.name: view.order_for for view in other.boards()} == {"Meshed": "The chandler", "A plan": ""}
    assert other.whole.read(1).history == store.whole.read(board).history


def test_a_plan_lies_on_the_simulated_router(plan: Path) -> None:
    """Ease is done from above by default; what is not there is refused with words."""
    controller = on_the_machine(plan, ())
    assert controller.say("?").startswith("<idle") and controller.say("T1 M6") == "ok"
    wrong = trade("machine", plan, "--stage", "no-such")
    assert wrong.exit_code == 2 and "Choose at least one stage" in wrong.stderr
