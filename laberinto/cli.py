"""The command line: serve the application, fill it with the demo, act out a plan file."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from . import __version__
from .core.errors import LaberintoError, PlanError
from .core.faces import Side, face_of
from .core.figures import figures
from .core.plan import read_plan
from .core.rules import check
from .core.simulate import Simulation, simulate
from .core.units import Lengths
from .drawing.board import thumbnail
from .drawing.skin import Ringed
from .files.report import report
from .files.schema import write

EXIT_BAD_PLAN = 2


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Design, plan and build end-grain cutting boards."""


@main.command()
@click.option("--data", type=click.Path(path_type=Path), help="Folder for the database; made as needed.")
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=5000, show_default=True)
def serve(data: Path | None, host: str, port: int) -> None:
    """Start the application."""
    _serve(data, host, port)


@main.command()
@click.option("--data", type=click.Path(path_type=Path), help="Folder for the demo's database; made as needed.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=5000, show_default=True)
@click.option("--fresh", is_flag=True, help="Start again from the demo's first day.")
@click.option("--only-fill", is_flag=True, help="Fill the data folder and stop.")
def demo(data: Path | None, host: str, port: int, fresh: bool, only_fill: bool) -> None:
    """Start the application with demo data: a small shop by the water."""
    from demo.fill import fill

    from .web import default_data

    folder = data or default_data().parent / "laberinto-demo"
    fill(folder, fresh=fresh)
    if not only_fill:
        _serve(folder, host, port)


def _serve(data: Path | None, host: str, port: int) -> None:
    from waitress import serve as run

    from .web import create_app

    app = create_app(data)
    click.echo(f"Laberinto is at http://{host}:{port}/ (Ctrl C stops it)")
    run(app, host=host, port=port, threads=6, ident=None)


@main.command("simulate")
@click.argument("plan", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print the report as JSON, lengths in mm.")
@click.option(
    "--face", type=click.Choice([side.value for side in Side]), default="top", help="Side to draw with --svg."
)
@click.option("--svg", type=click.Path(dir_okay=False, path_type=Path), help="Draw a side of the board into this file.")
def simulate_(plan: Path, as_json: bool, face: str, svg: Path | None) -> None:
    """Act out a plan file and print what each stage yields."""
    try:
        sim = simulate(read_plan(plan.read_bytes()))
    except PlanError as error:
        for path, text in error.problems:
            click.echo(f"{plan}: {path + ': ' if path else ''}{text}", err=True)
        sys.exit(EXIT_BAD_PLAN)
    except LaberintoError as error:
        click.echo(f"{plan}: {error}", err=True)
        sys.exit(EXIT_BAD_PLAN)
    if svg is not None:
        drawn = thumbnail(face_of(sim.board.pieces[0], Side(face)), Ringed(sim, "f"), label=f"{sim.plan.name}, {face}")
        svg.write_text(drawn + "\n")
    click.echo(report(sim).model_dump_json(indent=1) if as_json else words(sim))


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
