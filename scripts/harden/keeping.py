"""A program that is killed while it saves, and years of edits in fast motion."""

from __future__ import annotations

import os
import random
import resource
import signal
import subprocess
import sys
import time
from pathlib import Path

from laberinto.core.patterns import Alternating
from laberinto.store import DATABASE, Store, open_database

from .report import Bounds, Report

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
