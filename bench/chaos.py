"""The chaos board: four re-rips, two of them skewed, then slices shuffled in four lies.

Steps, in mm. (1) n strips 25 × 900 × 25 side by side; 1 off both faces. (2) Four times: rip at skew 0, 0, 4, 4
degrees into widths drawn from 21 to 27 until one no longer fits, kerf 3. (3) Shuffle; every odd strip in cut order
rolls a quarter; level to the thinnest and take 1 off both faces; after a skew cut the ends flush. (4) Square 2 off,
then 15 slices of 42 with 3 mm kerf, shuffled, each in one of four lies; 2 off both faces, 2 off all four sides.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate

LIES = ("as-cut", "other-end-up", "flip", "end-for-end")


def chaos(n: int, seed: int = 7) -> Plan:
    """The plan for ``n`` strips. Sizes after each pass are followed by simulating it so far."""
    rng = np.random.default_rng(seed)
    woods = ("ash", "elm", "plum", "sycamore", "bog-oak")
    strips = [{"wood": woods[i % len(woods)], "width": 25} for i in range(n)]
    stages: list[dict[str, Any]] = [
        {"id": "strips", "kind": "mill", "thickness": 25, "length": 900, "strips": strips},
        {"id": "panel", "kind": "glue", "from": "strips"},
        {"id": "flat", "kind": "flatten", "from": "panel", "each_face": 1},
    ]
    width, length, last = 25.0 * n, 900.0, "flat"
    for k, skew in enumerate((0, 0, 4, 4), 1):
        theta = math.radians(skew)
        there, widths = width * math.cos(theta) - length * math.sin(theta), []
        while True:
            wide = float(rng.uniform(21, 27))
            if sum(widths) + 3 * len(widths) + wide > there:
                break
            widths.append(wide)
        order = rng.permutation(len(widths))
        turned = {str(at + 1): "quarter roll" for at, cut in enumerate(order) if cut % 2}
        stages += [
            {"id": f"rip-{k}", "kind": "rip", "from": last, "widths": widths, "skew": skew},
            {
                "id": f"glue-{k}", "kind": "glue", "from": f"rip-{k}", "order": [int(c) + 1 for c in order],
                "turned": turned,
            },
            {"id": f"flat-{k}", "kind": "flatten", "from": f"glue-{k}", "each_face": 1, "level": True},
        ]  # fmt: skip
        last = f"flat-{k}"
        if skew:
            stages.append({"id": f"ends-{k}", "kind": "trim", "from": last, "edge": 0, "flush": True})
            last = f"ends-{k}"
        width, length, _ = simulate(_plan(n, stages)).board.size
    order, lies = rng.permutation(15), rng.integers(0, 4, 15)
    stages += [
        {"id": "slices", "kind": "crosscut", "from": last, "slice": 42, "count": 15, "squaring": 2, "kerf": 3},
        {
            "id": "rows", "kind": "arrange", "from": "slices", "rule": "as-cut", "order": [int(s) + 1 for s in order],
            "turned": {str(int(s) + 1): LIES[lies[s]] for s in range(15)},
        },
        {"id": "board", "kind": "glue", "from": "rows", "across": "length"},
        {"id": "board-flat", "kind": "flatten", "from": "board", "each_face": 2},
        {"id": "trimmed", "kind": "trim", "from": "board-flat", "edge": 2},
    ]  # fmt: skip
    return _plan(n, stages)


def _plan(n: int, stages: list[dict[str, Any]]) -> Plan:
    return read_plan({"format": "laberinto-plan", "version": 1, "name": f"Chaos {n}", "stages": stages})
