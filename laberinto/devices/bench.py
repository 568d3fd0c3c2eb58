"""Simulated instruments on a line of their own: each reads the true board of a hidden twin, with its own error."""

from __future__ import annotations

import random
import socketserver
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import ClassVar

from .line import DEVICES, HELLO

LOOPBACK = "127.0.0.1"
"""Instruments are heard on this machine only."""

SENDS: dict[str, tuple[str, float, float, int]] = {
    "caliper": ("mm", 1.0, 0.02, 2), "thickness-gauge": ("mm", 1.0, 0.02, 2), "angle-gauge": ("°", 1.0, 0.05, 1),
    "moisture-meter": ("%", 1.0, 0.3, 1), "hygrometer": ("%RH", 1.0, 0.5, 0), "scale": ("g", 1000.0, 0.001, 0),
}  # fmt: skip
"""What each sends: its unit, how much of it goes into the unit that counts, its own error there (one standard
deviation), and how many decimals it shows."""

FAULTS = ("silent", "nonsense", "jump", "drop")
"""What may be wrong with an instrument, to see that it is said."""

True_ = Callable[[str, str], float | None]
"""What a device would find under it: from its name and what lies there."""


@dataclass
class Instruments:
    """All of the bench; ``seed`` is of their own errors, and ``fault`` what is wrong with them, if anything."""

    true: True_
    seed: int = 1
    fault: str = ""
    dice: random.Random = field(init=False)
    readings: int = 0

    def __post_init__(self) -> None:
        self.dice = random.Random(self.seed)

    def read(self, name: str, under: str) -> str | None:
        """One line of a device; None where it stays silent."""
        if self.fault == "silent":
            return None
        if self.fault == "nonsense" or name not in SENDS:
            return "ERR -- --"
        found = self.true(name, under)
        if found is None:
            return "ERR nothing under it"
        unit, scale, error, decimals = SENDS[name]
        self.readings += 1
        wild = 6.0 * (self.readings % 2) if self.fault == "jump" else 0.0
        return f"{name} {(found + self.dice.gauss(0, error) + wild) * scale:+.{decimals}f} {unit}"


class _Line(socketserver.StreamRequestHandler):
    """One who listens: says hello, then a line for each line."""

    instruments: ClassVar[Instruments]

    def handle(self) -> None:
        under = ""
        self._say(HELLO)
        while line := self.rfile.readline(400).decode(errors="replace").strip():
            verb, _, rest = line.partition(" ")
            if self.instruments.fault == "drop" and verb == "read":
                return
            if verb == "under":
                under = rest
                self._say("ok")
            elif verb == "list":
                self._say(" ".join(DEVICES))
            elif verb == "read":
                if (said := self.instruments.read(rest, under)) is not None:
                    self._say(said)
            else:
                self._say("ERR say list, under or read")

    def _say(self, text: str) -> None:
        self.wfile.write(f"{text}\n".encode())


class Server(socketserver.ThreadingTCPServer):
    """Listens on this machine alone."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, instruments: Instruments) -> None:
        handler = type("Line", (_Line,), {"instruments": instruments})
        super().__init__((LOOPBACK, port), handler)
