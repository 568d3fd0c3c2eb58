"""The simulated machine at its port: a line for a line, hold and go on, and what stops it stays stopped."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import pytest

from laberinto.core.cnc.machine import Machine
from laberinto.core.cnc.surface import HeightMap
from laberinto.core.cnc.tools import USUAL
from laberinto.devices.controller import Controller, Sender, Server

TOOLS = {tool.number: tool for tool in USUAL}

GROOVE = "(a groove)\nG21\nT1 M6\nM3 S18000\nG0 X10 Y10 Z5\nG1 Z-2 F300\nG1 X40 F900\nG0 Z5\nM5\nM30\n"


@pytest.fixture
def controller() -> Controller:
    return Controller(Machine(HeightMap(np.zeros((250, 250), np.float32), 0.0, 0.0, 0.2, -30.0), TOOLS, 30))


@pytest.fixture
def sender(controller: Controller) -> Iterator[Sender]:
    with Server(0, controller) as server, Sender(server.server_address[1]) as sender:
        yield sender


def test_every_line_is_acknowledged_and_the_wood_is_carved(controller: Controller, sender: Sender) -> None:
    assert sender.say("?").startswith("<idle 0.000 0.000 60.000 0")
    answers = list(sender.send(GROOVE))
    assert answers == ["ok"] * 10
    assert controller.machine.wood.at(25, 10) == -2 and controller.machine.wood.at(25, 14) == 0
    state, x, y, z, line, seconds = sender.say("?").strip("<>").split()
    assert (state, x, y, z, line) == ("done", "40.000", "10.000", "5.000", "10") and float(seconds) > 2


def test_it_holds_and_goes_on_where_it_was(controller: Controller, sender: Sender) -> None:
    answers = sender.send(GROOVE)
    assert [next(answers) for _ in range(6)] == ["ok"] * 6
    with Sender(sender._line.getpeername()[1]) as hand:  # somebody at the machine
        assert hand.say("!") == "ok" and hand.say("?").startswith("<hold 10.000 10.000 -2.000 6")
        assert [next(answers) for _ in range(3)] == ["held"] * 3
        assert controller.machine.at == (10, 10, -2)
        assert hand.say("~") == "ok"
    assert list(answers) == ["ok"] * 4 and controller.machine.wood.at(39, 10) == -2


def test_what_stops_it_is_said_and_nothing_more_is_done(controller: Controller, sender: Sender) -> None:
    answers = list(sender.send(GROOVE.replace("G1 Z-2 F300", "G0 Z-2")))
    assert answers[-1] == "error Line 6: a rapid move runs through wood." and len(answers) == 6
    assert sender.say("G0 Z5").startswith("error Line 6") and sender.say("?").startswith("<stopped")
    assert float(controller.machine.wood.z.min()) == 0


def test_a_hand_stops_it(controller: Controller, sender: Sender) -> None:
    assert sender.say("stop") == "ok" and sender.say("G21") == "error It was stopped by hand."
    assert sender.say("G99").startswith("error It was stopped")


def test_a_line_that_is_no_g_code_stops_it(sender: Sender) -> None:
    assert sender.say("G99 X1") == "error Line 1: G99 is not in this dialect"


def test_signs_count_without_the_end_of_a_line(sender: Sender) -> None:
    """As other senders send them; in a line, and in a remark, they are a part of it."""
    talk = sender._talk

    def answers(said: str, count: int) -> list[str]:
        talk.write(said)
        talk.flush()
        return [talk.readline().strip().partition(" ")[0] for _ in range(count)]

    assert answers("!", 1) == ["ok"] and answers("?", 1) == ["<hold"]
    assert answers("~?\nG21\n(really?!)\n", 4) == ["ok", "<idle", "ok", "ok"]
    assert answers("?\r\n?\n\n", 3) == ["<run", "<run", "ok"]  # an empty line is answered as ever
