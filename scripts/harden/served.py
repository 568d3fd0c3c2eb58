"""A server in a process of its own, and somebody who asks it."""

from __future__ import annotations

import re
import subprocess
import sys
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from http.client import HTTPConnection
from http.cookies import SimpleCookie
from pathlib import Path
from urllib.parse import urlencode

TOKEN = re.compile(r'name="csrf_token" value="([^"]+)"')


class Guest:
    """One browser's worth of asking: a connection that is kept, cookies, and the token of the forms. It follows no
    redirection."""

    def __init__(self, port: int) -> None:
        self._line = HTTPConnection("127.0.0.1", port, timeout=300)
        self._cookies: dict[str, str] = {}
        self._token = ""

    def get(self, path: str, values: Mapping[str, object] = {}) -> int:
        """The status that a page is answered with."""
        return self._ask("GET", f"{path}?{urlencode(values)}" if values else path)[0]

    def post(self, path: str, values: Mapping[str, object]) -> int:
        """The same of a form that is sent."""
        if not self._token:
            self.renew()
        return self._ask("POST", path, urlencode({"csrf_token": self._token, **values}))[0]

    def renew(self) -> None:
        """Read the token of the forms anew."""
        found = TOKEN.search(self._ask("GET", "/")[1].decode())
        assert found, "the list of boards has no form"
        self._token = found[1]

    def _ask(self, method: str, path: str, body: str | None = None) -> tuple[int, bytes]:
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in self._cookies.items())}
        if body is not None:
            headers["Content-Type"] = "application/x-www-form-urlencoded"
        try:
            self._line.request(method, path, body, headers)
            answer = self._line.getresponse()
            read = answer.read()
        except OSError:
            self._line.close()  # the next one gets a new line
            raise
        for told in answer.headers.get_all("Set-Cookie") or ():
            self._cookies |= {name: one.value for name, one in SimpleCookie(told).items()}
        return answer.status, read


class Server:
    """A server that listens, and the memory it holds."""

    def __init__(self, pid: int, port: int) -> None:
        self._pid, self.port = pid, port

    def held(self) -> float:
        """What it holds now, MB."""
        status = Path(f"/proc/{self._pid}/status").read_text()
        found = re.search(r"VmRSS:\s+(\d+) kB", status)
        assert found, "the server is gone"
        return int(found[1]) / 1000


@contextmanager
def served(folder: Path) -> Iterator[Server]:
    """Serve a folder while it is asked, with nothing warmed."""
    command = [sys.executable, "-u", "-m", "laberinto", "serve", "--no-warm", "--data", str(folder), "--port", "0"]
    log = folder / "served.txt"
    with log.open("w") as out, subprocess.Popen(command, stdout=subprocess.PIPE, stderr=out, text=True) as process:
        try:
            assert process.stdout
            found = re.search(r":(\d+)/ ", process.stdout.readline())
            assert found, log.read_text()
            yield Server(process.pid, int(found[1]))
        finally:
            process.terminate()
            process.wait()
