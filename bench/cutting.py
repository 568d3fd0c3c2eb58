"""How good cut plans are in five seconds: 60 strips of 4 lengths from 25 lots, seven random stores.

Printed is the gap to the bound, which holds for every two-stage plan, and how long it took.
"""

from __future__ import annotations

import random
import statistics
import time

from laberinto.core.timber import Defect, Lot, LotKind, Need
from laberinto.core.timber.cutting import Aim, Saw, Stock, cut

SEEDS = range(1, 8)
WORK = 4.8


def store(seed: int) -> tuple[list[Need], list[Stock]]:
    """Planks of usual lengths, a quarter of them offcuts, a third with a knot; strips of four lengths and widths."""
    dice = random.Random(seed)
    lots = []
    for _ in range(25):
        kind = dice.choice([LotKind.PLANK] * 3 + [LotKind.OFFCUT])
        length = dice.choice([900, 1200, 1600, 2000, 2400]) if kind is LotKind.PLANK else dice.randint(300, 800)
        width, thickness = dice.randint(90, 220), dice.choice([40, 52])
        knot = Defect(what="knot", start=length * 0.3, end=length * 0.3 + 50, low=20, high=50)
        lots.append(
            Lot(
                kind=kind, wood="beech", length=length, width=width, thickness=thickness,
                defects=(knot,) if dice.random() < 0.3 else (),
            )
        )  # fmt: skip
    lengths = dice.sample(range(240, 760, 10), 4)
    counts = [dice.randint(10, 20) for _ in range(3)]
    counts.append(60 - sum(counts))
    needs = [Need("beech", length, dice.randint(22, 45), 36, n) for length, n in zip(lengths, counts, strict=True)]
    return needs, [Stock(lot, number) for number, lot in enumerate(lots, 1)]


def main() -> None:
    gaps = []
    for seed in SEEDS:
        needs, stock = store(seed)
        began = time.perf_counter()
        plan = cut(needs, stock, Saw(), Aim.LEAST_WASTE, work=WORK)
        gaps.append(plan.gap)
        print(f"store {seed}: {plan.gap * 100:.2f} % over the bound in {time.perf_counter() - began:.1f} s")
    print(f"median {statistics.median(gaps) * 100:.2f} %, worst {max(gaps) * 100:.2f} %")
