"""Property tests with new random examples, round after round: ``make fuzz MINUTES=30``.

An example that fails is kept in ``.hypothesis``, is tried first in the next round, and is printed with what pins it as
an ``@example`` of its test. Plans that are drawn by seeds are others each round, too: the same first seed in the
environment, which is printed, draws them again.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from secrets import randbelow

import click

DRAWN = "hypothesis or seeded"
"""Marks of the tests whose examples are drawn."""


@click.command()
@click.option("--minutes", default=20.0, show_default=True, help="No round is begun after this; the last one is ended.")
@click.option("--most-rounds", default=1000, show_default=True)
def fuzz(minutes: float, most_rounds: int) -> None:
    """Runs until something fails or the time is over."""
    end = time.monotonic() + 60 * minutes
    for number in range(1, most_rounds + 1):
        if time.monotonic() > end:
            break
        first = randbelow(10**9)
        click.echo(f"Round {number}, plans drawn by LABERINTO_SEEDS_FROM={first}")
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "-m", DRAWN, "--ignore", "tests/browser", "-n", "auto"],
            env={**os.environ, "LABERINTO_EXAMPLES": "fuzz", "LABERINTO_SEEDS_FROM": str(first)},
            check=False,
        )
        if run.returncode:
            sys.exit(run.returncode)


if __name__ == "__main__":
    fuzz()
