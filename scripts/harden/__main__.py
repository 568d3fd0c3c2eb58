"""``python -m scripts.harden``."""

from __future__ import annotations

import sys

import click

from . import attack


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
