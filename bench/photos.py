"""A photo of 24 megapixels: how long it takes to be taken in, and how much memory at most, each in a process of its
own."""

from __future__ import annotations

import subprocess
import sys
import time
from io import BytesIO
from pathlib import Path

import numpy as np
from PIL import Image
from werkzeug.datastructures import FileStorage

from laberinto.web.app.photos import small_jpeg

WIDE, HIGH = 6000, 4000


def photo(kind: str) -> bytes:
    """Wood-like noise, so that it packs no better than a photo does."""
    rng = np.random.default_rng(2)
    small = rng.integers(60, 200, (HIGH // 8, WIDE // 8, 3), np.uint8)
    out = BytesIO()
    Image.fromarray(small).resize((WIDE, HIGH), Image.Resampling.BICUBIC).save(out, kind)
    return out.getvalue()


def held() -> float:
    """Megabytes that this process held at most so far."""
    status = Path("/proc/self/status").read_text()
    return int(next(line for line in status.splitlines() if line.startswith("VmHWM")).split()[1]) / 1024


def measure(kind: str) -> None:
    """Seconds, and megabytes beyond what the process held already."""
    data = sys.stdin.buffer.read()
    before = held()
    start = time.perf_counter()
    kept = small_jpeg(FileStorage(BytesIO(data), filename=f"a.{kind}"))
    spent = time.perf_counter() - start
    more = held() - before
    print(f"{f'24 megapixels as {kind}':48} {spent:12.2f} s {more:6.0f} MB more, kept as {len(kept) // 1024} kB")


def main() -> None:
    for kind in ("JPEG", "PNG"):
        command = [sys.executable, "-c", f"from bench.photos import measure; measure({kind!r})"]
        subprocess.run(command, input=photo(kind), check=True)


if __name__ == "__main__":
    main()
