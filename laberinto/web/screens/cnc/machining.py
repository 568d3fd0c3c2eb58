"""The simulated machine at work, in a process of its own: a program is sent to it line by line over a port, where it
may be spoken to meanwhile."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from time import sleep
from typing import Any

import numpy as np

from laberinto.core.cnc.machine import Bed, Clamp
from laberinto.core.cnc.program import Carved, machine_for, program
from laberinto.core.cnc.tools import Tool
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.devices.controller import Controller, Sender, Server
from laberinto.drawing.cnc import WITHIN, deviation_png
from laberinto.files.relief import relief

from ...app.workshop import Tell

WAIT = 0.05
"""How long a sender waits before it asks again whether it may go on, s."""

PICTURES = 40
"""So often over a program the wood is shown as it comes off."""


@dataclass(frozen=True, slots=True)
class Going:
    """A machine at work: the port it listens at, how often its wood was shown, and the wood as it stood last."""

    port: int
    shown: int = 0
    solid: bytes = b""


@dataclass(frozen=True, slots=True)
class Done:
    """What came of it: the wood, a map of what is off, how long it takes, and at which line and why it stopped (or "");
    how much is too deep and how much is left (mm), and the share that is as planned."""

    shown: int
    solid: bytes
    picture: bytes
    takes: timedelta
    stopped: str
    gouged: float
    left: float
    good: float


def carve(
    plan: Plan, given: Mapping[str, Any], table: Sequence[Tool], clamps: Sequence[Clamp], travel: Bed, tell: Tell
) -> Done:
    """Cut what is ``given`` to ``program`` on the simulated machine. ``tell`` hears of a ``Going``."""
    made = program(simulate(plan), **given)
    before, planned = made.wood()
    machine = machine_for(made, before, table, clamps, travel)
    controller = Controller(machine)
    lines = made.text.splitlines()
    every = max(len(lines) // PICTURES, 1)
    stopped, number = "", 0
    with Server(0, controller) as server, Sender(server.server_address[1]) as sender:
        going = Going(server.server_address[1])
        tell(0.0, going)
        for answer in sender.send(made.text):
            if answer == "held":
                sleep(WAIT)
            else:
                number += 1
                stopped = answer.removeprefix("error ") if answer != "ok" else ""
                if number % every == 0:
                    going = Going(going.port, going.shown + 1, relief(machine.wood))
            if not tell(number / len(lines), going) and not stopped:
                sender.say("stop")
    carved = Carved(planned, machine.wood, timedelta(seconds=round(machine.seconds)), stopped)
    off = carved.deviation
    return Done(
        going.shown + 1, relief(machine.wood), deviation_png(carved), carved.takes, stopped,
        float(-off.min()), float(off.max()), float((np.abs(off) <= WITHIN).mean()),
    )  # fmt: skip
