"""Looking after a shop's data from the command line: backing up, putting back, and what is well with it."""

from __future__ import annotations

import importlib
import platform
import sqlite3
import sys
from pathlib import Path

import click

from . import __version__
from .core.errors import DataError, LaberintoError
from .store import DATABASE
from .store.backup import folder_said, restore, write_backup
from .store.health import Finding, State, look

DATA = click.option("--data", type=click.Path(file_okay=False, path_type=Path), help="Folder of the shop's data.")

MARKS = {State.WELL: "ok", State.LOOK: "look", State.BAD: "BAD"}

_FONTS = Path(__file__).parent / "web" / "static" / "vendor" / "fonts"


def _folder(data: Path | None) -> Path:
    from .web import default_data

    return data or default_data()


@click.command("backup")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@DATA
def backup_(file: Path, data: Path | None) -> None:
    """Write everything of a shop into one archive and read it back. The server may go on running."""
    folder = _folder(data)
    if not (folder / DATABASE).is_file():
        raise click.ClickException(f"There is no {DATABASE} in {folder}. Name a shop's folder with --data.")
    if file.exists():
        raise click.ClickException(f"{file} is there already, and nothing is overwritten. Choose another name.")
    try:
        manifest = write_backup(folder / DATABASE, file, __version__)
    except DataError as error:
        raise click.ClickException(str(error)) from None
    boards = f"{manifest.boards} board{'s' if manifest.boards != 1 else ''}"
    click.echo(f"{file}: {boards}, {file.stat().st_size:,} bytes, read back and whole")


@click.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@DATA
def restore_(file: Path, data: Path | None) -> None:
    """Put a backup into a folder that holds no shop yet. One of an older version is upgraded."""
    folder = _folder(data)
    try:
        manifest = restore(file, folder)
    except DataError as error:
        raise click.ClickException(str(error)) from None
    boards = f"{manifest.boards} board{'s' if manifest.boards != 1 else ''}"
    then = f"Start it: laberinto serve --data {folder}"
    click.echo(f"{folder}: {boards} as of {manifest.written:%Y-%m-%d %H:%M} UTC. {then}")


@click.command()
@DATA
def passphrase(data: Path | None) -> None:
    """Choose the passphrase that devices of the shop's network sign in with. Those that are let in stay so."""
    ask_passphrase(_folder(data))


def ask_passphrase(folder: Path) -> None:
    """Ask for a passphrase, twice, and keep it."""
    from .web.app.doors import set_passphrase

    words = click.prompt("Passphrase for devices of the network", hide_input=True, confirmation_prompt=True)
    try:
        set_passphrase(folder, words)
    except LaberintoError as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"Kept in {folder}, as a hash.")


@click.command()
@DATA
def doctor(data: Path | None) -> None:
    """Look at a shop's data: rights, disk, database, version, backups, clock, and what pages are printed with. Changes
    nothing; ends with 1 where something is bad."""
    folder = _folder(data)
    found = [*_machine(), *look(folder, folder_said(folder))]
    for each in found:
        click.echo(f"{MARKS[each.state]:>4}  {each.what}: {each.words}")
    sys.exit(any(each.state is State.BAD for each in found))


def _machine() -> list[Finding]:
    """What the application stands on."""
    said = f"Laberinto {__version__}, Python {platform.python_version()}, SQLite {sqlite3.sqlite_version}."
    found = [Finding("versions", State.WELL, said)]
    try:
        importlib.import_module("weasyprint")
    except (ImportError, OSError) as error:
        words = f"PDFs cannot be made: {error}. Install what README names for your system."
        found.append(Finding("printing", State.BAD, words))
    else:
        found.append(Finding("printing", State.WELL, "PDFs can be made."))
    fonts = len(list(_FONTS.rglob("*.woff2")))
    state = State.WELL if fonts else State.BAD
    found.append(Finding("fonts", state, f"{fonts} ship with it." if fonts else f"None in {_FONTS}. Install it anew."))
    return found
