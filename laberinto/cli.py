"""The command line: serve the application, fill it with the demo, act out a plan file."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import click

from . import __version__
from .core.errors import LaberintoError, PlanError
from .core.figures import figures
from .core.plan import read_plan
from .core.rules import check
from .core.simulate import Simulation, simulate
from .core.units import Lengths

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
def simulate_(plan: Path, as_json: bool) -> None:
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
    click.echo(json.dumps(report(sim), indent=1, ensure_ascii=False) if as_json else words(sim))


def report(sim: Simulation) -> dict[str, Any]:
    """What a plan yields as plain data: mm, mm², mm³ and kg."""
    f = figures(sim)
    return {
        "name": sim.plan.name,
        "board": {
            "width": f.width, "length": f.length, "thickness": f.thickness, "volume": f.board, "weight_kg": f.weight,
        },
        "stages": [
            {
                "id": line.stage, "title": line.title, "pieces": line.pieces, "width": line.width,
                "length": line.length, "thickness": line.thickness, "volume": line.volume, "wood_in": result.wood_in,
                "waste": {cause.value: v for cause, v in result.outcome.waste.items()},
                "joints": [{"area": j.area, "mixed_grain_area": j.mixed} for j in result.outcome.joints],
            }
            for line, result in zip(f.stages, sim.results, strict=True)
        ],
        "waste": {line.cause.value: line.volume for line in f.waste},
        "milled": f.milled,
        "checks": [{"severity": c.severity.value, "stage": c.stage, "why": c.why, "fix": c.fix} for c in check(sim)],
    }  # fmt: skip


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
