"""Attacks on a throw-away shop, for some minutes: ``make harden MINUTES=20``.

Each part has its share of the time and a number that is enough: random requests, plans that were changed at random,
damaged uploads, a server that is killed while it saves, fifty visitors at once, a year's edits in fast motion. What is
wrong is printed as it is found, with what found it; the run ends with 1 then.
"""

from __future__ import annotations

import json
import os
import random
import re
import resource
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import click
from flask import Flask
from flask.testing import FlaskClient
from PIL import Image

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.files.boardfile import read_board, write_board
from laberinto.store import DATABASE, Store, open_database
from laberinto.web import create_app
from laberinto.web.app.photos import shrunk

SLOW = 2.0
"""Seconds after which an answer is too late, on a quiet machine."""

VALUES = (
    "", "0", "-1", "1", "3", "1e309", "nan", "9" * 19, "9" * 400, "x", "'", "<b>x</b>", "../../etc/passwd", "\0",
    "é" * 50, "beech", "a4", "top", "strips", "rows", "2026-02-30", "1,2,3", "{}", "[[]]", "12 1/2", "%s%n", "yes",
)  # fmt: skip
"""What is typed where it does not belong, and some of what does."""

NAMES = (
    "op", "stage", "piece", "revision", "to", "letter", "name", "key", "value", "lines", "width", "height", "from",
    "find", "sort", "paper", "part", "at", "step", "measured", "text", "kind", "aim", "seed", "family", "picture",
)  # fmt: skip


@dataclass
class Report:
    """What one part did: how much, and what was wrong."""

    part: str
    done: int = 0
    wrong: list[str] = field(default_factory=list)
    said: str = ""

    def fail(self, words: str) -> None:
        """Something is wrong."""
        self.wrong.append(words)
        click.echo(f"  {self.part}: {words[:300]}")


@dataclass(frozen=True)
class Bounds:
    """How long a part may go on, and how much is enough."""

    seconds: float
    enough: int

    def rounds(self) -> Iterator[int]:
        """Numbers from 0 on, while there is time and not enough."""
        end = time.monotonic() + self.seconds
        for number in range(self.enough):
            if time.monotonic() > end:
                return
            yield number


def requests(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Random values to every address there is: no answer is a fault of ours, and none takes long."""
    report, app = Report("requests"), create_app(folder)
    store: Store = app.extensions["store"]
    for family in list(FAMILIES.values())[:3]:
        store.create(family().plan(family.title))
    client, token = app.test_client(), ""
    rules = [rule for rule in app.url_map.iter_rules() if rule.endpoint != "static"]
    slow: list[float] = []
    for number in bounds.rounds():
        if number % 200 == 0:
            token = _token(client)
        rule = chance.choice(rules)
        path = re.sub(r"<(?:(\w+):)?\w+>", lambda found: _part(found[1], chance), rule.rule)
        form = {chance.choice(NAMES): chance.choice(VALUES) for _ in range(chance.randint(0, 5))}
        begun = time.monotonic()
        try:
            if "POST" in (rule.methods or ()):
                answer = client.post(path, data={"csrf_token": token, **form})
            else:
                answer = client.get(path, query_string=form)
            status = answer.status_code
            answer.close()
        except Exception as error:  # it should have been a page
            report.fail(f"{path} {form}: {error!r}")
            continue
        took = time.monotonic() - begun
        slow.append(took)
        if status >= 500 and status != 503:
            report.fail(f"{path} {form}: {status}")
        report.done += 1
    late = sum(took > SLOW for took in slow)
    report.said = f"{late} over {SLOW:g} s; median {1000 * sorted(slow)[len(slow) // 2]:.0f} ms" if slow else ""
    _jobs_end(app)
    return report


def _token(client: FlaskClient) -> str:
    found = re.search(r'name="csrf_token" value="([^"]+)"', client.get("/").get_data(as_text=True))
    assert found
    return found[1]


def _part(kind: str | None, chance: random.Random) -> str:
    if kind == "int":
        return chance.choice(["1", "1", "2", "3", "0", "999", "9" * 18])
    return chance.choice(["strips", "rows", "board", "alternating", "beech", "top", "x", "end", "1", "a" * 200, "%00"])


def _jobs_end(app: Flask) -> None:
    for name in list(app.extensions["jobs"]._jobs):
        app.extensions["jobs"].drop(name)


def plans(bounds: Bounds, _folder: Path, chance: random.Random) -> Report:
    """Plans with values changed at random: built, or refused in words."""
    report, families = Report("plans"), list(FAMILIES.values())
    for _ in bounds.rounds():
        plan = json.loads(chance.choice(families)().plan("Changed").as_json())
        for _ in range(chance.randint(1, 4)):
            _change(plan, chance)
        try:
            simulate(read_plan(json.dumps(plan)))
        except LaberintoError:
            pass
        except Exception as error:
            report.fail(f"{json.dumps(plan)[:2000]}: {error!r}")
        report.done += 1
    report.said = f"at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6:.2f} GB held"
    return report


def _change(value: Any, chance: random.Random) -> None:
    """Change something somewhere in a JSON value."""
    while isinstance(value, dict | list) and value:
        at = chance.choice(list(value)) if isinstance(value, dict) else chance.randrange(len(value))
        if isinstance(value[at], dict | list) and value[at] and chance.random() < 0.8:
            value = value[at]
            continue
        number = value[at] if isinstance(value[at], int | float) else 1
        value[at] = chance.choice([
            -number, number * 2, number * 1e6, number + 0.001, 0, None, "", "x", [], {}, True, 1e308, [1] * 50,
        ])  # fmt: skip
        return


def uploads(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Damaged pictures and board files: read, or refused in words."""
    report, store = Report("uploads"), Store(open_database(folder / DATABASE))
    board = store.create(Alternating().plan("Kept"))
    whole = [write_board(store.whole.read(board), store.board(board).created, "1")]  # type: ignore[union-attr]
    for kind in ("JPEG", "PNG", "WEBP", "GIF"):
        out = BytesIO()
        Image.effect_mandelbrot((320, 240), (-2, -1.5, 1, 1.5), 60).convert("RGB").save(out, kind)
        whole.append(out.getvalue())
    for _ in bounds.rounds():
        data = bytearray(chance.choice(whole))
        for _ in range(chance.randint(1, 8)):
            at = chance.randrange(len(data))
            if chance.random() < 0.3:
                del data[at : at + chance.randint(1, max(len(data) // 4, 1))]
            else:
                data[at : at + 1] = bytes([chance.randrange(256)])
            if not data:
                data = bytearray(b"x")
        try:
            (read_board if bytes(data[:2]) == b"PK" else _picture)(bytes(data))
        except LaberintoError:
            pass
        except Exception as error:
            report.fail(f"{bytes(data[:16])!r}, {len(data)} bytes: {error!r}")
        report.done += 1
    return report


def _picture(data: bytes) -> bytes:
    return shrunk(data, "photo")


SAVING = """
import sys
from pathlib import Path
from laberinto.core.patterns import Alternating
from laberinto.store import Store, open_database
store = Store(open_database(Path(sys.argv[1])))
plan = Alternating().plan("Saved")
board = next(iter(store.boards()), None)
number = board.id if board else store.create(plan)
while True:
    at = store.board(number)
    saved = store.save(number, plan, f"edit {at.revision}", based_on=at.revision)
    print(saved.revision, flush=True)
"""


def kills(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """A program that saves and says so is killed: what it said is there, and the database is sound."""
    report, path = Report("kills"), folder / "killed.db"
    for _ in bounds.rounds():
        with subprocess.Popen([sys.executable, "-c", SAVING, path], stdout=subprocess.PIPE, text=True) as saver:
            assert saver.stdout
            last = saver.stdout.readline().strip()
            time.sleep(chance.uniform(0, 0.15))
            os.kill(saver.pid, signal.SIGKILL)
            told = [line for line in saver.stdout.read().split("\n") if line.strip().isdigit()]
            last = (told or [last])[-1]
        store = Store(open_database(path))
        (board,) = store.boards()
        if board.revision < int(last or 0):
            report.fail(f"{last} was said to be saved, {board.revision} is there")
        with store.engine.connect() as connection:
            if (said := connection.exec_driver_sql("PRAGMA quick_check").scalar()) != "ok":
                report.fail(f"the database: {said}")
        store.engine.dispose()
        report.done += 1
    return report


def visitors(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Fifty who look and edit at once: nobody gets an error."""
    report, app = Report("visitors"), create_app(folder)
    store: Store = app.extensions["store"]
    boards = [store.create(Alternating(strips=6, slices=6).plan(f"Shoal {k}")) for k in range(5)]
    pages = [
        "/",
        "/now",
        "/timber",
        "/shop",
        *(f"/boards/{k}" for k in boards),
        *(f"/boards/{k}/steps" for k in boards),
    ]
    took: list[float] = []

    def visit(number: int) -> list[str]:
        client, own, wrong = app.test_client(), random.Random(number), []
        token, board = _token(client), boards[number % len(boards)]
        for turn in bounds.rounds():
            begun = time.monotonic()
            if turn % 4:
                answer = client.get(own.choice(pages))
            else:
                view = store.board(board)
                answer = client.post(f"/boards/{board}/edit", data={
                    "csrf_token": token, "op": "strip-width", "stage": "strips", "strip": own.randrange(6),
                    "value": own.choice(["24", "31.5", "40"]), "revision": view.revision if view else 0,
                })  # fmt: skip
            took.append(time.monotonic() - begun)
            if answer.status_code >= 500:
                wrong.append(f"{answer.request.path}: {answer.status_code}")
        return wrong

    with ThreadPoolExecutor(50) as pool:
        for wrong in pool.map(visit, range(50)):
            for words in wrong:
                report.fail(words)
    report.done = len(took)
    report.said = f"median {sorted(took)[len(took) // 2]:.2f} s, 95 % under {sorted(took)[int(len(took) * 0.95)]:.2f} s"
    chance.random()
    return report


def edits(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """A long history in fast motion: the last pages are as quick as the first, and memory stays level."""
    report, store = Report("edits"), Store(open_database(folder / DATABASE))
    board = store.create(Alternating().plan("Long"))
    plan, took, held = store.board(board).plan, [0.0], 0  # type: ignore[union-attr]
    for number in bounds.rounds():
        begun = time.perf_counter()
        view = store.board(board)
        assert view is not None
        named = plan.model_copy(update={"name": f"Long {chance.randrange(1000)}"})
        store.save(board, named, f"edit {number}", based_on=view.revision)
        took.append(time.perf_counter() - begun)
        report.done += 1
        if number == 500:
            held = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    tenth = max(len(took) // 10, 1)
    first, last = sorted(took[:tenth])[tenth // 2], sorted(took[-tenth:])[tenth // 2]
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - held) / 1000 if held else 0.0
    size = (folder / DATABASE).stat().st_size / max(report.done, 1)
    report.said = f"an edit takes {1000 * first:.1f} ms at first, {1000 * last:.1f} ms at last, and {size:.0f} bytes"
    report.said += f"; {grown:.0f} MB more are held"
    if report.done > 2000 and (last > 3 * first or grown > 100):
        report.fail(report.said)
    return report


Part = Callable[[Bounds, Path, random.Random], Report]

PARTS: dict[Part, tuple[float, int]] = {
    requests: (0.35, 20_000), plans: (0.2, 2000), uploads: (0.1, 2000), kills: (0.15, 500), visitors: (0.1, 100_000),
    edits: (0.1, 100_000),
}  # fmt: skip
"""Each with its share of the time, and what is enough."""


def attack(seconds: float, seed: int, most: int | None = None) -> list[Report]:
    """All parts; ``most`` of each, if it is given, instead of what is enough."""
    reports = []
    for part, (share, enough) in PARTS.items():
        with TemporaryDirectory(prefix="harden-") as folder:
            click.echo(f"{part.__name__} …")
            bounds = Bounds(seconds * share, min(enough, most) if most else enough)
            reports.append(part(bounds, Path(folder), random.Random(seed)))
    return reports


@click.command()
@click.option("--minutes", default=20.0, show_default=True)
@click.option("--seed", default=0, show_default=True, help="Another seed, other attacks.")
def main(minutes: float, seed: int) -> None:
    """Attack for so long, and say what was seen."""
    reports = attack(60 * minutes, seed)
    for report in reports:
        click.echo(f"{report.part:>10}: {report.done:,} done, {len(report.wrong)} wrong. {report.said}")
    sys.exit(any(report.wrong for report in reports))


if __name__ == "__main__":
    main()
