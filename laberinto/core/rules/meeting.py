"""Pieces that do not meet: unequal thickness, rectangles where squares are needed, ragged ends left on the board."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..geometry.polygons import area
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Across, Carving, Ease, Flatten, Glue, Shape, Trim
from .model import Check, Severity, Show

STEP = 0.05
"""Faces that step by less than this (mm) are level once scraped."""


def unequal(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Panels that meet in one face must be of exactly one thickness, unless flattening takes the step away."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Glue) or stage.across is Across.THICKNESS or stage.source is None:
            continue
        if not result.outcome.joints:
            continue
        heights = result.outcome.joints[0].cells.piece_sizes()[:, 2]  # as they were set: turned, and stood up
        step = float(heights.max() - heights.min())
        if step > STEP and not _levels(sim, result, step):
            yield Check(
                Severity.CAUTION, stage.id,
                f"Pieces from {show(float(heights.min()))} to {show(float(heights.max()))} thick meet here, and their "
                f"faces step by {show(step)}.",
                "Flatten them all to one thickness before they are glued, or flatten what comes of it level.",
            )  # fmt: skip


def no_square(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A piece that is rolled a quarter must be as wide as it is thick, or nothing meets any more."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Glue) or stage.source is None or not any("roll" in t for t in result.outcome.turns):
            continue
        if not result.outcome.joints:
            continue
        sizes = result.outcome.joints[0].cells.piece_sizes()  # as they were set, turned
        rolled = np.array(["roll" in turn for turn in result.outcome.turns])
        if rolled.all() or np.ptp(sizes[:, (0, 2)], axis=0).max() <= STEP:
            continue  # whatever their sides, they came to lie alike
        sizes = sizes[rolled]
        off = float(np.abs(sizes[:, 0] - sizes[:, 2]).max())
        if off > STEP and not _levels(sim, result, off):
            worst = sizes[int(np.abs(sizes[:, 0] - sizes[:, 2]).argmax())][::-1]
            yield Check(
                Severity.CAUTION, stage.id,
                f"Pieces rolled a quarter are {show(float(worst[0]))} × {show(float(worst[2]))}, no squares: the pattern "
                "no longer meets.",
                f"Plane the other pair of sides too, {show(off / 2)} off each.",
            )  # fmt: skip


def ragged(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Shifted or leaning rows end ragged; what trimming leaves of that stays for ever."""
    shaped = next((k for k, r in enumerate(sim.results) if isinstance(r.stage, Carving | Ease)), len(sim.results))
    trims = [result for result in sim.results[:shaped] if isinstance(result.stage, Trim) and not result.stage.skip]
    if not trims:
        return
    last = trims[-1]
    width, length, thickness = last.size
    outline = width * length
    after = sim.results[sim.plan.index(last.stage.id) + 1 :]
    if after and isinstance(after[0].stage, Shape) and not after[0].stage.skip and len(last.pieces) == 1:
        corners = after[0].stage.corners(*last.pieces[0].bounds())  # what lies outside it is cut off
        outline, last = area(corners), after[0]
    missing = 1 - last.volume / (outline * thickness)
    if len(last.pieces) == 1 and missing > 1e-6:
        yield Check(
            Severity.CAUTION,
            last.stage.id,
            f"After trimming {missing * 100:.1f} % of the board's outline is no wood: ragged ends or gaps are left.",
            "Trim it flush, or take more off the edges.",
            remedy=None,
        )


def _levels(sim: Simulation, result: StageResult, step: float) -> bool:
    """Whether the next stage takes a step of this height away."""
    following = next((r for r in sim.results if result.stage.id in r.stage.sources), None)
    if following is not None and isinstance(following.stage, Glue) and following.stage.across is Across.THICKNESS:
        return True  # what is laid on it next fills the step, or a gap will tell
    if following is None or not isinstance(following.stage, Flatten):
        return False
    off = (result.size[2] - following.size[2]) / 2
    return following.stage.level or off >= step - 1e-9
