"""A whole lamination as one typed line: ``beech 30, plum 3x12, (pear 20, elm 20) x2``.

An item is a wood, by name, by the start of it or by its letter on the board's palette, then a width; ``3x12`` is three
strips of 12, and ``beech 30 long 250`` one with a length of its own. Brackets repeat what is in them; behind one,
``mirrored`` runs it back to its first strip, with the last in the middle. Lengths without a unit are in the maker's
units."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import InputError
from ..plan.model import Plan
from ..stages import Mill, StripSpec
from ..stages.mill import LEAST_WIDTH, LONGEST_STRIP, MOST_STRIPS, MOST_WIDTH, SHORTEST_STRIP
from ..units import MOST_TYPED, VULGAR, Lengths, cut_short, parse_length
from ..woods import LIBRARY, Wood
from .model import Edit
from .strips import laid

MOST_LINE = 4000
"""Characters of a line that are read."""

_SIZE_FROM = re.compile(rf"[0-9.,/{VULGAR}]")
_COUNT = re.compile(r"(\d+)\s*[x×]\s*", re.I | re.ASCII)
_SPLIT = re.compile(r"[,;\n](?!\d)|[()]")
_SECOND_WORD = re.compile(r"\d\s+[^\W\d_]{3,}")
_LONG = re.compile(r"\s+long\s+", re.I)
_MIRRORED = re.compile(r"\s*mirrored\b", re.I)
_TIMES = re.compile(r"\s*[x×]\s*(\d{1,9})\s*", re.I | re.ASCII)


class LaminationError(InputError):
    """A word of the line cannot be taken; it stands from ``start`` to ``end`` in the text."""

    def __init__(self, message: str, start: int, end: int) -> None:
        super().__init__(message, "line")
        self.start, self.end = start, end


@dataclass(frozen=True, slots=True)
class Lamina:
    """One strip of the line: wood, width and, where it has one of its own, length in mm."""

    wood: str
    width: float
    length: float | None = None


def parse(line: str, lengths: Lengths, letters: Mapping[str, str] | None = None) -> list[Lamina]:
    """The strips a line asks for, in order. ``letters`` gives woods by palette letter.

    Raises LaminationError that points at the word.
    """
    if len(line) > MOST_LINE:
        raise LaminationError(
            f"The line has {len(line):,} characters; at most {MOST_LINE:,} are read. Repeat with brackets: (…) x4.",
            MOST_LINE, len(line),
        )  # fmt: skip
    reader = _Reader(line, lengths, {key.lower(): wood for key, wood in (letters or {}).items()})
    found = reader.items(0)
    if not found:
        raise LaminationError("The line is empty. Type a wood and a width, like beech 30, plum 3x12.", 0, len(line))
    return found


class _Reader:
    """Walks the line from left to right."""

    def __init__(self, line: str, lengths: Lengths, letters: Mapping[str, str]) -> None:
        self.line, self.lengths, self.letters, self.at = line, lengths, letters, 0

    def items(self, depth: int) -> list[Lamina]:
        out: list[Lamina] = []
        while True:
            mark = _SPLIT.search(self.line, self.at)
            start, end = self.at, mark.start() if mark else len(self.line)
            sign = mark.group() if mark else ""
            if sign == "(":
                if self.line[start:end].strip():
                    raise LaminationError("A bracket starts an item of its own; put a comma before it.", start, end)
                out += self._group(end, depth)
            elif self.line[start:end].strip():
                out += self._item(start, end)
            if len(out) > MOST_STRIPS:
                raise LaminationError(f"That makes more than the {MOST_STRIPS} strips one panel may have.", start, end)
            if sign != "(":
                self.at = end + 1
            if sign == ")" and not depth:
                raise LaminationError("This bracket closes nothing.", end, end + 1)
            if sign in (")", ""):
                if not sign and depth:
                    raise LaminationError("A bracket is still open; close it with ).", end, end)
                return out

    def _group(self, opened: int, depth: int) -> list[Lamina]:
        if depth > 4:
            raise LaminationError("Brackets nest too deep here.", opened, opened + 1)
        self.at = opened + 1
        inner = self.items(depth + 1)
        if mirrored := _MIRRORED.match(self.line, self.at):
            self.at = mirrored.end()
            inner += inner[-2::-1]
        times = _TIMES.match(self.line, self.at)
        if times:
            self.at = times.end()
        count = int(times[1]) if times else 1
        if not 1 <= count * max(len(inner), 1) <= MOST_STRIPS:
            raise LaminationError(f"Repeat 1 to {MOST_STRIPS // max(len(inner), 1)} times.", opened, self.at)
        return inner * count

    def _item(self, start: int, end: int) -> list[Lamina]:
        """A wood up to the first digit, then perhaps a count, then the width."""
        text = self.line[start:end]
        lead, tail = start + len(text) - len(text.lstrip()), start + len(text.rstrip())
        found = _SIZE_FROM.search(self.line, lead, tail)
        size = found.start() if found else tail
        word = self.line[lead:size].rstrip()
        if not word[:1].isalpha():
            raise LaminationError("An item is a wood and a width, like plum 3x12.", lead, tail)
        if word.endswith(("-", "−")):
            raise LaminationError("A width is above 0; leave the minus out.", lead + len(word) - 1, tail)
        wood = self._wood(word, lead, lead + len(word))
        times = _COUNT.match(self.line, size, tail)
        at = times.end() if times else size
        if at == tail:
            raise LaminationError(f"How wide is the {wood.name.lower()}? Put a width behind it.", lead, tail)
        long, own = _LONG.search(self.line, at, tail), None
        typed = self.line[at : long.start() if long else tail]
        try:
            width = parse_length(typed, self.lengths.system, least=LEAST_WIDTH, most=MOST_WIDTH)
            if long:
                at = long.end()
                typed = self.line[at:tail]
                own = parse_length(typed, self.lengths.system, least=SHORTEST_STRIP, most=LONGEST_STRIP)
        except InputError as error:
            said = "Put a comma between two items." if _SECOND_WORD.search(typed[:MOST_TYPED]) else str(error)
            raise LaminationError(said, at, tail) from None
        if times and not (len(times[1]) < 9 and 1 <= int(times[1]) <= MOST_STRIPS):
            raise LaminationError(f"1 to {MOST_STRIPS} strips of a kind.", size, tail)
        return [Lamina(wood.key, width, own)] * (int(times[1]) if times else 1)

    def _wood(self, word: str, start: int, end: int) -> Wood:
        low = " ".join(word.lower().replace("-", " ").split())
        if low in self.letters:
            return LIBRARY[self.letters[low]]
        found = LIBRARY.named(low)
        if len(found) == 1:
            return found[0]
        if found:
            several = ", ".join(wood.name.lower() for wood in found)
            raise LaminationError(f"“{word}” may be {several}; type more of it.", start, end)
        near = [w.name.lower() for w in LIBRARY.values() if low[:3] and low[:3] in w.name.lower()]
        hint = f" Did you mean {' or '.join(near[:3])}?" if near else " The palette lists what there is."
        raise LaminationError(f"There is no wood called “{cut_short(word)}”.{hint}", start, end)


def written(strips: Sequence[StripSpec], lengths: Lengths) -> str:
    """Strips as a line that reads back as the same woods and widths."""
    runs: list[tuple[Lamina, int]] = []
    for spec in strips:
        one = Lamina(spec.wood, spec.width, spec.length)
        if runs and runs[-1][0] == one:
            runs[-1] = (one, runs[-1][1] + 1)
        else:
            runs.append((one, 1))
    items = [_item_written(one, n, lengths) for one, n in runs]
    for period in range(2, len(items) // 2 + 1):
        if len(items) % period == 0 and items == items[:period] * (len(items) // period):
            return f"({', '.join(items[:period])}) x{len(items) // period}"
    if len(items) > 4 and len(items) % 2 and items == items[::-1]:
        return f"({', '.join(items[: len(items) // 2 + 1])}) mirrored"
    return ", ".join(items)


def _item_written(one: Lamina, count: int, lengths: Lengths) -> str:
    name = LIBRARY[one.wood].name.lower() if one.wood in LIBRARY else one.wood
    own = f" long {lengths.field(one.length)}" if one.length else ""
    return f"{name} {f'{count}x' if count > 1 else ''}{lengths.field(one.width)}{own}"


def lay(plan: Plan, stage_id: str, line: str, lengths: Lengths, letters: Mapping[str, str] | None = None) -> Edit:
    """Lay the panel that a line asks for. Strips that were there keep their marks, rings and turns."""
    stage = plan.stage(stage_id)
    if not isinstance(stage, Mill):
        raise InputError(f"Stage “{stage_id}” mills no strips.")
    wanted, before = parse(line, lengths, letters), stage.laid_out()
    if [Lamina(s.wood, s.width, s.length) for s in before] == wanted:
        return Edit(plan, "")
    left = list(before)
    mark = max(spec.mark or 0 for spec in before)
    strips = []
    for lamina in wanted:
        same = [s for s in left if s.wood == lamina.wood]
        kept = next((s for s in same if s.width == lamina.width), same[0] if same else None)
        if kept is not None:
            left.remove(kept)
            strips.append(kept.model_copy(update={"width": lamina.width, "length": lamina.length}))
        else:
            mark += 1
            strips.append(StripSpec(wood=lamina.wood, width=lamina.width, length=lamina.length, mark=mark))
    total = sum(lamina.width for lamina in wanted)
    return laid(plan, stage, strips, f"laminated anew: {len(wanted)} strips, {total:g} mm")
