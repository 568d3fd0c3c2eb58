"""Lessons that nobody wrote down: what came out otherwise on several boards of a kind, one after the other."""

from __future__ import annotations

import statistics
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..analysis.lessons import When
from ..plan.model import Plan
from .measured import MEASURED

BOARDS = 3
"""So many boards of a kind in a row, the last ones, make a lesson."""

WORTH = 0.2
"""Off by less than this, mm, is no lesson."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A length that was measured: on which board of which plan, at which of its steps and which quantity ("" for what
    the step itself says), and how far off the plan it was, mm."""

    board: int
    plan: Plan
    step: str
    quantity: str
    off: float

    @property
    def stage(self) -> str:
        """The stage of its step."""
        return self.step.partition(".")[0]


@dataclass(frozen=True, slots=True)
class Found:
    """What recurs: the sentence, when to say it, and on which boards it was so."""

    text: str
    when: When
    boards: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class _Drift:
    """One quantity of one family: its stage in the order of the plan, what it is called, and how far off it was on the
    last boards."""

    position: int
    kind: str
    label: str
    boards: tuple[int, ...]
    off: float


def recurring(readings: Iterable[Reading], title: Callable[[str], str], show: Callable[[float], str]) -> list[Found]:
    """What the last boards of a family have in common, from readings in the order in which they were taken: all off to
    the same side by what is worth a word. What recurs earlier in the build of the same boards is given as the
    reason."""
    families: dict[str, dict[tuple[int, str, str, str], dict[int, list[float]]]] = {}
    for one in readings:
        label = _label(one)
        if one.plan.pattern is None or not label:
            continue
        at = one.plan.index(one.stage), one.plan.stage(one.stage).kind, one.quantity, label
        families.setdefault(one.plan.pattern.family, {}).setdefault(at, {}).setdefault(one.board, []).append(one.off)
    out = []
    for family, groups in families.items():
        drifts = sorted(
            (d for at, offs in groups.items() if (d := _drift(at, offs)) is not None), key=lambda d: d.position
        )
        if drifts:
            out.append(_said(family, drifts, title, show))
    return out


def _label(one: Reading) -> str:
    if one.stage not in {stage.id for stage in one.plan.stages}:
        return ""
    there = [q for q in MEASURED.get(type(one.plan.stage(one.stage)), ()) if q.unit == "mm" and q.put is not None]
    end = one.step.partition(".")[2]
    found = [q for q in there if (q.key == one.quantity if one.quantity else q.step in ("", end))]
    return found[0].label if found else ""


def _drift(at: tuple[int, str, str, str], offs: dict[int, list[float]]) -> _Drift | None:
    last = list(offs)[-BOARDS:]
    means = [statistics.fmean(offs[board]) for board in last]
    if len(means) < BOARDS or min(map(abs, means)) < WORTH or len({mean > 0 for mean in means}) > 1:
        return None
    position, kind, _, label = at
    return _Drift(position, kind, label, tuple(last), statistics.median(means))


def _said(family: str, drifts: list[_Drift], title: Callable[[str], str], show: Callable[[float], str]) -> Found:
    """The last thing that recurs, because of the first."""
    first, last = drifts[0], drifts[-1]
    reason = f": {first.label} {_over(first.off, show)}" if first is not last else ""
    cure = f"Plan {show(abs(first.off))} {'more' if first.off < 0 else 'less'} there?"
    came = f"came out {_over(last.off, show)} in {last.label}{reason}"
    text = f"The last {BOARDS} boards in {title(family).lower()} {came}. {cure}"
    return Found(text, When(kind=first.kind, family=family), last.boards)


def _over(off: float, show: Callable[[float], str]) -> str:
    return f"{show(abs(off))} {'over' if off > 0 else 'under'} plan"
