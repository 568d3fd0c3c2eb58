"""Cut list and steps: what to mill, glue, cut and turn, in order; on the page and as a PDF."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from datetime import UTC, datetime

from flask import Blueprint, Response, render_template, request
from markupsafe import Markup

from laberinto.core.analysis.effort import Effort, effort
from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import Check, Severity
from laberinto.core.steps import DEFER, Step, steps
from laberinto.core.timber.cost import Work, bill
from laberinto.drawing import maps
from laberinto.drawing.board import board as face_and_edge
from laberinto.drawing.hatch import Hatched, inked, legend, palette
from laberinto.drawing.skin import Flat
from laberinto.store import BoardView, LessonView

from ...app import present
from ...app.drawn import The, kept
from ...app.findings import findings
from ...app.lookup import find
from ...app.printing import begin
from ...app.thread import Knot, thread
from ..wood.view import taken
from .pdf import to_pdf

bp = Blueprint("steps", __name__, url_prefix="/boards/<int:board_id>", template_folder="templates")


PAPERS = {"a4": "A4", "letter": "Letter"}
"""Paper that is printed on, by its name in an address."""

WIDE = 1.5
"""A drawing this many times as wide as it is high takes the whole width."""

_VIEW_BOX = re.compile(r'viewBox="\S+ \S+ (\S+) (\S+)"')


@dataclass(frozen=True, slots=True)
class Drawn:
    """A step's drawing, or several, and whether they want the whole width."""

    picture: Markup
    wide: bool
    count: int

    @classmethod
    def of(cls, picture: str) -> Drawn:
        boxes = [(float(wide), float(high)) for wide, high in _VIEW_BOX.findall(picture)]
        wide = len(boxes) > 1 or any(w > WIDE * h for w, h in boxes)
        return cls(Markup(picture), wide, len(boxes))


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything the list of steps shows, on screen or paper."""

    board: BoardView
    sim: Simulation
    steps: list[Step]
    ticks: dict[str, datetime]
    figures: Figures
    checks: list[Check]
    knots: list[Knot]
    effort: Effort
    work: dict[str, Work]
    lessons: dict[str, list[LessonView]]
    """By the stage at which they are said."""
    hatched: bool = False
    """Whether its drawings tell woods apart without colour, for paper."""
    defer: str = DEFER

    @property
    def legend(self) -> list[tuple[str, str, Markup]]:
        """Letter, name and hatch of each wood."""
        return [(letter, name, Markup(swatch)) for letter, name, swatch in legend(self.sim)]

    def letter(self, wood: str) -> str:
        """The letter by which a wood goes on this sheet."""
        return next(letter for letter, key in palette(self.sim).items() if key == wood)

    def taught(self, step: Step) -> list[LessonView]:
        """What earlier boards taught of a step's stage; it stands at the first of its steps."""
        return [one for name in step.stages if self._first(name) is step for one in self.lessons.get(name, ())]

    def said(self, step: Step) -> list[Check]:
        """What the checks say of a step's stage; it stands at the first of its steps."""
        here = [name for name in step.stages if self._first(name) is step]
        return [c for c in self.checks if c.stage in here and c.severity is not Severity.NOTE]

    def _first(self, stage: str) -> Step:
        return next(one for one in self.steps if stage in one.stages)

    def map(self, step: Step) -> Drawn | None:
        """The step's drawing, if it has one."""
        draw = maps.MAPS.get(step.map)
        if draw is None:
            return None
        how = present.lengths()
        if self.hatched:
            return Drawn.of(inked(draw(self.sim, step, how, Hatched(self.sim)), self.sim))
        return Drawn.of(kept(self.sim, The(step), how, draw=lambda: Markup(draw(self.sim, step, how, Flat(self.sim)))))

    def new_map(self, step: Step) -> Drawn | None:
        """The same in a list, where the drawing of the step before need not be drawn again."""
        at = self.steps.index(step)
        before = self.steps[at - 1] if at else None
        again = (
            before is not None
            and (before.stage, before.map) == (step.stage, step.map)
            and (before.does == step.does or not before.does or not step.does)
        )
        return None if again else self.map(step)

    def usual(self, step: Step) -> tuple[list[str], list[int]]:
        """Cautions that hold whenever such work is done: those not said before, and the steps where the others were."""
        said: dict[str, int] = {}
        for number, one in enumerate(self.steps, 1):
            for words in one.usual:
                said.setdefault(words, number)
        at = self.steps.index(step) + 1
        return (
            [words for words in step.usual if said[words] == at],
            sorted({said[words] for words in step.usual} - {at}),
        )

    def time(self, step: Step) -> str:
        """How long a stage's work takes, at the first of its steps, and what that is reckoned from."""
        here = [self.work[name] for name in step.stages if name in self.work and self._first(name) is step]
        if not here:
            return ""
        how = [f"{times} × ({words})" if times > 1 else words for words, times in Counter(w.how for w in here).items()]
        return f"{present.duration(sum(work.minutes for work in here))}: {'; '.join(how)}"


def sheet(board: BoardView, *, hatched: bool = False) -> Sheet:
    """Gather the steps of a board."""
    sim, shop = simulate(board.plan), present.shop()
    ticks = present.store().build(board.id).ticks()
    todo = steps(sim, present.lengths(), shop, taken(board.id), ticks)
    found = findings(board.id, sim)
    return Sheet(
        board, sim, todo, ticks, figures(sim, shop), found, thread(board, sim.results, todo, ticks, found),
        effort(sim), {work.stage: work for work in bill(sim, shop, lengths=present.lengths()).work},
        _taught(board, sim), hatched,
    )  # fmt: skip


def _taught(board: BoardView, sim: Simulation) -> dict[str, list[LessonView]]:
    """Lessons of other boards that this one is to hear."""
    found: dict[str, list[LessonView]] = {}
    for lesson in present.store().lessons.all():
        stage = lesson.when.at(board.plan, sim.board.size[2], board.order_for) if lesson.board != board.id else None
        if stage is not None:
            found.setdefault(stage, []).append(lesson)
    return found


@bp.get("/steps")
def page(board_id: int) -> str:
    """Cut list and steps, on one page."""
    return render_template("steps/page.html", sheet=sheet(find(board_id)), papers=PAPERS, usual=usual_paper())


@bp.post("/steps.pdf")
def pdf(board_id: int) -> Response:
    """The same on paper: A4, or Letter where the maker reads inches or asks for it."""
    board = find(board_id)
    asked = request.values.get("paper", "")
    paper = asked if asked in PAPERS else usual_paper()
    html = render_template(
        "steps/paper.html",
        sheet=sheet(board, hatched=True),
        today=datetime.now(UTC),
        size=PAPERS[paper],
        cover=cover,
    )
    return begin(html, board_id, f"laberinto-{board.id}-steps", to_pdf)


def usual_paper() -> str:
    """What a maker with this unit most likely has in the printer."""
    return "letter" if present.lengths().system == "in" else "a4"


def cover(sim: Simulation) -> Markup:
    """The finished board: its face and its front edge, with its sizes; its woods are told apart without colour."""
    drawn = face_and_edge(sim.board.pieces[0], Hatched(sim), present.lengths(), label="The finished board")
    return Markup(inked(drawn, sim))
