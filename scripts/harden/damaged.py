"""Plans with values changed at random, and damaged pictures and board files."""

from __future__ import annotations

import json
import random
import resource
from io import BytesIO
from pathlib import Path
from typing import Any

from PIL import Image

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.files.boardfile import read_board, write_board
from laberinto.store import DATABASE, Store, open_database
from laberinto.web.app.photos import shrunk

from .report import Bounds, Report


def plans(bounds: Bounds, _folder: Path, chance: random.Random) -> Report:
    """Plans with values changed at random: built, or refused in words."""
    report, families = Report("plans"), list(FAMILIES.values())
    for _ in bounds.rounds():
        plan = json.loads(chance.choice(families)().plan("Changed").as_json())
        for _ in range(chance.randint(1, 4)):
            _change(plan, chance)
        try:
            simulate(read_plan(json.dumps(plan)))
        except LaberintoError:
            pass
        except Exception as error:
            report.fail(f"{json.dumps(plan)[:2000]}: {error!r}")
        report.done += 1
    report.said = f"at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6:.2f} GB held"
    return report


def _change(value: Any, chance: random.Random) -> None:
    """Change something somewhere in a JSON value."""
    while isinstance(value, dict | list) and value:
        at = chance.choice(list(value)) if isinstance(value, dict) else chance.randrange(len(value))
        if isinstance(value[at], dict | list) and value[at] and chance.random() < 0.8:
            value = value[at]
            continue
        number = value[at] if isinstance(value[at], int | float) else 1
        value[at] = chance.choice([
            -number, number * 2, number * 1e6, number + 0.001, 0, None, "", "x", [], {}, True, 1e308, [1] * 50,
        ])  # fmt: skip
        return


def uploads(bounds: Bounds, folder: Path, chance: random.Random) -> Report:
    """Damaged pictures and board files: read, or refused in words."""
    report, store = Report("uploads"), Store(open_database(folder / DATABASE))
    board = store.create(Alternating().plan("Kept"))
    whole = [write_board(store.whole.read(board), store.board(board).created, "1")]  # type: ignore[union-attr]
    for kind in ("JPEG", "PNG", "WEBP", "GIF"):
        out = BytesIO()
        Image.effect_mandelbrot((320, 240), (-2, -1.5, 1, 1.5), 60).convert("RGB").save(out, kind)
        whole.append(out.getvalue())
    for _ in bounds.rounds():
        data = bytearray(chance.choice(whole))
        for _ in range(chance.randint(1, 8)):
            at = chance.randrange(len(data))
            if chance.random() < 0.3:
                del data[at : at + chance.randint(1, max(len(data) // 4, 1))]
            else:
                data[at : at + 1] = bytes([chance.randrange(256)])
            if not data:
                data = bytearray(b"x")
        try:
            (read_board if bytes(data[:2]) == b"PK" else _picture)(bytes(data))
        except LaberintoError:
            pass
        except Exception as error:
            report.fail(f"{bytes(data[:16])!r}, {len(data)} bytes: {error!r}")
        report.done += 1
    return report


def _picture(data: bytes) -> bytes:
    return shrunk(data, "photo")
