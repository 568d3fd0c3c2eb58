"""The command line: serve the application, fill it with the demo, act out a plan file."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING, Any

import click

from . import __version__
from .core.analysis.figures import figures
from .core.errors import InputError, LaberintoError, PlanError
from .core.geometry.faces import Side, face_of
from .core.plan.model import read_plan
from .core.plan.simulate import Simulation, simulate
from .core.rules import check
from .core.stages import Pieces
from .core.units import Lengths
from .devices.bench import FAULTS, LOOPBACK, Instruments, Server
from .drawing.board import thumbnail
from .drawing.skin import Ringed
from .files.exports import export_for
from .files.mesh import write_glb, write_stl
from .files.report import report
from .files.schema import write
from .trade import batch, bring_in, of_shop, on_the_machine
from .upkeep import ask_passphrase, backup_, doctor, passphrase, restore_

if TYPE_CHECKING:
    from .web.serving import Way

OWNERS = 0o077
"""What is made by a server is its owner's alone."""

EXIT_BAD_PLAN = 2


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Design, plan and build end-grain cutting boards."""


for command in (backup_, restore_, doctor, passphrase):
    main.add_command(command)


@main.command()
@click.option("--data", type=click.Path(path_type=Path), help="Folder for the database; made as needed.")
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=5000, show_default=True)
@click.option("--allow-host", "hosts", multiple=True, help="A further name this server goes by; may be repeated.")
@click.option("--lan", is_flag=True, help="Let devices of the shop's network in; they sign in with a passphrase.")
@click.option("--proxy", is_flag=True, help="It stands behind a reverse proxy of this machine: everybody signs in.")
@click.option("--tls-cert", "certificate", type=click.Path(path_type=Path), help="PEM file of a certificate, for TLS.")
@click.option("--tls-key", "key", type=click.Path(path_type=Path), help="PEM file of its key.")
@click.option("--warm/--no-warm", "warming", default=True, help="Whether boards are cut while nobody asks for them.")
@click.option("--devices", type=click.IntRange(1, 65535), help="Port of this machine where measuring devices speak.")
@click.option("--verbose", is_flag=True, help="Tell every request in the log.")
def serve(data: Path | None, **how: Any) -> None:
    """Start the application. Its log is in the data folder."""
    from .web import default_data
    from .web.app.doors import has_passphrase
    from .web.serving import Way

    os.umask(OWNERS)
    way, folder = Way(**how), data or default_data()
    if way.shared and not has_passphrase(folder) and sys.stdin.isatty():
        ask_passphrase(folder)
    _serve(folder, way)


@main.command()
@click.option("--data", type=click.Path(path_type=Path), required=True, help="Folder of the shop they measure in.")
@click.option("--port", default=5001, show_default=True)
@click.option("--seed", default=7, show_default=True, help="Of the errors that wood and instruments have.")
@click.option("--fault", type=click.Choice(FAULTS), default=None, help="What is wrong with the instruments.")
@click.option("--beside", is_flag=True, hidden=True, help="End with whoever started it: when the input ends.")
def devices(data: Path, port: int, seed: int, fault: str | None, beside: bool) -> None:
    """Simulated instruments: caliper, gauges, moisture meter, hygrometer and scale, at a port of this machine. They
    read a hidden twin of each board, whose wood came out a little otherwise than planned."""
    from laberinto.devices.hidden import of_store
    from laberinto.store import DATABASE, Store, open_database

    try:
        store = Store(open_database(data / DATABASE))
    except LaberintoError as error:
        raise click.ClickException(str(error)) from None
    try:
        server = Server(port, Instruments(of_store(store, seed), seed, fault or ""))
    except OSError as error:
        raise click.ClickException(f"Nothing can listen at port {port}: {error.strerror}. Choose another.") from None
    with server:
        if beside:
            Thread(target=_end_with_the_input, args=(server,), daemon=True).start()
        click.echo(f"Devices speak at {LOOPBACK}:{server.server_address[1]} (Ctrl C stops them)")
        server.serve_forever()


@main.command()
@click.argument("plan", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--stage", "stages_", multiple=True, help="A stage that is cut; may be repeated. Default: the usual ones."
)
@click.option("--port", default=5010, show_default=True)
def machine(plan: Path, stages_: tuple[str, ...], port: int) -> None:
    """A simulated router with the board of a plan, at a port of this machine. It takes G-code by line, answers ok,
    tells where it is (?), holds (!), goes on (~) and stops (stop)."""
    from .devices.controller import Server as Port

    with _refusing(plan):
        controller = on_the_machine(plan, stages_)
    try:
        server = Port(port, controller)
    except OSError as error:
        raise click.ClickException(f"Nothing can listen at port {port}: {error.strerror}. Choose another.") from None
    click.echo(f"The machine listens at {LOOPBACK}:{server.server_address[1]} (Ctrl C stops it)")
    server.serve_forever()


@main.command()
@click.option("--data", type=click.Path(path_type=Path), help="Folder for the demo's database; made as needed.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=5000, show_default=True)
@click.option("--allow-host", "hosts", multiple=True, help="A further name this server goes by; may be repeated.")
@click.option("--fresh", is_flag=True, help="Start again from the demo's first day.")
@click.option("--only-fill", is_flag=True, help="Fill the data folder and stop.")
def demo(data: Path | None, host: str, port: int, hosts: tuple[str, ...], fresh: bool, only_fill: bool) -> None:
    """Start the application with demo data: a small shop by the water."""
    from laberinto.demo.fill import clear, fill

    from .web import default_data
    from .web.serving import Way

    os.umask(OWNERS)
    folder = data or default_data() / "demo"
    try:
        gone = clear(folder) if fresh else []
        fill(folder)
    except LaberintoError as error:
        raise click.ClickException(str(error)) from None
    if gone:
        click.echo(f"Removed from {folder}: {', '.join(gone)}")
    if only_fill:
        return
    beside = port + 1 if port < 65535 else port - 1
    command = [sys.executable, "-m", "laberinto", "devices", "--data", str(folder), "--port", str(beside), "--beside"]
    # its input ends with this process, however that ends
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL):
        _serve(folder, Way(host, port, hosts, devices=beside))


def _end_with_the_input(server: Server) -> None:
    sys.stdin.read()
    server.shutdown()


def _serve(data: Path, way: Way) -> None:
    from .web.serving import run

    try:
        run(data, way, click.echo)
    except LaberintoError as error:
        raise click.ClickException(str(error)) from None
    except OSError as error:
        words = f"{error.filename or data} cannot be used: {error.strerror or error}."
        raise click.ClickException(f"{words} `laberinto doctor` says more.") from None


@main.command("simulate")
@click.argument("plan", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print the report as JSON, lengths in mm.")
@click.option(
    "--face", type=click.Choice([side.value for side in Side]), default="top", help="Side to draw with --svg."
)
@click.option("--svg", type=click.Path(dir_okay=False, path_type=Path), help="Draw a side of the board into this file.")
@click.option("--stl", type=click.Path(dir_okay=False, path_type=Path), help="Write the board as one closed solid.")
@click.option(
    "--glb", type=click.Path(dir_okay=False, path_type=Path), help="Write the board with a part for each wood."
)
@click.option("--stage", help="Draw or write what this stage leaves instead of the finished board.")
@click.option("--piece", default=1, show_default=True, help="Which of the stage's pieces to draw, from 1.")
def simulate_(
    plan: Path,
    as_json: bool,
    face: str,
    svg: Path | None,
    stl: Path | None,
    glb: Path | None,
    stage: str | None,
    piece: int,
) -> None:
    """Act out a plan file and print what each stage yields."""
    with _refusing(plan):
        sim = simulate(read_plan(plan.read_bytes()))
        pieces = _pieces(sim, stage, piece)
        if svg is not None:
            drawn = thumbnail(
                face_of(pieces[piece - 1], Side(face)), Ringed(sim, "f"), label=f"{sim.plan.name}, {face}"
            )
            svg.write_text(drawn + "\n")
        if stl is not None:
            write_stl(pieces.cells, stl)
        if glb is not None:
            write_glb(sim, pieces.cells, glb)
    click.echo(report(sim).model_dump_json(indent=1) if as_json else words(sim))


@contextmanager
def _refusing(plan: Path) -> Iterator[None]:
    """What is wrong with the plan, or with a file, is said, and nothing more is done."""
    try:
        yield
    except PlanError as error:
        for path, text in error.problems:
            click.echo(f"{plan}: {path + ': ' if path else ''}{text}", err=True)
        sys.exit(EXIT_BAD_PLAN)
    except LaberintoError as error:
        click.echo(f"{plan}: {error}", err=True)
        sys.exit(EXIT_BAD_PLAN)
    except OSError as error:
        click.echo(
            f"{error.filename}: {error.strerror}. Choose a folder that is there and may be written to.", err=True
        )
        sys.exit(EXIT_BAD_PLAN)


def _pieces(sim: Simulation, stage: str | None, piece: int) -> Pieces:
    """The pieces to draw or write; raises InputError where the stage or the piece is not there."""
    ids = [each.id for each in sim.plan.stages]
    if stage is not None and stage not in ids:
        raise InputError(f"There is no stage “{stage}”; there are {', '.join(ids)}.", "stage")
    pieces = (sim[stage] if stage else sim.board).pieces
    if not 1 <= piece <= len(pieces):
        raise InputError(f"There is no piece {piece}; this stage leaves {len(pieces)}.", "piece")
    return pieces


@main.command("export")
@click.argument("plan", type=click.Path(path_type=Path))
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--format", "name", help="Which format, where the file's ending does not say; needed for a folder.")
@click.option("--data", type=click.Path(exists=True, file_okay=False, path_type=Path), help="Folder of a shop's data.")
def export_(plan: Path, file: Path, name: str | None, data: Path | None) -> None:
    """Act out a plan file and write the finished board into a file, in the format that its ending names. PLAN may be a
    folder of plan files, and FILE the folder that gets a file for each. With --data PLAN is the number or the name of a
    board of that shop; into a file that ends in .laberinto.zip it is written with everything that is kept of it."""
    if data is not None:
        with _refusing(plan):
            of_shop(data, str(plan), file, name)
    elif not plan.exists():
        raise click.ClickException(f"There is no {plan}. Name a plan file, a folder of them, or a shop with --data.")
    elif plan.is_dir():
        sys.exit(batch(plan, file, name))
    else:
        with _refusing(plan):
            export_for(file, name).write(simulate(read_plan(plan.read_bytes())), file)


@main.command("import")
@click.argument("files", nargs=-1, required=True, type=click.Path(exists=True, path_type=Path))
@click.option("--data", type=click.Path(file_okay=False, path_type=Path), help="Folder of the shop's data.")
@click.option("--lots", is_flag=True, help="Put the lots that a board was cut from into the store, too.")
@click.option("--order", is_flag=True, help="Take over what it is promised for, too.")
@click.option("--ours", is_flag=True, help="It was built in this shop: its readings count for its machines.")
def import_(files: tuple[Path, ...], data: Path | None, lots: bool, order: bool, ours: bool) -> None:
    """Bring plan files, whole boards (.laberinto.zip) or folders of them into a shop. Each becomes a board of its own;
    nothing that is there is changed."""
    sys.exit(bring_in(files, data, lots=lots, order=order, ours=ours))


@main.command()
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path), default=Path("docs"))
def schema(folder: Path) -> None:
    """Write the JSON schemas of plans and reports into a folder."""
    for path in write(folder):
        click.echo(path)


def words(sim: Simulation) -> str:
    """The same for reading."""
    f, how = figures(sim), Lengths()
    lines = [sim.plan.name, ""]
    lines += [
        f"  {line.stage:<14} {line.pieces:>3} × {how.show_size(line.width, line.length, line.thickness):<26}"
        f" {line.volume / 1e6:8.3f} l"
        for line in f.stages
    ]
    waste = ", ".join(f"{line.cause.value} {line.share:.1%}" for line in f.waste)
    lines += ["", f"  board {f.weight:.2f} kg; {f.joints} joints; waste {f.wasted:.1%} ({waste})"]
    lines += [f"  {c.severity.value}: {c.stage}: {c.why} {c.fix}" for c in check(sim)]
    return "\n".join(lines)
