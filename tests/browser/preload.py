"""What every server that a test starts would do again: it is done once, in the process that they are split off from."""

from __future__ import annotations

import gc
from importlib import import_module
from pathlib import Path
from tempfile import TemporaryDirectory
from types import CodeType

from flask import Flask
from jinja2.bccache import Bucket, BytecodeCache

from laberinto.web import create_app
from laberinto.web.app.workshop import PRELOADED
from laberinto.web.serving import warm


class Compiled(BytecodeCache):
    """Templates as they were compiled in this process."""

    def __init__(self) -> None:
        self.codes: dict[tuple[str, str], CodeType | None] = {}

    def load_bytecode(self, bucket: Bucket) -> None:
        bucket.code = self.codes.get((bucket.key, bucket.checksum))

    def dump_bytecode(self, bucket: Bucket) -> None:
        self.codes[bucket.key, bucket.checksum] = bucket.code


for name in (*PRELOADED, "waitress"):
    import_module(name)
Flask.jinja_options = {"bytecode_cache": Compiled()}
with TemporaryDirectory() as folder:
    warm(create_app(Path(folder)))

gc.collect()
gc.freeze()
