"""Property tests with new random examples, round after round: ``make fuzz MINUTES=30``.

An example that fails is kept in ``.hypothesis``, is tried first in the next round, and is printed with what pins it as
an ``@example`` of its test.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time

import click


@click.command()
@click.option("--minutes", default=20.0, show_default=True, help="No round is begun after this; the last one is ended.")
@click.option("--most-rounds", default=1000, show_default=True)
def fuzz(minutes: float, most_rounds: int) -> None:
    """Runs until something fails or the time is over."""
    end = time.monotonic() + 60 * minutes
    for number in range(1, most_rounds + 1):
        if time.monotonic() > end:
            break
        click.echo(f"Round {number}")
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "-m", "hypothesis", "--ignore", "tests/browser", "-n", "auto"],
            env={**os.environ, "LABERINTO_EXAMPLES": "fuzz"},
            check=False,
        )
        if run.returncode:
            sys.exit(run.returncode)


if __name__ == "__main__":
    fuzz()
