"""The best cut plan for so much work, wood by wood. Work is counted, not timed: the same needs and stock give the same
plan on a slow machine, and how long it takes never decides what is said."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..needs import Need
from .columns import Option
from .master import Cutting, chosen, relax
from .model import NEAR, Aim, CutPlan, Piece, PlankCut, Rest, Saw, Section, Stock
from .rooms import Room, Task

Progress = Callable[[float, CutPlan], bool]
"""Called with the share of the woods that are done and the best plan so far; False ends the search."""

LOOKS = 40_000_000
"""Mixes of sections that are weighed for a unit of work."""


def cut(
    needs: Sequence[Need], stock: Sequence[Stock], saw: Saw | None = None, aim: Aim = Aim.LEAST_WASTE, *,
    work: float = 5.0, progress: Progress | None = None, workers: int = 8,
) -> CutPlan:  # fmt: skip
    """The best plan found with so much ``work``, of which a unit is about a second on a quiet machine; strips that find
    no wood are in ``short``."""
    woods = sorted({need.wood for need in needs})
    counts = {wood: sum(need.count for need in needs if need.wood == wood) for wood in woods}
    done: list[_Part] = []
    for number, wood in enumerate(woods):
        mine = [at for at, need in enumerate(needs) if need.wood == wood]
        pieces = [piece for piece in stock if piece.lot.wood == wood]
        share = counts[wood] / sum(counts.values())
        reached = sum(counts[before] for before in woods[:number]) / sum(counts.values())

        def tell(part: _Part, over: float = reached + share / 2, before: Sequence[_Part] = tuple(done)) -> bool:
            return progress is None or progress(over, _joined(needs, [*before, part]))

        task = Task([needs[at] for at in mine], pieces, saw or Saw(), aim)
        done.append(_solved(task, mine, max(work * share, 0.2), tell, workers))
        if not tell(done[-1], reached + share):
            break
    planned = [at for part in done for at in part.mine]
    rest = [at for at in range(len(needs)) if at not in planned]  # the search was ended before these
    if rest:
        done.append(_Part(tuple(rest), (), {at: needs[at].count for at in rest}, 0.0, 0.0, unsure=True))
    return _joined(needs, done)


@dataclass(frozen=True, slots=True)
class _Part:
    """What came of one wood."""

    mine: tuple[int, ...]
    planks: tuple[PlankCut, ...]
    short: dict[int, int]
    cost: float
    bound: float
    unsure: bool = False

    @property
    def near(self) -> bool:
        """Whether hardly anything can be better."""
        return not self.short and self.cost - self.bound < NEAR * self.cost


def _joined(needs: Sequence[Need], parts: Sequence[_Part]) -> CutPlan:
    return CutPlan(
        tuple(needs), tuple(plank for part in parts for plank in part.planks),
        {at: n for part in parts for at, n in part.short.items()},
        sum(part.cost for part in parts), sum(part.bound for part in parts),
        any(part.unsure and part.short for part in parts),
    )  # fmt: skip


def _solved(task: Task, mine: Sequence[int], work: float, tell: Callable[[_Part], bool], workers: int) -> _Part:
    """One wood: a bound and a first plan from whole pieces, then the integer program from there. Where strips find no
    wood, the fewest that must are looked for by themselves: only what is proven is called short."""
    relaxed = relax(task, int(work * 0.4 * LOOKS))
    bound = relaxed.bound if relaxed and task.complete else 0.0
    first = chosen(task, relaxed.cuttings, work * 0.3, workers) if relaxed else []
    best = replace(_part(task, mine, first, bound), unsure=True)
    if best.near or not tell(best):
        return best
    from .program import Program  # its solver takes a while to load, and only a search needs it

    heard = True

    def better(cuttings: list[Cutting], least: float) -> bool:
        nonlocal heard
        part = _part(task, mine, cuttings, max(bound, least if task.complete else 0.0))
        heard = tell(replace(part, unsure=True))
        return heard

    program = Program(task)
    program.hint(first)
    found, least = program.solve(work * 0.4, bound, better, workers)
    bound = max(bound, least if task.complete else 0.0)
    second = _part(task, mine, found, bound) if found is not None else best
    best = min(_part(task, mine, first, bound), second, key=_order)
    if not best.short or not heard:
        return replace(best, unsure=True)
    fewest = Program(task)
    fewest.hint(found or first)
    other, least_short = fewest.fewest(work * 0.6, workers)
    if other is not None:
        best = min(best, _part(task, mine, other, bound), key=_order)
    return replace(best, unsure=not task.complete or least_short < sum(best.short.values()))


def _order(part: _Part) -> tuple[int, float]:
    """By which one plan is better than another: strips that find no wood, then what it costs."""
    return sum(part.short.values()), part.cost


def _part(task: Task, mine: Sequence[int], cuttings: Sequence[Cutting], bound: float) -> _Part:
    """The plan these ways to cut make. ``bound`` is the program's, in tenths of mm³, missing strips included."""
    made: Counter[int] = Counter()
    laid = [(task.choices[cutting.choice], _plank(task, cutting, made, mine)) for cutting in cuttings]
    planks = [(choice, plank) for choice, plank in laid if plank is not None]
    short = {at: n for k, at in enumerate(mine) if (n := task.needs[k].count - made[k]) > 0}
    cost = sum(choice.cost(plank) for choice, plank in planks)
    least = (bound - task.missing * sum(short.values())) / 10
    strips = sum(need.volume / need.count * made[k] for k, need in enumerate(task.needs))
    # the strips' own wood at the least that wood is worth is a bound that always holds
    plain = strips * min((choice.gone for choice in task.choices), default=0.0)
    return _Part(tuple(mine), tuple(plank for _, plank in planks), short, cost, min(max(least, plain), cost))


def _plank(task: Task, cutting: Cutting, made: Counter[int], mine: Sequence[int]) -> PlankCut | None:
    """One piece with its sections laid in, the longest first; strips beyond those asked for are left out."""
    choice, saw = task.choices[cutting.choice], task.saw
    sections: list[Section] = []
    rests: list[Rest] = []
    for number, room in enumerate(choice.ways[cutting.way]):
        space, x = room.bin, room.bin.x
        ripped = [(room.columns[column], n) for which, column, n in cutting.sections if which == number]
        for column, n in sorted(ripped, key=lambda item: -item[0].length):
            for _ in range(n):
                section = _section(task, room, x, column.options, made, mine)
                if section is None:
                    continue
                sections.append(section)
                last = section.pieces[-1]
                over = space.y + space.width - last.y - last.width - saw.kerf
                if saw.keeps(section.length, over):
                    rests.append(Rest(x, last.y + last.width + saw.kerf, section.length, over))
                x += section.length + saw.kerf
        left = space.x + space.length - x
        if saw.keeps(left, space.width):
            rests.append(Rest(x, space.y, left, space.width))
    return PlankCut(choice.stock, tuple(sections), tuple(rests)) if sections else None


def _section(
    task: Task, room: Room, x: float, options: Sequence[tuple[Option, int]], made: Counter[int], mine: Sequence[int]
) -> Section | None:
    pieces: list[Piece] = []
    y = room.bin.y
    for option, n in options:
        for _ in range(n):
            wanted = min(task.needs[option.need].count - made[option.need], option.layers)
            if wanted <= 0:
                continue
            made[option.need] += wanted
            length = task.needs[option.need].length
            pieces.append(Piece(mine[option.need], x, y, length, option.width, wanted, option.rolled))
            y += option.width + task.saw.kerf
    if not pieces:
        return None
    return Section(x, max(piece.length for piece in pieces), room.bin.y, room.bin.width, tuple(pieces))
