"""Servers in processes of their own, which can be stopped and started."""

from __future__ import annotations

import multiprocessing
import socket
import time
import urllib.request
from multiprocessing.process import BaseProcess
from pathlib import Path

from laberinto.web.serving import Way
from tests.split import READ

from .serve import serve

SERVERS = multiprocessing.get_context("forkserver")
SERVERS.set_forkserver_preload(READ)
"""Each server is a process of its own, split off from one that has read all code: reading it is half of a start. The
heavy work of servers, and of applications in the tests' own process, is split off from the same one."""


class Server:
    """Laberinto served from a data folder, on a port of its own."""

    def __init__(self, data: Path) -> None:
        self.data = data
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.process: BaseProcess | None = None
        self.devices: int | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def pid(self) -> int:
        """Of what serves now."""
        assert self.process is not None and self.process.pid is not None
        return self.process.pid

    def begin(self) -> BaseProcess:
        # warming boards would take the core that the browser needs
        way = Way(port=self.port, warming=False, devices=self.devices)
        process = SERVERS.Process(target=serve, args=(self.data, way))
        process.start()
        return process

    def start(self) -> None:
        self.process = self.begin()
        for _ in range(5000):
            try:
                urllib.request.urlopen(f"{self.url}/static/mark.svg", timeout=1)
                return
            except OSError:
                time.sleep(0.02)
        raise RuntimeError("the server did not start")

    def stop(self, *, hard: bool = False) -> None:
        if self.process is not None:
            (self.process.kill if hard else self.process.terminate)()
            self.process.join(10)
            self.process = None
