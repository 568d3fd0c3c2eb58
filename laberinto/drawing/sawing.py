"""A cut before it is made: where the blade runs, how the stop is set and what is left."""

from __future__ import annotations

import math
from collections.abc import Sequence
from textwrap import wrap

import numpy as np

from laberinto.core.analysis.marks import these
from laberinto.core.analysis.names import Name
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.instructions import Saw, SawSection, instructions_of
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.solid import Cells
from laberinto.core.stages import Crosscut, Sawing
from laberinto.core.steps.sawing import tilted
from laberinto.core.units import Lengths, degrees

from . import dims
from .faces import shift, wood
from .skin import Skin
from .svg import Floats, document, lines, num, path, tag, text

KERF_INK, CUT_INK = "#12161a", "#1c6aa8"

MOST_NUMBERS = 60
"""More pieces than this are not numbered one by one."""

MOST_DRAWN = 4
"""Of pieces that are all cut differently so many are drawn; the sentences tell the rest."""


def all_cuts(
    sim: Simulation, results: Sequence[StageResult], skin: Skin, lengths: Lengths, letters: float = 1.0
) -> str:
    """Every piece that is cut otherwise than those before it, as it meets the saw, and which are cut like it."""
    alike: dict[tuple[float, ...], list[tuple[StageResult, int, Name]]] = {}
    for result in results:
        (told,) = instructions_of(sim, result)
        assert isinstance(told, Saw)
        sizes = sim.taken(result.stage.sources[0]).cells.piece_sizes().round(3).tolist()
        for number, (piece, size) in enumerate(zip(told.pieces, sizes, strict=True)):
            key = (*size, *(round(width, 3) for width in piece.widths))
            alike.setdefault(key, []).append((result, number, piece.name))
    several = sum(len(group) for group in alike.values()) > 1
    out = ""
    for group in list(alike.values())[:MOST_DRAWN]:
        result, number, _ = group[0]
        who = these(name for _, _, name in group) if several else ""
        out += cuts(sim, result, skin, lengths, number, who, letters)
    return out


def cuts(
    sim: Simulation,
    result: StageResult,
    skin: Skin,
    lengths: Lengths,
    which: int = 0,
    who: str = "",
    letters: float = 1.0,
) -> str:
    """A piece as it meets the saw: from above, or from its end where the blade is tilted or the cut runs through the
    thickness. ``who`` names the pieces that are cut so, ``letters`` is how large they are beside
    the usual."""
    stage = result.stage
    assert isinstance(stage, Sawing | Crosscut)
    (told,) = instructions_of(sim, result)
    assert isinstance(told, Saw)
    piece, marks = sim.taken(stage.sources[0])[which], [name.mark for name in told.pieces[which].makes]
    widths = told.pieces[which].widths
    differ = len(set(widths)) > 1
    normal, runs = stage.layout(piece)
    axis = 1 if isinstance(stage, Crosscut) else stage.axis
    tilted = abs(float(normal[2])) > 1e-9
    side = Side.TOP if not tilted else Side.RIGHT if axis == 1 else Side.FRONT
    page = _Page(piece, side, normal, skin, letters)
    parts = [page.wood]
    for number, (start, end) in enumerate(runs):
        parts.append(page.band(float(start), float(end)))
        if number < len(runs) - 1 and len(runs) <= MOST_NUMBERS:
            wide = lengths.show(widths[number], unit=False) if differ else ""
            parts.append(page.number((float(end) + float(runs[number + 1][0])) / 2, marks[number], wide))
    low, high = page.span
    for start, end in ((low, float(runs[0][0])), (float(runs[-1][1]), high)):
        if end - start > 0.5:
            parts.append(page.veil(start, end))
    parts.append(page.offcut(float(runs[-1][1]), high, lengths))
    setting = "stop" if isinstance(stage, Crosscut) else "width"
    if len(runs) > 1 and not differ:
        parts.append(
            page.measure(
                float(runs[0][1]), float(runs[1][0]), f"{setting} {lengths.show(float(runs[1][0] - runs[0][1]))}"
            )
        )
    parts.append(page.sizes(lengths))
    words = [f"{len(widths)} × {lengths.show(widths[0])}"] if not differ else [f"{len(widths)} pieces"]
    words.append(f"kerf {lengths.show(stage.kerf)}")
    skew, bevel = (stage.skew, stage.bevel) if isinstance(stage, Crosscut) else stage.angles()
    words += [f"skewed {degrees(skew)}"] if skew else []
    words += [f"blade tilted {degrees(bevel)}"] if bevel else []
    if who or len(told.pieces) > 1:
        words.insert(0, who or f"each of {len(told.pieces)} pieces alike")
    view = {Side.TOP: "from above", Side.FRONT: "from the near end", Side.RIGHT: "from the right"}[side]
    return page.document("".join(parts), ", ".join(words), f"{stage.title}, seen {view}")


LETTER = 0.62
"""Width of a letter, as a share of its size: figures and words are monospaced."""


class _Page:
    """A side of a piece with the cuts laid over it, in picture coordinates."""

    def __init__(self, piece: Cells, side: Side, normal: Floats, skin: Skin, letters: float) -> None:
        self.face = face_of(piece, side)
        self.skin = skin
        low, high = piece.bounds()
        frame = side.frame
        corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
        flat = corners @ frame[:2].T
        self.origin = flat.min(axis=0)
        self.width, self.height = (float(v) for v in self.face.size)
        self.size = 0.026 * letters * max(self.height, self.width * 0.72)
        # distance along the normal, as a line in the picture: n · p = s − c
        self.n = frame[:2] @ normal
        towards = float(frame[2] @ normal)
        middle = float((corners @ frame[2]).max()) if abs(towards) > 1e-9 else 0.0
        self.c = towards * middle
        heights = corners @ normal
        self.span = float(heights.min()), float(heights.max())
        self.wood = tag("g", wood(self.face, skin), class_="face")
        length = math.hypot(float(self.n[0]), float(self.n[1]))
        self.unit = self.n / length
        self.scale = length
        self.run = np.array([-self.unit[1], self.unit[0]])

    def _line(self, s: float, over: float = 0.0) -> tuple[Floats, Floats]:
        """Where the plane at ``s`` runs across the picture's rectangle, drawn ``over`` mm beyond it."""
        at = (s - self.c) / self.scale
        base = self.unit * at - self.origin
        hits = []
        box = ((0.0, self.width), (0.0, self.height))
        for axis, limits in enumerate(box):
            if abs(self.run[axis]) < 1e-9:
                continue
            for limit in limits:
                t = (limit - base[axis]) / self.run[axis]
                other = base[1 - axis] + t * self.run[1 - axis]
                if -1e-6 <= other <= box[1 - axis][1] + 1e-6:
                    hits.append(t)
        if not hits:
            return base, base
        return base + self.run * (min(hits) - over), base + self.run * (max(hits) + over)

    def _quad(self, s0: float, s1: float) -> Floats:
        a, b = self._line(s0)
        c, d = self._line(s1)
        return np.asarray(np.round(np.stack([a, b, d, c]), 2), np.float64)

    def band(self, s0: float, s1: float) -> str:
        """The kerf as a dark band, with the blade's line drawn on beyond the wood."""
        a, b = self._line((s0 + s1) / 2, self.size * 1.3)
        beyond = lines(((float(a[0]), float(a[1])), (float(b[0]), float(b[1]))))
        line = tag(
            "path", d=beyond, class_="cut-line", fill="none", stroke=CUT_INK, stroke_width=self.size * 0.09,
            stroke_dasharray=f"{num(self.size * 0.6)} {num(self.size * 0.35)}",
        )  # fmt: skip
        return line + tag("path", d=path(self._quad(s0, s1)), class_="kerf", fill=KERF_INK, fill_opacity=0.82)

    def veil(self, s0: float, s1: float) -> str:
        """What becomes no piece, dimmed."""
        return tag("path", d=path(self._quad(s0, s1)), class_="veil", fill="#fff", fill_opacity=0.55)

    def number(self, s: float, words: str, wide: str = "") -> str:
        """What a piece is called, on a patch of paper, and how wide it is where that differs."""
        a, b = self._line(s)
        x, y = (float(v) for v in (a + b) / 2)
        size, level = self.size * 0.9, abs(self.run[0]) > 0.5
        said = f"{words}: {wide}" if wide else words
        half = size * max(0.82, 0.34 * len(said) + 0.3)
        patch = tag(
            "rect", x=-half, y=-size * 0.82, width=2 * half, height=size * 1.64, rx=size * 0.82, class_="piece-disc",
            fill="#fff", fill_opacity=0.86,
        )  # fmt: skip
        inner = patch + text(0, size * 0.35, said, size, class_="piece-number", fill=dims.INK)
        turn = "" if level or len(said) < 3 else " rotate(-90)"
        return tag("g", inner, transform=f"translate({num(x)} {num(y)}){turn}")

    def _edge(self, s: float) -> tuple[float, float]:
        """Where the plane at ``s`` meets the right or the lower side of the picture, whichever the cuts cross."""
        a, b = self._line(s)
        x, y = max((a, b), key=lambda p: float(p[0] + 0.01 * p[1]) if abs(self.run[0]) > 0.5 else float(p[1]))
        return float(x), float(y)

    def measure(self, s0: float, s1: float, words: str) -> str:
        """A dimension between two planes, beside the wood."""
        (x0, y0), (x1, y1) = self._edge(s0), self._edge(s1)
        size = self.size
        if abs(self.run[0]) > 0.5:
            x = max(x0, x1) + size * 2.0
            return dims.along(x, min(y0, y1), max(y0, y1), "", size, reach=x - size * 1.4) + text(
                x + size * 0.7, (y0 + y1) / 2 + size * 0.32, words, size, class_="dim-text dim-stop", fill=dims.INK,
                font_weight="600", anchor="start",
            )  # fmt: skip
        y = max(y0, y1) + size * 2.2
        return dims.across(min(x0, x1), max(x0, x1), y, "", size, reach=y - size * 1.6) + text(
            (x0 + x1) / 2, y + size * 1.5, words, size, class_="dim-text dim-stop", fill=dims.INK, font_weight="600"
        )

    def offcut(self, s0: float, s1: float, lengths: Lengths) -> str:
        """How much is left at the end, named."""
        if s1 - s0 <= 0.5:
            return ""
        a, b = self._line((s0 + s1) / 2)
        x, y = (float(v) for v in (a + b) / 2)
        if s1 - s0 < self.size * 1.2:
            return ""
        words = text(
            0, self.size * 0.3, f"offcut {lengths.show(s1 - s0)}", self.size * 0.85, class_="on-veil", fill="#1d2329"
        )
        turn = "" if abs(self.run[0]) > 0.5 else " rotate(-90)"
        return tag("g", words, transform=f"translate({num(x)} {num(y)}){turn}")

    def sizes(self, lengths: Lengths) -> str:
        """Width above and height at the left of the picture."""
        size = self.size
        above = dims.across(0, self.width, -size * 2.2, lengths.show(self.width), size, reach=-0.01, strong=True)
        return above + dims.along(
            -size * 2.2, 0, self.height, lengths.show(self.height), size, reach=-0.01, strong=True
        )

    def document(self, parts: str, words: str, label: str) -> str:
        size = self.size
        beside = 9.5 if abs(self.run[0]) > 0.5 else 3.0
        below = 3.4 if abs(self.run[0]) > 0.5 else 8.0
        room = int((self.width + size * (beside - 0.4)) / (size * 0.95 * LETTER))
        said = wrap(words, max(room, 12))
        caption = ""
        for line, one in enumerate(said):
            at = self.height + size * (below - 0.9 + 1.4 * line)
            caption += text(0, at, one, size * 0.95, class_="dim-text", fill=dims.INK, anchor="start")
        below += 1.4 * (len(said) - 1)
        inner = tag("defs", self.skin.defs()) + parts + caption
        return document(
            inner, self.width + size * (3.6 + beside), self.height + size * (4 + below), label=label,
            left=-size * 3.6, top=-size * 4, class_="drawing",
        )  # fmt: skip


def section(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths, letters: float = 1.0) -> str:
    """The end of a piece before and after it is sawn to its section, with the blade's tilt at each side."""
    before = face_of(sim.taken(result.stage.sources[0])[0], Side.FRONT)
    after = face_of(result.pieces[0], Side.FRONT)
    (w0, h0), (w1, h1) = ((float(v) for v in face.size) for face in (before, after))
    tall = max(h0, h1)
    size = 0.05 * letters * max(tall, (w0 + w1) * 0.4)
    gap = size * 5
    inner = wood(before, skin, shift(0, tall - h0)) + wood(after, skin, shift(w0 + gap, tall - h1))
    (told,) = instructions_of(sim, result)
    assert isinstance(told, SawSection)
    corners = np.array(told.pieces[0].corners) * [1.0, -1.0] + [0.0, tall]
    inner += tag(
        "path", d=f"M0 {num(tall - h0)}H{num(w0)}V{num(tall)}H0Z" + path(corners.round(2)), class_="veil",
        fill="#fff", fill_opacity=0.5, fill_rule="evenodd",
    )  # fmt: skip
    inner += tag(
        "path", d=path(corners.round(2)), class_="cut-line", fill="none", stroke=CUT_INK, stroke_width=size * 0.14
    )
    middle = corners.mean(axis=0)
    for number, corner in enumerate(corners, 1):
        x, y = corner + (middle - corner) / np.linalg.norm(middle - corner) * size * 1.3
        inner += tag(
            "circle", cx=float(x), cy=float(y), r=size * 0.75, class_="piece-disc", fill="#fff", fill_opacity=0.86
        )
        inner += text(float(x), float(y) + size * 0.34, str(number), size * 0.95, class_="piece-number", fill=dims.INK)
    inner += dims.across(0, w0, tall + size * 2, lengths.show(w0), size, reach=tall)
    inner += dims.across(w0 + gap, w0 + gap + w1, tall + size * 2, lengths.show(w1), size, reach=tall, strong=True)
    inner += dims.along(
        w0 + gap + w1 + size * 2, tall - h1, tall, lengths.show(h1), size, reach=w0 + gap + w1, strong=True
    )
    arrow = lines(
        ((w0 + gap * 0.3, tall / 2), (w0 + gap * 0.7, tall / 2)),
        ((w0 + gap * 0.6, tall / 2 - size * 0.4), (w0 + gap * 0.7, tall / 2), (w0 + gap * 0.6, tall / 2 + size * 0.4)),
    )
    inner += tag("path", d=arrow, class_="dim-line", fill="none", stroke=dims.INK, stroke_width=size * 0.1)
    tilts = _tilts(result)
    if tilts:
        room = int((w0 + gap + w1 + size * 4) / (size * 0.9 * LETTER))
        for line, words in enumerate(wrap("; ".join(tilted(tilt) for tilt in tilts), room)):
            at = tall + size * (4.4 + 1.3 * line)
            inner += text(0, at, words, size * 0.9, class_="dim-text", fill=dims.INK, font_weight="600", anchor="start")
    return document(
        tag("defs", skin.defs()) + inner, w0 + gap + w1 + size * 6, tall + size * 8,
        label=f"{result.stage.title}: the end", left=-size, top=-size, class_="drawing",
    )  # fmt: skip


def _tilts(result: StageResult) -> list[float]:
    """Tilts from upright, in degrees, of the sides that are neither upright nor level."""
    normals, _ = result.pieces[0].world_planes()
    across = normals[np.abs(normals[:, 1]) < 1e-6]
    tilt = np.degrees(np.arcsin(np.clip(np.abs(across[:, 2]), 0, 1)))
    return sorted({round(float(t), 2) for t in tilt if 0.5 < t < 89.5})
