"""Plain bars side by side, each group of them a link to what it is made of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .dims import INK
from .svg import document, num, tag, text

HIGH, LEFT, TOP, FOOT = 130.0, 40.0, 12.0, 44.0
LETTER = 7.2
"""Width of a letter of a label, about."""

INKS = ("#8a949d", "#1c6aa8")
"""Planned is grey, as it was is blue."""

STEPS = (1, 2, 4, 10)


@dataclass(frozen=True, slots=True)
class Group:
    """Bars beside each other: what stands below, their values (None where nothing is known), and where they lead."""

    label: str
    values: tuple[float | None, ...]
    to: str
    words: str


def bars(groups: Sequence[Group], *, label: str, wide: float = 320.0) -> str:
    """All groups on one scale from 0."""
    most = max((value or 0.0 for group in groups for value in group.values), default=0.0)
    step = _step(most)
    top = step * max(-(-most // step), 1)
    out = ""
    for k in range(round(top / step) + 1):
        y = TOP + HIGH * (1 - k * step / top)
        out += tag("path", d=f"M{num(LEFT)} {num(y)}h{num(wide)}", stroke=INK, stroke_opacity=0.15, stroke_width=1)
        out += text(LEFT - 8, y + 4, f"{k * step:g}", 12, anchor="end", class_="bar-number")
    room = wide / max(len(groups), 1)
    longest = max((len(group.label) for group in groups), default=0) * LETTER
    lines = 2 if longest > room else 1  # long names stand by turns on two lines; what is still too long is left out
    every = max(-(-longest // (room * lines)), 1)
    for at, group in enumerate(groups):
        line = int(at // every % lines)
        out += _group(group, LEFT + at * room, room, top, line if at % every == 0 else None)
    return document(out, LEFT + wide + 8, TOP + HIGH + FOOT, label=label, role="group", class_="bars")


def _group(group: Group, x: float, room: float, top: float, line: int | None) -> str:
    width = min(room * 0.8 / len(group.values), 34.0)
    left = x + (room - width * len(group.values)) / 2
    inner = tag("title", group.words)
    inner += tag("rect", x=x, y=TOP, width=room, height=HIGH + FOOT, fill="transparent")
    for k, value in enumerate(group.values):
        if value is None:
            continue
        high = HIGH * max(value, 0.0) / top
        inner += tag("rect", x=left + k * width, y=TOP + HIGH - high, width=max(width - 2, 1.0), height=high,
                     fill=INKS[k] if len(group.values) > 1 else INKS[1], rx=1.5)  # fmt: skip
    if line is not None:
        inner += text(x + room / 2, TOP + HIGH + 17 + 16 * line, group.label, 12, class_="bar-number")
    return tag("a", inner, href=group.to, class_="bar") if group.to else tag("g", inner, class_="bar")


def _step(most: float) -> float:
    """A round distance between lines, so that there are three to six."""
    if most <= 0:
        return 1.0
    size = 10.0 ** (len(str(int(most))) - 1 if most >= 1 else -2)
    return next((size * by / 2 for by in STEPS if most / (size * by / 2) <= 6), size * 5)
