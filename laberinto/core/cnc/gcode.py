"""G-code in a small dialect: G0 and G1, G2 and G3 with I and J, mm (G21), absolute (G90), xy plane (G17), feed in
mm/min (G94), T and M6, M3 with S, M5, M30; one command a line, remarks in parentheses. Explained in docs/cnc.md."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from .moves import Move, Point
from .tools import Tool

MOST_LINES = 2_000_000
"""No longer program is read."""


class GcodeError(ValueError):
    """A line cannot be read; ``line`` is its number, from 1."""

    def __init__(self, line: int, words: str) -> None:
        super().__init__(f"Line {line}: {words}")
        self.line = line


@dataclass(frozen=True, slots=True)
class Cut:
    """What one tool does: in words, at which spindle speed, along which moves."""

    title: str
    tool: Tool
    spindle: int
    moves: tuple[Move, ...]
    tabs: tuple[Point, ...] = ()
    """The middles of what holds an outline, mm."""

    @property
    def feed(self) -> float:
        """The fastest it cuts, mm/min."""
        return max((move.feed for move in self.moves), default=0.0)


def write(cuts: Iterable[Cut], header: Iterable[str], clear: float) -> str:
    """A program; ``header`` stands in remarks at its beginning, and between tools it goes up to ``clear`` mm."""
    lines = [*(f"({_plain(text)})" for text in header), "G21", "G90", "G17", "G94"]
    tool = 0
    for cut in cuts:
        lines.append(f"({_plain(cut.title)})")
        if cut.tool.number != tool:
            lines += [f"G0 Z{_n(clear)}", "M5", f"T{cut.tool.number} M6", f"M3 S{cut.spindle}"]
            tool = cut.tool.number
        lines += _moves(cut.moves)
    return "\n".join([*lines, f"G0 Z{_n(clear)}", "M5", "M30"]) + "\n"


def _moves(moves: Iterable[Move]) -> Iterator[str]:
    x = y = z = math.inf
    feed = -1.0
    for move in moves:
        words = []
        if move.centre is not None:
            words.append("G2" if move.clockwise else "G3")
        else:
            words.append("G0" if move.rapid else "G1")
        ox, oy = x, y
        for letter, now, new in (("X", x, move.x), ("Y", y, move.y), ("Z", z, move.z)):
            if now is math.inf or _n(now) != _n(new) or (move.centre is not None and letter != "Z"):
                words.append(f"{letter}{_n(new)}")
        x, y, z = move.x, move.y, move.z
        if move.centre is not None:
            words += [f"I{_n(move.centre[0] - ox)}", f"J{_n(move.centre[1] - oy)}"]
        if len(words) == 1:
            continue  # it stands there already
        if not move.rapid and move.feed != feed:
            words.append(f"F{move.feed:g}")
            feed = move.feed
        yield " ".join(words)


def _n(value: float) -> str:
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _plain(text: str) -> str:
    """What may stand in a remark."""
    return (
        re.sub(r"[^ -~]", "-", text.replace("×", "x").replace("°", " deg").replace("ø", ""))
        .replace("(", "[")
        .replace(")", "]")
    )


@dataclass(frozen=True, slots=True)
class Command:
    """One line as the machine takes it: a move, a tool, the spindle (turns a minute, 0 off), or the end."""

    line: int
    move: Move | None = None
    tool: int | None = None
    spindle: int | None = None
    end: bool = False


_WORD = re.compile(r"([A-Z])\s*([+-]?(?:\d+(?:\.\d*)?|\.\d+))")
_KNOWN_G = {0, 1, 2, 3, 17, 21, 90, 94}
_KNOWN_M = {3, 5, 6, 30}


class Reader:
    """Reads a program line by line, and remembers what holds on."""

    def __init__(self) -> None:
        self.at = (0.0, 0.0, 0.0)
        self.motion: int | None = None
        self.feed = 0.0
        self.line = 0

    def read(self, text: str) -> list[Command]:
        """What a line says; nothing for a remark. Raises GcodeError for what the dialect does not have."""
        self.line += 1
        if self.line > MOST_LINES:
            raise GcodeError(self.line, f"a program has at most {MOST_LINES} lines")
        bare = re.sub(r"\([^)]*\)|;.*", "", text).strip().upper()
        if not bare or bare == "%":
            return []
        words = _WORD.findall(bare)
        if re.sub(r"\s", "", bare) != "".join(letter + number for letter, number in words):
            raise GcodeError(self.line, f"“{text.strip()[:40]}” is no G-code of this dialect")
        return self._said([(letter, float(number)) for letter, number in words])

    def _said(self, words: list[tuple[str, float]]) -> list[Command]:
        out: list[Command] = []
        values: dict[str, float] = {}
        for letter, value in words:
            if letter == "G":
                if value not in _KNOWN_G:
                    raise GcodeError(self.line, f"G{value:g} is not in this dialect")
                self.motion = int(value) if value in (0, 1, 2, 3) else self.motion
            elif letter == "M":
                if value not in _KNOWN_M:
                    raise GcodeError(self.line, f"M{value:g} is not in this dialect")
                out += self._machine(int(value), words)
            elif letter in "XYZIJF":
                values[letter] = value
            elif letter not in "TSN":
                raise GcodeError(self.line, f"{letter} is not in this dialect")
        if "F" in values:
            self.feed = values["F"]
        if values.keys() & {"X", "Y", "Z", "I", "J"}:
            out.append(Command(self.line, move=self._move(values)))
        return out

    def _machine(self, code: int, words: list[tuple[str, float]]) -> list[Command]:
        of = dict(words)
        if code == 6:
            if "T" not in of:
                raise GcodeError(self.line, "M6 wants a tool: T1 M6")
            return [Command(self.line, tool=int(of["T"]))]
        if code == 3:
            if of.get("S", 0) <= 0:
                raise GcodeError(self.line, "M3 wants a speed: M3 S18000")
            return [Command(self.line, spindle=int(of["S"]))]
        return [Command(self.line, spindle=0)] if code == 5 else [Command(self.line, end=True)]

    def _move(self, values: dict[str, float]) -> Move:
        ox, oy, oz = self.at
        x, y, z = values.get("X", ox), values.get("Y", oy), values.get("Z", oz)
        self.at = (x, y, z)
        if self.motion is None:
            raise GcodeError(self.line, "a place, but no G0 or G1 before it")
        if self.motion == 0:
            return Move(x, y, z)
        if self.feed <= 0:
            raise GcodeError(self.line, "a cut without a feed: give F")
        if self.motion == 1:
            return Move(x, y, z, self.feed)
        centre = (ox + values.get("I", 0.0), oy + values.get("J", 0.0))
        radius, there = math.dist(centre, (ox, oy)), math.dist(centre, (x, y))
        if radius < 1e-6 or abs(radius - there) > 0.01 + 1e-3 * radius:
            raise GcodeError(self.line, f"this arc begins {radius:.3f} and ends {there:.3f} mm from its middle")
        return Move(x, y, z, self.feed, centre, self.motion == 2)


def read(text: str) -> list[Command]:
    """A whole program."""
    reader = Reader()
    return [command for line in text.splitlines() for command in reader.read(line)]
