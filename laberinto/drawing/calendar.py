"""Weeks as lanes: days across, a lane a board with bars for hands and hatched ones for waiting, clamps below.

Hours in which nobody works are drawn narrow, so that an evening can be read; a night keeps enough room to be seen.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .dims import INK
from .svg import document, num, tag, text

LANE, HEAD, NAMES, CLAMPS = 34.0, 40.0, 172.0, 64.0
DAY = 1440
CLOSED, OFF = 0.28, 0.5
"""Share of a day's width that goes to the hours in which nobody works, and how wide a day without any is."""

Span = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Bar:
    """A job: what it is called by, when (minutes), how long the wood then stands in clamps and waits beyond that, where
    it leads, and what it says. ``kind`` is one of its looks, by class."""

    job: str
    span: Span
    hold: int
    until: int
    to: str
    words: str
    kind: str = ""


@dataclass(frozen=True, slots=True)
class Lane:
    """A board: its name, where that leads, its bars, when it is due, if it is, and a line below its name."""

    name: str
    to: str
    bars: tuple[Bar, ...]
    due: int | None
    note: str
    late: bool = False


@dataclass(frozen=True, slots=True)
class Day:
    """One day: its weekday and number, its month, its date, and its open hours."""

    label: str
    month: str
    date: str
    windows: tuple[Span, ...]
    today: bool = False


class _Axis:
    """Minutes across the sheet."""

    def __init__(self, days: Sequence[Day], first: int, width: float) -> None:
        self.first = first
        weights = [1.0 if day.windows else OFF for day in days]
        unit = width / sum(weights)
        self.lefts = [NAMES + unit * sum(weights[:at]) for at in range(len(days) + 1)]
        self.knots: list[tuple[float, float]] = []
        for at, day in enumerate(days):
            begin, left, wide = (first + at) * DAY, self.lefts[at], self.lefts[at + 1] - self.lefts[at]
            open_ = sum(high - low for low, high in day.windows)
            spare = wide * CLOSED if open_ else wide
            x, now = left, begin
            self.knots.append((begin, left))
            for low, high in day.windows:
                x += spare * (low - now) / max(DAY - open_, 1)
                self.knots.append((low, x))
                x += (wide - spare) * (high - low) / open_
                self.knots.append((high, x))
                now = high
        self.knots.append(((first + len(days)) * DAY, self.lefts[-1]))

    def __call__(self, minute: float) -> float:
        """Where a minute lies; what lies off the sheet lies at its edge."""
        before = self.knots[0]
        for knot in self.knots:
            if minute < knot[0]:
                (m0, x0), (m1, x1) = before, knot
                return x0 if m1 <= m0 or minute <= m0 else x0 + (x1 - x0) * (minute - m0) / (m1 - m0)
            before = knot
        return before[1]


def weeks(
    days: Sequence[Day], first: int, lanes: Sequence[Lane], clamps: Sequence[tuple[int, int]], there: int, now: int |
    None, *, width: float = 1060.0, style: str = "",
) -> str:  # fmt: skip
    """The sheet for ``days`` from the day number ``first`` on. ``clamps`` are steps of how many are on, ``there`` how
    many the shop has."""
    axis = _Axis(days, first, width - NAMES)
    deep = HEAD + LANE * len(lanes)
    months = " / ".join(dict.fromkeys(day.month for day in days))
    out = (tag("style", style) if style else "") + _defs() + _heads(days, axis, deep + CLAMPS)
    out += text(8, 25, months, 13.5, anchor="start", class_="cal-name")
    for at, lane in enumerate(lanes):
        out += _lane(lane, axis, HEAD + LANE * at, (first * DAY, (first + len(days)) * DAY))
    out += _clamps(clamps, there, axis, deep, (first * DAY, (first + len(days)) * DAY))
    if now is not None and first * DAY <= now < (first + len(days)) * DAY:
        x = axis(now)
        out += tag("path", d=f"M{num(x)} {num(HEAD - 8)}V{num(deep + CLAMPS)}", class_="cal-now", stroke_width=1.5)
    return document(out, width, deep + CLAMPS + 4, label="Boards over days", role="group", class_="weeks")


def _defs() -> str:
    hatch = tag("path", d="M0 6L6 0", stroke=INK, stroke_opacity=0.4, stroke_width=1)
    cross = hatch + tag("path", d="M0 0L6 6", stroke=INK, stroke_opacity=0.4, stroke_width=1)
    return tag("defs", "".join(
        tag("pattern", lines, id=name, width=6, height=6, patternUnits="userSpaceOnUse")
        for name, lines in (("cal-wait", hatch), ("cal-hold", cross))
    ))  # fmt: skip


def _heads(days: Sequence[Day], axis: _Axis, deep: float) -> str:
    out = ""
    for at, day in enumerate(days):
        left, right = axis.lefts[at], axis.lefts[at + 1]
        kind = "cal-day" + (" off" if not day.windows else "") + (" today" if day.today else "")
        inner = tag("rect", x=left, y=0.0, width=right - left, height=deep, class_="cal-ground")
        name, _, number = day.label.partition(" ")
        inner += text((left + right) / 2, 15, name, 12, class_="cal-weekday")
        inner += text((left + right) / 2, 31, number, 13, class_="cal-date")
        out += tag("g", inner, class_=kind, data_day=day.date)
    return out


def _lane(lane: Lane, axis: _Axis, top: float, shown: Span) -> str:
    mid = top + LANE / 2
    out = tag("path", d=f"M0 {num(top)}H{num(axis.lefts[-1])}", class_="cal-rule", stroke_width=1)
    name = lane.name if len(lane.name) <= 20 else f"{lane.name[:19]}…"
    label = text(8, mid - 2, name, 13.5, anchor="start", class_="cal-name") + text(
        8, mid + 12, lane.note, 11, anchor="start", class_="cal-note" + (" late" if lane.late else "")
    )
    out += tag("a", tag("title", lane.name) + label, href=lane.to, class_="cal-board")
    for bar in lane.bars:
        if bar.until <= shown[0] or bar.span[0] >= shown[1]:
            continue
        out += _bar(bar, axis, top)
    if lane.due is not None and shown[0] < lane.due <= shown[1]:
        x = axis(lane.due) - 1
        flag = f"M{num(x)} {num(top + 3)}V{num(top + LANE - 3)}M{num(x)} {num(top + 3)}h-9l3 4l-3 4h9"
        out += tag("path", tag("title", f"{lane.name} is promised for this day"), d=flag, fill="none",
                   class_="cal-due" + (" late" if lane.late else ""), stroke_width=1.75)  # fmt: skip
    return out


def _bar(bar: Bar, axis: _Axis, top: float) -> str:
    left, right = axis(bar.span[0]), axis(bar.span[1])
    held, over = axis(bar.span[1] + bar.hold), axis(bar.until)
    out = ""
    if held > right:
        out += tag(
            "rect", x=right, y=top + 12, width=held - right, height=LANE - 20, fill="url(#cal-hold)", class_="cal-held"
        )
    if over > held:
        out += tag(
            "rect", x=held, y=top + 15, width=over - held, height=LANE - 26, fill="url(#cal-wait)", class_="cal-waits"
        )
    out += tag(
        "rect", x=left, y=top + 6, width=max(right - left - 0.75, 2.5), height=LANE - 12, rx=2, class_="cal-hands"
    )
    return tag("a", tag("title", bar.words) + out, href=bar.to, class_=f"cal-bar {bar.kind}".strip(), data_job=bar.job,
               data_day=str(bar.span[0] // DAY))  # fmt: skip


def _clamps(steps: Sequence[tuple[int, int]], there: int, axis: _Axis, top: float, shown: Span) -> str:
    """Clamps that are on as a stepped line, under a line for all there are."""
    most = max([there, *(on for _, on in steps)], default=1) or 1
    foot, high = top + CLAMPS - 8, CLAMPS - 24

    def y(on: int) -> float:
        return foot - high * on / most

    out = tag("path", d=f"M0 {num(top)}H{num(axis.lefts[-1])}", class_="cal-rule", stroke_width=1)
    out += text(8, top + 22, "Clamps on", 13.5, anchor="start", class_="cal-name")
    out += text(8, top + 37, f"of {there}", 11, anchor="start", class_="cal-note")
    out += tag("path", d=f"M{num(NAMES)} {num(y(there))}H{num(axis.lefts[-1])}", class_="cal-all", stroke_width=1)
    on = next((n for at, n in reversed(steps) if at <= shown[0]), 0)
    d = f"M{num(NAMES)} {num(foot)}V{num(y(on))}"
    for at, n in steps:
        if shown[0] < at < shown[1]:
            d += f"H{num(axis(at))}V{num(y(n))}"
    d += f"H{num(axis.lefts[-1])}V{num(foot)}Z"
    return out + tag("path", d=d, class_="cal-clamps", stroke_width=1.5)
