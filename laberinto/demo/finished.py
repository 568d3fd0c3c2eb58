"""Nine boards that the demo's shop finished over a year: how they went, what they brought, and what went wrong."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from laberinto.core.analysis.spot import spot
from laberinto.core.analysis.together import Real
from laberinto.core.finish.care import Care
from laberinto.core.geometry.faces import Side
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Flatten, Gluing
from laberinto.core.steps import Step, steps
from laberinto.core.timber.cost import bill
from laberinto.store import OrderState, Shelf, Store

PHOTOS = Path(__file__).parent / "photos"
"""Pictures of them that were rendered: ``name-1.jpg`` to ``name-3.jpg``; see scripts/demo_photos.py."""


@dataclass(frozen=True)
class Pinned:
    """A fault at a place of the face (shares of width and length), how it was mended, and minutes."""

    across: float
    along: float
    fault: str
    text: str
    mended: str
    minutes: float


@dataclass(frozen=True)
class Finished:
    """A board of a family with its own numbers: for whom, finished how many days ago after how many, hours and price as
    shares of what was planned, how far off panels and length came (mm), faults, and care since (days ago)."""

    family: str
    values: dict[str, Any]
    name: str
    order_for: str
    ago: float
    took: float
    hours: float
    got: float
    off: tuple[float, float] = (0.0, 0.0)
    pins: tuple[Pinned, ...] = ()
    cared: tuple[tuple[Care, float, str], ...] = ()

    def plan(self) -> Plan:
        """As it was built."""
        return FAMILIES[self.family].of(**self.values).plan(self.name)

    @property
    def slug(self) -> str:
        """How its photos are called."""
        return self.name.lower().replace(" ", "-")


HAIRLINE = Pinned(0.3, 0.45, "hairline", "as long as a thumb, where two rows meet",
                  "Sand with a bead of PVA glue in it, so that its own dust fills it.", 8)  # fmt: skip
CHIP = Pinned(0.02, 0.98, "chip", "near corner, from the trimming cut", "Chamfered all round to 3 mm.", 10)
VOID = Pinned(0.62, 0.3, "void", "the size of a lentil, under a strip's edge", "Plugged with end grain.", 25)
BURN = Pinned(0.5, 0.7, "burn", "the drum stood still", "Scraped, then from grit 80 again.", 30)

FINISHED: tuple[Finished, ...] = (
    Finished("alternating", {"light": "hornbeam", "dark": "elm", "slices": 12}, "Breakwater", "The chart room", 352, 16,
             1.45, 0.9, (-0.2, -2.5), (HAIRLINE, CHIP),
             ((Care.OILED, 200, "mineral oil, both faces"), (Care.OILED, 26, ""))),
    Finished("bands", {"dark": "robinia"}, "Halyard", "The sailmaker's loft", 310, 14, 1.3, 0.95, (0, 0), (VOID,)),
    Finished("brick", {}, "Bollard", "The pilot station's galley", 262, 19, 1.25, 1.0, (0, 0), (BURN, HAIRLINE),
             ((Care.CRACKED, 90, "a hand long, at the left edge, after the heating came on"),
              (Care.REPAIRED, 84, "glue worked in from both faces, clamped a night"))),
    Finished("alternating", {"light": "beech", "dark": "plum", "slices": 13}, "Ebb", "The cheese dairy's counter", 215,
             12, 1.2, 1.05, (-0.4, -4.6), (CHIP,)),
    Finished("diamonds", {}, "Lantern", "The lighthouse, for its hundred years", 171, 24, 1.35, 1.1, (0, 0),
             (HAIRLINE, VOID)),
    Finished("stairs", {"dark": "plum"}, "Gull Rock", "Raffle prize, the regatta", 128, 17, 1.1, 1.0),
    Finished("alternating", {"light": "sycamore", "dark": "plum", "slices": 12}, "Marram", "The school kitchen", 83, 11,
             1.05, 1.1, (-0.3, -3.6), (HAIRLINE,)),
    Finished("weave", {}, "Fairlead", "The rope walk's canteen", 49, 21, 1.15, 1.15, (0, 0), (VOID,)),
    Finished("chevron", {}, "Capstan", "The island ferry, first galley", 9, 15, 1.0, 1.15, (0, 0), (BURN,)),
)  # fmt: skip


def photographed(plan: Plan) -> tuple[str, str, str]:
    """The stages of which there are photos: the first panel flat, the board glued, the board oiled."""
    flat = next(stage.id for stage in plan.stages if isinstance(stage, Flatten))
    glued = [stage.id for stage in plan.stages if isinstance(stage, Gluing)][-1]
    return flat, glued, plan.stages[-1].id


def add(store: Store, one: Finished, today: datetime) -> int:
    """Put one of them away, with all that was kept of it; returns its number."""
    plan = one.plan()
    sim = simulate(plan)
    todo = steps(sim)
    ended = today - timedelta(days=one.ago)
    began = ended - timedelta(days=one.took)
    board = store.create(plan, order_for=one.order_for, at=began - timedelta(days=4))
    build = store.build(board)
    at: dict[str, datetime] = {}
    for number, step in enumerate(todo):
        at[step.key] = began + (ended - began) * number / max(len(todo) - 1, 1)
        for key in step.keys:
            build.tick(key, at[step.key])
    for stage, number in zip(photographed(plan), (1, 2, 3), strict=True):
        step = [s for s in todo if stage in s.stages][-1]
        jpeg = PHOTOS / f"{one.slug}-{number}.jpg"
        build.keep_photo(step.key, jpeg.read_bytes(), at[step.key])
    for step, off in zip(_measured(sim, todo), one.off, strict=False):
        if step.measure is not None:
            quantity = "to" if step.key.endswith(".flatten") else ""
            build.write(step.key, "", round(step.measure + off, 2), at[step.key], step.measure, quantity)
    for pin in one.pins:
        _pin(store, board, sim, pin, ended)
    cost = bill(sim, Shop())
    build.write(Real.HOURS.key, "", round(cost.hours * one.hours * 2) / 2, ended)
    build.write(Real.PRICE.key, "", round(cost.price * one.got / 5) * 5, ended)
    for kind, ago, text in one.cared:
        build.write(kind.key, text, None, today - timedelta(days=ago))
    store.put(board, Shelf.ARCHIVE)
    view = store.board(board)
    if view is not None and view.order is not None:
        store.orders.move(view.order, OrderState.HANDED)
    return board


def _measured(sim: Simulation, todo: list[Step]) -> list[Step]:
    """The step that flattens the panel, and the one that trims to length."""
    flat = photographed(sim.plan)[0]
    return [next(s for s in todo if s.key == f"{flat}.flatten"), next(s for s in todo if s.key.endswith(".ends"))]


def _pin(store: Store, board: int, sim: Simulation, pin: Pinned, at: datetime) -> None:
    width, length, _ = sim.board.size
    x, y = pin.across * width, pin.along * length
    found = spot(sim, 0, Side.TOP, x, y)
    strip, wood, stage = found.strips[0] if found else ("", "", "")
    pins = store.pins(board)
    number = pins.put(0, Side.TOP.value, x, y, pin.fault, strip=strip, wood=wood, stage=stage, text=pin.text, at=at)
    pins.mend(number, pin.text, pin.mended, pin.minutes)
