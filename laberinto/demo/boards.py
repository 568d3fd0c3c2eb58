"""The boards on the demo's benches, with how far each is and what was written down on the way."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from laberinto.core.analysis.lessons import When
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan
from laberinto.store import OrderState

from .bricks import ladder
from .chaos import tidewrack
from .framed import shoal
from .staves import herring_barrel


@dataclass(frozen=True)
class Entry:
    """A note at a step, ``days`` before today."""

    step: str
    days: float
    text: str
    measured: float | None = None


@dataclass(frozen=True)
class Turn:
    """A later state of a board: its plan, what was done, a name of its own, and the variant it is pinned as."""

    plan: Plan
    words: str
    name: str = ""
    pin: str = ""


@dataclass(frozen=True)
class DemoBoard:
    """A board, whom it is for, when it is due (days from today), and how many steps are done since when. ``turns`` are
    the states it went through after ``plan``; it stands at the last. ``stands`` are findings let stand, each with its
    reason."""

    plan: Plan
    order_for: str
    due: int | None
    done: int
    began: float = 0.0
    last: float = 0.0
    notes: tuple[Entry, ...] = field(default=())
    turns: tuple[Turn, ...] = ()
    stands: tuple[tuple[str, str], ...] = ()
    state: OrderState = OrderState.AGREED
    price: float | None = None
    measured: tuple[tuple[str, str, float], ...] = ()
    """What came out otherwise than planned: stage, quantity and mm; it waits for a decision."""


_ASKED, _QUOTED, _AGREED = OrderState.ASKED, OrderState.QUOTED, OrderState.AGREED

FROM_PATTERNS: tuple[tuple[str, dict[str, Any], str, str, int | None, OrderState, int, float, float], ...] = (
    ("bands", {"dark": "robinia"}, "Kelp Bed", "The net mender, for her fifty years", 3, _AGREED, 99, 9, 0.6),
    ("rings", {}, "Plover", "The shop's own window", None, _AGREED, 0, 0, 0),
    ("stairs", {"dark": "plum"}, "Landing", "The chandler above the quay steps", 35, _QUOTED, 0, 0, 0),
    ("blocks", {}, "Sea Wall", "The harbour master's galley", 45, _ASKED, 0, 0, 0),
    ("tumbling", {}, "Cobble", "", None, _ASKED, 0, 0, 0),
    ("weave", {}, "Mooring Line", "The rope walk's canteen", 16, _AGREED, 4, 2, 0.3),
    ("diamonds", {}, "Pennant", "The sailing school", 40, _QUOTED, 0, 0, 0),
    ("chevron", {}, "Ripple", "The island ferry, second galley", 60, _ASKED, 0, 0, 0),
    ("round", {}, "Float", "The cheese dairy, for its wheels", 50, _ASKED, 0, 0, 0),
    ("hollowed", {}, "Tide Pool", "", None, _ASKED, 0, 0, 0),
    ("picture", {}, "Regatta", "Prize of the autumn regatta", 52, _QUOTED, 0, 0, 0),
)
"""Boards straight from their pattern: family, its own numbers, name, whom for, due, how far their order is, steps done,
begun, last touched."""

BOARDS: tuple[DemoBoard, ...] = (
    DemoBoard(
        Alternating(light="hornbeam", dark="elm", strips=12, strip_width=25, row=25, slices=16, thickness=40)
        .plan("Slipway")
        .model_copy(update={"times": 4}),
        order_for="The cheese dairy's counter",
        due=25,
        done=0,
        price=1040,
    ),
    DemoBoard(
        Alternating(light="beech", dark="bog-oak", strips=10, strip_width=30, row=32, slices=12, thickness=38).plan(
            "Quay Wall"
        ),
        order_for="Galley of the island ferry",
        due=-1,
        price=310,
        done=11,
        began=9,
        last=0.4,
        notes=(
            Entry(
                "strips.rough",
                9,
                "Bog oak from the old slip came drier than the beech. Took two days longer to settle.",
            ),
            Entry("strips.plane", 8, "One beech strip with a shake, cut round it.", 35.1),
            Entry("panel-flat.flatten", 5, "Stopped a touch early, the last pass raised the grain.", 32.1),
            Entry("slices.cut", 3, "Checked slices 1 and 12 against each other.", 42.0),
        ),
    ),
    DemoBoard(
        Alternating(light="sycamore", dark="plum", strips=10, strip_width=28, row=28, slices=14, thickness=34).plan(
            "Net Loft"
        ),
        order_for="The school kitchen",
        due=-38,
        state=OrderState.HANDED,
        price=240,
        done=99,
        began=62,
        last=39,
        notes=(
            Entry("board.glue", 54, "Cold shop, 11 degrees. Left the clamps on for two nights."),
            Entry("board-flat.flatten", 49, "Row 9 sat proud by half a millimetre, drum took it down.", 34.0),
            Entry("oiled.round-2", 41, "Hardly took any. Two rounds are enough for sycamore."),
        ),
    ),
    DemoBoard(
        shoal(),
        order_for="Wedding present, the harbour office",
        due=24,
        done=6,
        began=4,
        last=0.3,
        notes=(Entry("panel-flat.flatten", 2, "Pear tore a little at row 3; took the last two passes thinner.", 30.0),),
    ),
    DemoBoard(
        tidewrack(),
        order_for="Raffle prize, lifeboat evening",
        due=9,
        done=9,
        began=6,
        last=0.2,
        notes=(
            Entry("strips.rough", 6, "All from the offcut bin. The elm has a nail hole, kept off the face."),
            Entry("second-flat.flatten", 3, "Rolled strips stood proud, levelled them first.", 25.1),
        ),
    ),
    DemoBoard(
        ladder(0),
        order_for="The shop's own stove",
        due=None,
        done=0,
        turns=(
            Turn(ladder(0), "bricks stacked", name="Stacked, as first drawn", pin="A"),
            Turn(ladder(1 / 3), "bond shifted by a third", pin="B"),
            Turn(ladder(0.5), "bond shifted by half", name="Running bond", pin="C"),
        ),
    ),
    *(
        DemoBoard(FAMILIES[key].of(**values).plan(name), order_for, due, done, began, last, state=state)
        for key, values, name, order_for, due, state, done, began, last in FROM_PATTERNS
    ),
    DemoBoard(
        Alternating(light="sycamore", dark="elm", strips=14, strip_width=30, row=30, slices=11).plan("Pierhead"),
        order_for="The ferry landing's tea room",
        due=38,
        state=OrderState.QUOTED,
        done=0,
        stands=(("too_wide.board-flat", "The boatyard's sled takes it whole"),),
    ),
    DemoBoard(
        Alternating(light="ash", dark="bog-oak", strips=10, strip_width=28, row=30, slices=12, panel_length=640).plan(
            "Lee Shore"
        ),
        order_for="The ferry's first mate",
        due=16,
        done=6,
        began=4,
        last=0.1,
        notes=(Entry("panel-flat.flatten", 0.1, "One strip had torn; two passes more took it out.", 28.4),),
        measured=(("panel-flat", "to", 28.4),),
    ),
    DemoBoard(herring_barrel(), order_for="The smokehouse door, for tasting", due=55, done=0, state=_ASKED),
)

TOGETHER = (
    "The lighthouse kitchen", ("Cobble", "Tide Pool"), 42, OrderState.QUOTED,
    "Feet under both. The lamp's mark burnt in on the underside.",
)  # fmt: skip
"""An order of several boards: for whom, which, by when, how far it is, and its note."""

LESSONS: tuple[tuple[str, str, When], ...] = (
    ("Net Loft", "Look along the rows before the clamps are tight: squeeze-out hides one that slid.",
     When(kind="arrange")),
    ("Quay Wall", "Bog oak from the slip is drier than the rest: let it stand in the shop a week longer.",
     When(kind="mill", wood="bog-oak")),
    ("Shoal", "Pear tears at the planer: half the bite for the last two passes.",
     When(kind="flatten", wood="pear")),
)  # fmt: skip
"""What boards taught: which, what, and when it is said again."""
