"""What lies on the bench at each stage: strips, panel, slices or rows, with the numbers that set the machine."""

from __future__ import annotations

import numpy as np

from laberinto.core.analysis.figures import rows
from laberinto.core.analysis.marks import ends
from laberinto.core.analysis.names import names, slice_marks
from laberinto.core.edits import rows as rows_edits
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.solid import apart
from laberinto.core.stages import Arrange, Crosscut, Mill, Profile, Sawing
from laberinto.core.units import Lengths

from . import dims, oblique, sawing
from .board import board, mark_turned
from .faces import wood
from .skin import Skin
from .svg import document, lines, num, tag, text

GLYPH = 0.62
"""Width of a sign of the drawing's letters for a size of 1."""

GAP = 7.0
"""Space between loose pieces in a drawing, mm."""


def stage(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """The drawing of one stage."""
    if isinstance(result.stage, Sawing | Crosscut):
        return sawing.cuts(sim, result, skin, lengths)
    if isinstance(result.stage, Profile):
        return sawing.section(sim, result, skin, lengths)
    if isinstance(result.stage, Arrange):
        return laid_rows(sim, result, skin, lengths)
    if not lies_flat(result):
        numbered = rows(sim) if result is sim.board else ()
        return board(result.pieces[0], skin, lengths, label=f"{result.stage.title}: from above", rows=numbered)
    return (panel if len(result.pieces) == 1 else strips)(sim, result, skin, lengths)


def lies_flat(result: StageResult) -> bool:
    """Whether fibres still lie along the bench."""
    return not result.pieces.cells.on_end


def strips(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """Loose pieces side by side in order, numbered, with their widths."""
    sizes = result.pieces.cells.piece_sizes()
    widths, depth, height = sizes[:, 0].tolist(), float(sizes[:, 1].max()), float(sizes[:, 2].max())
    width = sum(widths) + GAP * (len(widths) - 1)
    size = 0.0235 * (width + oblique.BACK_X * depth)
    inner = ""
    held = isinstance(result.stage, Mill)
    marks = [name.mark for name in names(sim)[result.stage.id]]
    letters = min(size, 0.95 * (min(widths) + GAP) / (GLYPH * max(map(len, marks))))
    places = np.concatenate([[0.0], np.cumsum(sizes[:-1, 0] + GAP)]).tolist()
    drawn = oblique.blocks(result.pieces.cells, places, skin)
    for number, (wide, at, block) in enumerate(zip(widths, places, drawn, strict=True)):
        block += _numbered(at + wide / 2, marks[number], lengths.show(wide, unit=False), size, letters)
        if held:
            block = _held(block, number, at, wide, depth, height)
        inner += block
    inner += _run(width, depth, height, size, lengths)
    return _oblique_page(inner, skin, width, depth, height, size, 3.8, "Pieces in order")


def _held(block: str, number: int, at: float, wide: float, depth: float, height: float) -> str:
    """A strip that can be taken hold of: dragged to another place, or by its right edge to another width."""
    x1, y1 = oblique.point(at + wide, 0, 0)
    frame = tag(
        "path", d=lines(((at, y1), (at, y1 - height), *_back(at, wide, depth, height), (x1, y1), (at, y1))),
        class_="piece-frame", fill="transparent", stroke="none",
    )  # fmt: skip
    handle = tag(
        "rect", x=x1 - 1.5, y=y1 - height, width=GAP, height=height, class_="edge-handle", data_width=num(wide),
        fill="transparent",
    )  # fmt: skip
    return tag("g", block + frame + handle, class_="piece", data_piece=str(number))


def _back(at: float, wide: float, depth: float, height: float) -> tuple[tuple[float, float], ...]:
    """The far corners of a strip in cabinet projection, clockwise from the left one on top."""
    return (
        oblique.point(at, depth, height), oblique.point(at + wide, depth, height), oblique.point(at + wide, depth, 0),
    )  # fmt: skip


def _numbered(x: float, mark: str, width: str, size: float, letters: float = 0.0) -> str:
    """What a piece is called under its end, in ``letters`` of their own size, and its width under that."""
    return text(x, size * 1.5, mark, letters or size, class_="piece-number", fill=dims.INK) + text(
        x, size * 2.9, width, size * 0.82, class_="dim-text", fill=dims.INK
    )


MOST_LABELS = 40
"""A panel of more cells than this, or of cells that do not reach through, shows no numbers."""


def panel(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """The glued panel, with each strip's number and width under its end."""
    piece = result.pieces[0]
    width, depth, height = result.size
    size = 0.0235 * (width + oblique.BACK_X * depth)
    front = face_of(piece, Side.FRONT)
    labels = ""
    spans = [front.points[front.ptr[i] : front.ptr[i + 1]] for i in range(len(front))]
    known = ends(sim)
    if len(spans) <= MOST_LABELS and all(float(p[:, 1].max() - p[:, 1].min()) > height - 1e-3 for p in spans):
        for i, points in enumerate(spans):
            x0, x1 = float(points[:, 0].min()), float(points[:, 0].max())
            labels += _numbered((x0 + x1) / 2, known[int(front.strip[i])], lengths.show(x1 - x0, unit=False), size)
    labels += dims.across(0, width, size * 4.6, lengths.show(width), size, reach=size * 3.2, strong=True)
    inner = oblique.block(piece, skin) + labels + _run(width, depth, height, size, lengths)
    return _oblique_page(inner, skin, width, depth, height, size, 5.6, f"{result.stage.title}: the panel")


_SHORT = {Lie.FLIP: "flipped", Lie.END_FOR_END: "end for end", Lie.OTHER_END_UP: "other end up"}


def laid_rows(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths, letters: float = 1.0) -> str:
    """Rows on the bench before glue, seen from above, each with its slice number and its turn."""
    arrange = result.stage
    assert isinstance(arrange, Arrange) and arrange.source is not None
    glue = rows_edits.glued_by(sim.plan, arrange.id)
    count = len(result.pieces)
    wide = result.pieces.cells.piece_sizes()[:, 0]
    shifts = np.array([rows_edits.shift_of(glue, row) for row in range(count)])
    cells = result.pieces.cells
    slid = cells.moved(np.column_stack([shifts, np.zeros((count, 2))])[cells.piece]) if shifts.any() else cells
    face = face_of(apart(slid, 1, GAP), Side.TOP)
    heights = result.pieces.cells.piece_sizes()[:, 1].tolist()
    width, total = (float(v) for v in face.size)
    size = 0.025 * letters * max(total, width * 0.8)
    counts, marks = sim.slices(arrange.id), slice_marks(sim, arrange)
    of_row = slid.piece[face.cell]
    inner, at = "", 0.0
    names, notes = [""], ["end for end"]  # the picture is as wide as it is with this note, or wider
    for row, ((number, lie), height) in enumerate(zip(arrange.rows(counts), heights, strict=True)):
        middle, name = at + height / 2, marks[number - 1]
        label = text(
            -size * max(1.1, 0.5 + 0.29 * len(name)),
            middle + size * 0.32,
            name,
            size * 0.95,
            class_="row-number",
            fill=dims.INK,
        )
        if lie is not Lie.AS_CUT:
            label += mark_turned(-size * (1.5 + 0.58 * len(name)), middle, size)
        by = float(shifts[row])
        said = [_SHORT[lie]] if lie is not Lie.AS_CUT else []
        said += [f"{lengths.show(abs(by))} {'right' if by > 0 else 'left'}"] if by else []
        names.append(name)
        notes.append(", ".join(said))
        if said:
            label += dims.note(width + size * 0.6, middle + size * 0.3, notes[-1], size * 0.8)
        frame = tag(
            "rect", x=by - float(shifts.min()), y=at, width=float(wide[row]), height=height,
            class_="row-frame", fill="transparent", stroke="none",
            stroke_width=size * 0.16,
        )  # fmt: skip
        mine = wood(face.take(np.flatnonzero(of_row == row)), skin)
        inner += tag("g", mine + label + frame, class_="laid-row", data_row=str(row))
        at += height + GAP
    top = dims.across(0, width, -size * 1.9, lengths.show(width), size, reach=-0.01, strong=True)
    left, right = 2.4 + 0.58 * max(map(len, names)), 0.9 + 0.5 * max(map(len, notes))
    return document(
        tag("defs", skin.defs()) + inner + top, width + size * (left + right), total + size * 3.8,
        label="Rows on the bench, far side up", left=-size * left, top=-size * 3.0, class_="drawing",
    )  # fmt: skip


def _run(width: float, depth: float, height: float, size: float, lengths: Lengths) -> str:
    """The length, along the receding right-hand edge, and the thickness at the near right corner."""
    x0, y0 = oblique.point(width, 0, 0)
    x1, y1 = oblique.point(width, depth, 0)
    out = size * 1.2
    line = tag(
        "path",
        d=lines(((x0 + out, y0), (x1 + out, y1))),
        class_="dim-line",
        fill="none",
        stroke=dims.INK,
        stroke_width=size * 0.075,
    )
    middle = ((x0 + x1) / 2 + out * 1.7, (y0 + y1) / 2 + size * 0.8)
    length = text(
        *middle, lengths.show(depth), size, class_="dim-text", fill=dims.INK, font_weight="600", anchor="start"
    )
    thick = dims.along(-size * 1.3, -height, 0, lengths.show(height, unit=False), size, reach=-0.01, strong=True)
    return line + length + thick


def _oblique_page(
    inner: str,
    skin: Skin,
    width: float,
    depth: float,
    height: float,
    size: float,
    below: float,
    label: str,
    *,
    left: float = 3.2,
) -> str:
    x, y = oblique.point(width, depth, height)
    return document(
        tag("defs", skin.defs()) + inner, x + size * (left + 5.5), -y + size * (below + 1), label=label,
        left=-size * left, top=y - size, class_="drawing",
    )  # fmt: skip
