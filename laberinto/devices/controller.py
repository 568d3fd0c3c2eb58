"""A simulated router at a port: takes G-code line by line as a controller does, tells where it is, holds, stops.

=============== =============================================================
said            answered
=============== =============================================================
(on connecting) ``laberinto-controller 1``
a G-code line   ``ok`` once it is done, ``held`` while it holds (send it again), or
                ``error`` and why; then it stays stopped
``?``           ``<state x y z line seconds>``: idle, run, hold, stopped or done
``!`` ``~``     hold, go on: ``ok``
``stop``        ``ok``; nothing is done any more
=============== =============================================================
"""

from __future__ import annotations

import socket
import socketserver
from collections.abc import Iterator
from io import BufferedReader
from threading import RLock, Thread
from typing import ClassVar, Self, cast

from laberinto.core.cnc.gcode import GcodeError, Reader
from laberinto.core.cnc.machine import Machine, StoppedError

from .bench import LOOPBACK

HELLO = "laberinto-controller 1"

LONGEST = 400
"""Characters of a line that is read."""

AT_ONCE = (b"?", b"!", b"~")
"""Signs that count as soon as they come, with or without the end of a line, as senders of programs send them."""

PATIENCE = 60.0
"""Seconds that one line may take: a long row over a large board is carved in far less."""


class Controller:
    """What stands between a line and the machine. It may be spoken to from several lines at once."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.reader = Reader()
        self.held = False
        self.stopped = ""
        self.lock = RLock()

    @property
    def state(self) -> str:
        """In a word."""
        if self.stopped:
            return "stopped"
        return "hold" if self.held else "done" if self.machine.done else "run" if self.reader.line else "idle"

    def say(self, text: str) -> str:
        """The answer to a line."""
        with self.lock:
            if text == "?":
                x, y, z = self.machine.at
                return f"<{self.state} {x:.3f} {y:.3f} {z:.3f} {self.reader.line} {self.machine.seconds:.1f}>"
            if text in ("!", "~"):
                self.held = text == "!"
                return "ok"
            if text == "stop":
                self.stopped = self.stopped or "It was stopped by hand."
                return "ok"
            if self.stopped:
                return f"error {self.stopped}"
            return "held" if self.held else self._take(text)

    def _take(self, text: str) -> str:
        try:
            self.machine.run(self.reader.read(text))
        except (StoppedError, GcodeError) as error:
            self.stopped = str(error)
            return f"error {error}"
        return "ok"


class _Line(socketserver.StreamRequestHandler):
    controller: ClassVar[Controller]

    def handle(self) -> None:
        self._say(HELLO)
        at_once = False
        said = cast(BufferedReader, self.rfile)
        while first := said.peek(1)[:1]:
            if first in AT_ONCE:
                self._say(self.controller.say(said.read(1).decode()))
                at_once = True
                continue
            line = said.readline(LONGEST).decode("utf-8", "replace").strip()
            if line or not at_once:  # who ends a sign with a line of its own is answered once
                self._say(self.controller.say(line))
            at_once = False

    def _say(self, text: str) -> None:
        self.wfile.write(f"{text}\n".encode())


class Server(socketserver.ThreadingTCPServer):
    """Listens on this machine alone; port 0 takes any that is free."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, controller: Controller) -> None:
        super().__init__((LOOPBACK, port), type("Line", (_Line,), {"controller": controller}))

    def __enter__(self) -> Self:
        Thread(target=self.serve_forever, name="controller", daemon=True).start()
        return self

    def __exit__(self, *_: object) -> None:
        self.shutdown()
        self.server_close()


class Sender:
    """One who sends a program."""

    def __init__(self, port: int, host: str = LOOPBACK) -> None:
        self._line = socket.create_connection((host, port), PATIENCE)
        self._talk = self._line.makefile("rw", encoding="utf-8", newline="\n")
        if self._talk.readline().strip() != HELLO:
            raise OSError("what answers there is no controller")

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._talk.close()
        self._line.close()

    def say(self, text: str) -> str:
        """One line for one line."""
        self._talk.write(text + "\n")
        self._talk.flush()
        return self._talk.readline().strip()

    def send(self, text: str) -> Iterator[str]:
        """Line by line; each answer as it comes. Ends with the first that is no ``ok`` and not ``held``; a line that is
        held is sent again when one asks for the next answer."""
        for line in text.splitlines():
            while (answer := self.say(line)) == "held":
                yield answer
            yield answer
            if answer != "ok":
                return
