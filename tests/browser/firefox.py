"""Debian's Firefox, told what to do over its own line (Marionette), which speaks WebDriver's words: Playwright knows only
a Firefox of its own."""

from __future__ import annotations

import json
import socket
import subprocess
import time
from base64 import b64decode
from pathlib import Path
from typing import Any


class Firefox:
    """A Firefox without a window, as large as the screens of the tests."""

    def __init__(self, program: str, profile: Path, patience: float) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        (profile / "user.js").write_text(f'user_pref("marionette.port", {port});\n')
        command = [program, "--headless", "--marionette", "--profile", str(profile), "--width=1280", "--height=800"]
        self._process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        until = time.monotonic() + patience
        while True:
            try:
                self._line = socket.create_connection(("127.0.0.1", port), timeout=patience)
                break
            except ConnectionRefusedError:
                assert time.monotonic() < until and self._process.poll() is None, "Firefox does not answer"
                time.sleep(0.05)
        self._heard = self._line.makefile("rb")
        self._read()  # who it is
        self._asked = 0
        self.ask("NewSession")

    def _read(self) -> Any:
        long = b""
        while (one := self._heard.read(1)) != b":":
            assert one, "Firefox is gone"
            long += one
        return json.loads(self._heard.read(int(long)))

    def ask(self, what: str, **values: Any) -> Any:
        """The answer to one of WebDriver's commands."""
        self._asked += 1
        said = json.dumps([0, self._asked, f"WebDriver:{what}", values]).encode()
        self._line.sendall(b"%d:%s" % (len(said), said))
        _, _, fault, answer = self._read()
        assert fault is None, fault
        return answer["value"] if isinstance(answer, dict) and "value" in answer else answer

    def tell(self, expression: str) -> Any:
        """What an expression is on the page."""
        return self.ask("ExecuteScript", script=f"return {expression}", args=[])

    def shot(self) -> bytes:
        """What is seen, a PNG."""
        return b64decode(self.ask("TakeScreenshot", full=False))

    def end(self) -> None:
        """Close it."""
        self._line.close()
        self._process.terminate()
        self._process.wait()
