"""All boards together: hours and money as planned and as they were, waste, woods, faults; as charts and as a table."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import islice

from flask import Blueprint, Response, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.together import CHOICES, Made, Real, Sum, added, faults, months, woods
from laberinto.core.errors import LaberintoError
from laberinto.core.finish.faults import Fault
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.core.timber.summary import Summary
from laberinto.core.woods import LIBRARY
from laberinto.drawing.bars import Group, bars
from laberinto.files.table import table as written
from laberinto.store import BoardView, Shelf

from ...app import present

bp = Blueprint("together", __name__, url_prefix="/together", template_folder="templates")

MOST_BARS = 8
"""Woods and kinds of faults that a chart shows, the most first."""

AT_A_TIME = 6
"""So many boards are added up in one answer; the page asks again until all are."""

COLUMNS = (
    "board", "name", "for", "begun", "finished", "hours planned", "hours taken", "price planned", "price got",
    "materials", "earned an hour", "waste", "faults", "minutes of mending", "woods",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Together:
    """The page: the boards, those that are shown of them, sums, charts, and how many are not added up yet."""

    boards: list[Made]
    shown: list[Made]
    total: Sum
    charts: list[tuple[str, str, Markup]]
    chosen: str
    waiting: int


def _summaries(boards: Sequence[BoardView]) -> dict[int, Summary]:
    """What is kept of boards; a few of those of which nothing is are added up."""
    store, shop = present.store().shelf, present.shop()
    mark = hashlib.sha256(shop.model_dump_json().encode()).hexdigest()[:16]
    kept, found, fresh = store.summaries(mark), {}, 0
    for board in boards:
        if (data := kept.get((board.id, board.revision))) is not None:
            found[board.id] = Summary.model_validate_json(data)
        elif fresh < AT_A_TIME:
            fresh += 1
            try:
                sim = simulate(board.plan)
                keys = (key for step in steps(sim, shop=shop) for key in step.keys)
                found[board.id] = Summary.of(sim, shop, keys)
            except LaberintoError:
                continue  # its page says what is wrong
            store.keep(board.id, board.revision, mark, found[board.id].model_dump_json())
    return found


def _all() -> tuple[list[Made], int]:
    """All boards that are begun, and how many of them are not added up yet."""
    store = present.store()
    ticks, pins = store.shelf.ticks(), store.shelf.faults()
    real = {kind: store.shelf.last(kind.key) for kind in Real}
    begun = [b for shelf in (Shelf.BENCH, Shelf.ARCHIVE) for b in store.boards(shelf) if b.id in ticks]
    known = _summaries(begun)
    made = [_made(board, known[board.id], ticks[board.id], pins.get(board.id, []), real)
            for board in begun if board.id in known]  # fmt: skip
    return sorted(made, key=lambda one: (one.finished or one.begun, one.id), reverse=True), len(begun) - len(known)


def _made(
    board: BoardView, of: Summary, ticks: Mapping[str, datetime], pins: Sequence[tuple[str, float]],
    real: Mapping[Real, Mapping[int, float]],
) -> Made:  # fmt: skip
    done = all(key in ticks for key in of.steps)
    return Made(
        board.id, board.name, min(ticks.values()), max(ticks.values()) if done else None, of.hours, of.price,
        of.materials, of.waste, of.woods, real[Real.HOURS].get(board.id), real[Real.PRICE].get(board.id),
        tuple(kind for kind, _ in pins), sum(minutes for _, minutes in pins),
    )  # fmt: skip


def _wood(key: str) -> str:
    return LIBRARY[key].name if key in LIBRARY else key


def _fault(key: str) -> str:
    return Fault(key).label if key in set(Fault) else key


def _month(name: str) -> str:
    return datetime.strptime(name, "%Y-%m").strftime("%b %y")


_NAMES: dict[str, Callable[[str], str]] = {"month": _month, "wood": _wood, "fault": _fault}


def _charts(boards: list[Made]) -> list[tuple[str, str, Markup]]:
    """Heading, words and picture of each chart for which there is anything."""
    by_month, money = months(boards), present.shop().currency
    sums = [(name, added(of)) for name, of in by_month]

    def to(kind: str, value: str) -> str:
        return url_for("together.page", of=f"{kind}:{value}")

    def monthly(values: Callable[[Sum], tuple[float | None, ...]], show: str) -> list[Group]:
        return [
            Group(_month(name)[:3], values(one), to("month", name),
                  f"{_month(name)}: {', '.join(show.format(v) for v in values(one) if v is not None) or 'nothing'}")
            for name, one in sums
        ]  # fmt: skip

    def counted(kind: str, found: Iterable[tuple[str, float]], unit: str) -> list[Group]:
        name = _NAMES[kind]
        return [
            Group(name(key), (n,), to(kind, key), f"{name(key)}: {n:.3g} {unit}") for key, n in islice(found, MOST_BARS)
        ]

    volume = present.lengths()
    unit = "litres" if volume.system == "mm" else volume.unit("litre")
    litres = [(key, amount * volume.scale("litre")) for key, amount in woods(boards)]
    drawn = (
        ("Hours", "planned in grey, as they were in blue", monthly(lambda s: (s.hours, s.real_hours), "{:.1f} h")),
        ("Money", f"{money}, planned in grey, got in blue", monthly(lambda s: (s.price, s.got), money + " {:.0f}")),
        ("An hour earned", f"{money}, less materials", monthly(lambda s: (s.an_hour,), money + " {:.1f}")),
        ("Waste", "percent of what was milled", monthly(lambda s: (s.waste * 100 if s.boards else None,), "{:.0f} %")),
        ("Wood", f"{unit} taken", counted("wood", litres, unit)),
        ("Faults", "boards on which each was found", counted("fault", faults(boards), "boards")),
    )  # fmt: skip
    return [
        (heading, words, Markup(bars(groups, label=f"{heading}: {words}")))
        for heading, words, groups in drawn
        if any(value for group in groups for value in group.values)
    ]


def _chosen(boards: list[Made]) -> tuple[list[Made], str]:
    """Those that a figure was opened for, and what it was."""
    kind, _, value = request.args.get("of", "").partition(":")
    if kind not in CHOICES:
        return boards, ""
    shown = [one for one in boards if CHOICES[kind](one, value)]
    try:
        return shown, _NAMES[kind](value)
    except ValueError:
        return boards, ""


@bp.get("")
def page() -> str:
    """Sums and charts over all boards, and the boards themselves or those of one bar."""
    boards, waiting = _all()
    shown, chosen = _chosen(boards)
    together = Together(boards, shown, added([one for one in shown if one.finished]), _charts(boards), chosen, waiting)
    return render_template("together/page.html", together=together, kinds=Real)


@bp.get("/boards.csv")
def table() -> Response:
    """All boards as a table; what is not known is empty."""
    orders = {b.id: b.order_for for shelf in (Shelf.BENCH, Shelf.ARCHIVE) for b in present.store().boards(shelf)}
    waiting = 1
    while waiting:  # a table is whole or not at all
        boards, left = _all()
        waiting = left if left != waiting else 0
    rows = [
        [_plain(value) for value in (
            one.id, one.name, orders.get(one.id, ""), one.begun, one.finished, one.hours, one.real_hours, one.price,
            one.got, one.materials, one.an_hour, one.waste, ", ".join(_fault(kind) for kind in one.faults),
            one.mending, ", ".join(f"{_wood(key)} {litres:.2f} l" for key, litres in one.woods.items()),
        )]
        for one in boards
    ]  # fmt: skip
    response = Response(written(COLUMNS, rows), mimetype="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = 'attachment; filename="laberinto-boards.csv"'
    return response


def _plain(value: object) -> object:
    """As a table takes it: days, and figures to a hundredth."""
    if isinstance(value, datetime):
        return value.date()
    return round(value, 2) if isinstance(value, float) else value
