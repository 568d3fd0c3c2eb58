"""Files in and out from the command line: folders of plans, boards of a shop and into one, a plan on the machine."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from pathlib import Path

import click

from . import __version__
from .core.cnc.job import Setting
from .core.cnc.program import machine_for, program, usual
from .core.cnc.tools import USUAL
from .core.errors import InputError, LaberintoError, PlanError
from .core.geometry.faces import Side
from .core.plan.model import read_plan
from .core.plan.simulate import simulate
from .devices.controller import Controller
from .files.boardfile import SUFFIX, is_zip, write_board
from .files.exports import EXPORTS, export_for
from .store import DATABASE, Shelf, Store, open_database

FAILED = 2
"""What a run ends with of which something did not work."""


def batch(plans: Path, out: Path, name: str | None) -> int:
    """Write every plan of a folder into another; what is wrong with one is said and the others go on."""
    if name is None:
        raise click.ClickException(f"Say which --format; there are {', '.join(EXPORTS)}.")
    files = sorted(path for path in plans.iterdir() if path.suffix == ".json")
    if not files:
        raise click.ClickException(f"There is no plan file (.json) in {plans}.")
    failed = 0
    try:
        format_ = export_for(Path(), name)
        out.mkdir(parents=True, exist_ok=True)
    except (InputError, OSError) as error:
        raise click.ClickException(str(error)) from None
    for path in files:
        target = out / (path.stem + format_.suffix)
        try:
            format_.write(simulate(read_plan(path.read_bytes())), target)
        except (LaberintoError, OSError) as error:
            _say(path, error)
            failed += 1
        else:
            click.echo(target)
    return FAILED if failed else 0


def of_shop(data: Path, which: str, file: Path, name: str | None) -> None:
    """Write a board of a shop, by its number or name, into a file. Raises LaberintoError where there is none."""
    if not (data / DATABASE).is_file():
        raise InputError(f"There is no {DATABASE} in {data}. Name the folder of a shop's data.", "data")
    store = _shop(data)
    boards = [board for shelf in Shelf for board in store.boards(shelf)]
    found = [board for board in boards if which in (str(board.id), board.name)]
    if len(found) != 1:
        many = "several go" if found else "none goes"
        raise InputError(f"By “{which}” {many}; there are {', '.join(f'{b.id} {b.name}' for b in boards)}.", "board")
    (board,) = found
    if name is None and file.name.lower().endswith(SUFFIX):
        file.write_bytes(write_board(store.whole.read(board.id), datetime.now(UTC), __version__))
    else:
        export_for(file, name).write(simulate(board.plan), file)


def bring_in(paths: Iterable[Path], data: Path | None, *, lots: bool, order: bool, ours: bool) -> int:
    """Make boards of files; what is wrong with one is said, nothing of it is taken, and the others go on."""
    from .web import default_data
    from .web.app import incoming

    try:
        store, failed = _shop(data or default_data()), 0
    except LaberintoError as error:
        raise click.ClickException(str(error)) from None
    every = [file for path in paths for file in (sorted(path.iterdir()) if path.is_dir() else [path])]
    for path in every:
        if path.suffix not in (".json", ".zip"):
            continue
        try:
            content = path.read_bytes()
            if is_zip(content):
                board = incoming.bring(store, incoming.look_through(content), lots=lots, order=order, ours=ours)
            else:
                plan = read_plan(content)
                simulate(plan)
                board = store.create(plan, words="opened from a file")
        except (LaberintoError, OSError) as error:
            _say(path, error)
            failed += 1
        else:
            kept = store.board(board)
            click.echo(f"{path}: board {board}, {kept.name if kept else ''}")
    return FAILED if failed else 0


def on_the_machine(plan: Path, chosen: Sequence[str]) -> Controller:
    """A simulated router with the board of a plan file as it comes to the first of the chosen stages. Raises
    LaberintoError where nothing of it is done from above."""
    sim = simulate(read_plan(plan.read_bytes()))
    names = chosen or [stage.id for stage in usual(sim, Side.TOP)]
    made = program(sim, names, Side.TOP, USUAL, Setting())
    return Controller(machine_for(made, made.wood()[0], USUAL))


def _shop(data: Path) -> Store:
    """A shop's data, with its own woods known."""
    from .web.app import own

    store = Store(open_database(data / DATABASE))
    own.take_in(store)
    return store


def _say(path: Path, error: Exception) -> None:
    problems = error.problems if isinstance(error, PlanError) else [("", str(error))]
    told = "; ".join(f"{at}: {text}" if at else text for at, text in problems)
    click.echo(f"{path}: {told}", err=True)
