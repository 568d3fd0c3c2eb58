"""What lies on the bench at each stage: strips, panel, slices or rows, with the numbers that set the machine."""

from __future__ import annotations

from laberinto.core.faces import Side, face_of
from laberinto.core.figures import rows
from laberinto.core.simulate import Simulation, StageResult
from laberinto.core.stages import Arrange, Crosscut, Flatten, Glue, Mill
from laberinto.core.turns import Lie
from laberinto.core.units import Lengths

from . import dims, oblique
from .board import board, mark_turned
from .faces import apart, wood
from .skin import Skin
from .svg import document, lines, tag, text

GAP = 7.0
"""Space between loose pieces in a drawing, mm."""


def stage(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """The drawing of one stage."""
    if isinstance(result.stage, Mill):
        return strips(sim, result, skin, lengths)
    if isinstance(result.stage, Crosscut):
        return cuts(sim, result, skin, lengths)
    if isinstance(result.stage, Arrange):
        return laid_rows(sim, result, skin, lengths)
    if lies_flat(result):
        return panel(sim, result, skin, lengths)
    last = result is sim.board
    return board(
        result.pieces[0],
        skin,
        lengths,
        label=f"{result.stage.title}: the board from above",
        rows=rows(sim) if last else (),
    )


def lies_flat(result: StageResult) -> bool:
    """Whether this is still a panel, its fibres lying along the bench."""
    return isinstance(result.stage, Glue | Flatten) and bool((abs(result.pieces.cells.rot[:, 2, 1]) < 0.7071).all())


def strips(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """Loose strips side by side in panel order, numbered, with widths."""
    width = sum(strip.width for strip in result.outcome.strips) + GAP * (len(result.pieces) - 1)
    size = 0.0235 * (width + oblique.BACK_X * result.size[1])
    inner, labels, at = "", "", 0.0
    for number, strip in enumerate(result.outcome.strips):
        inner += oblique.block(result.pieces[number].moved([at, 0.0, 0.0]), skin)
        labels += text(at + strip.width / 2, size * 1.5, str(number + 1), size, class_="piece-number", fill=dims.INK)
        labels += text(
            at + strip.width / 2,
            size * 2.9,
            lengths.show(strip.width, unit=False),
            size * 0.82,
            class_="dim-text",
            fill=dims.INK,
        )
        at += strip.width + GAP
    depth, height = result.size[1], result.size[2]
    return _oblique_page(
        inner + labels + _run(width, depth, height, size, lengths),
        skin,
        width,
        depth,
        height,
        size,
        3.8,
        "Strips in panel order",
    )


def panel(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """The glued panel, with each strip's number and width under its end."""
    piece = result.pieces[0]
    width, depth, height = result.size
    size = 0.0235 * (width + oblique.BACK_X * depth)
    front = face_of(piece, Side.FRONT)
    labels = ""
    for i in range(len(front)):
        points = front.points[front.ptr[i] : front.ptr[i + 1], 0]
        x0, x1 = float(points.min()), float(points.max())
        labels += text(
            (x0 + x1) / 2, size * 1.5, str(int(front.strip[i]) + 1), size, class_="piece-number", fill=dims.INK
        )
        labels += text(
            (x0 + x1) / 2, size * 2.9, lengths.show(x1 - x0, unit=False), size * 0.82, class_="dim-text", fill=dims.INK
        )
    labels += dims.across(0, width, size * 4.6, lengths.show(width), size, reach=size * 3.2, strong=True)
    inner = oblique.block(piece, skin) + labels + _run(width, depth, height, size, lengths)
    return _oblique_page(inner, skin, width, depth, height, size, 5.6, f"{result.stage.title}: the panel")


def cuts(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """Slices where they came off the panel, opened by the kerf, with the stop's setting; offcuts dimmed."""
    cut = result.stage
    assert isinstance(cut, Crosscut) and cut.source is not None
    width, depth, height = sim[cut.source].size
    open_by = 4 * cut.kerf  # drawn wider than it is, so that one sees where the blade goes
    size = 0.0235 * (width + oblique.BACK_X * depth)
    labels, parts = "", []
    at = 0.0
    offcut = result.outcome.offcuts
    ends = [offcut.of_piece(i) for i in range(offcut.pieces)]
    if ends and cut.squaring > cut.kerf:
        parts.append(oblique.block(ends[0].at_origin(), skin, dim=0.45))
        at = cut.squaring - cut.kerf + open_by
        ends = ends[1:]
    for number in range(len(result.pieces)):
        piece = result.pieces[number].moved([0.0, at, 0.0])
        parts.append(oblique.block(piece, skin))
        x, y = oblique.point(width, at + cut.slice / 2, 0)
        labels += text(
            x + size * 0.7,
            y + size * 0.75,
            str(number + 1),
            size * 0.86,
            class_="piece-number",
            fill=dims.INK,
            anchor="start",
        )
        at += cut.slice + open_by
    for end in ends:
        parts.append(oblique.block(end.at_origin().moved([0.0, at, 0.0]), skin, dim=0.45))
        at += float(end.size()[1])
    labels += dims.across(0, width, size * 2.2, lengths.show(width), size, reach=0.01)
    first = cut.squaring - cut.kerf + open_by if cut.squaring > cut.kerf else 0.0
    labels += _stop(first, cut.slice, height, size, f"stop {lengths.show(cut.slice)}")
    return _oblique_page(
        "".join(reversed(parts)) + labels,
        skin,
        width,
        at,
        height,
        size,
        3.4,
        "Slices as they come off the panel",
        left=8.5,
    )


def _stop(start: float, slice_: float, height: float, size: float, words: str) -> str:
    """The stop's setting beside the first slice, on the left."""
    x0, y0 = oblique.point(0, start, height)
    x1, y1 = oblique.point(0, start + slice_, height)
    out = size * 0.9
    d = lines(
        ((x0 - out, y0), (x1 - out, y1)),
        ((x0 - size * 0.3, y0), (x0 - out * 1.3, y0)),
        ((x1 - size * 0.3, y1), (x1 - out * 1.3, y1)),
    )
    line = tag("path", d=d, class_="dim-line", fill="none", stroke=dims.INK, stroke_width=size * 0.09)
    return line + text(
        x0 - out * 1.6,
        (y0 + y1) / 2 + size * 0.3,
        words,
        size,
        class_="dim-text dim-stop",
        fill=dims.INK,
        font_weight="600",
        anchor="end",
    )


_SHORT = {Lie.FLIP: "flipped", Lie.END_FOR_END: "end for end", Lie.OTHER_END_UP: "other end up"}


def laid_rows(sim: Simulation, result: StageResult, skin: Skin, lengths: Lengths) -> str:
    """Rows on the bench before glue, seen from above, each with its slice number and its turn."""
    arrange = result.stage
    assert isinstance(arrange, Arrange) and arrange.source is not None
    face = face_of(apart(result.pieces.cells, 1, GAP), Side.TOP)
    heights = result.pieces.cells.piece_sizes()[:, 1].tolist()
    width, total = (float(v) for v in face.size)
    size = 0.025 * max(total, width * 0.8)
    labels, at = "", 0.0
    for row, ((number, lie), height) in enumerate(zip(arrange.rows(len(heights)), heights, strict=True)):
        middle = at + height / 2
        label = text(-size * 1.1, middle + size * 0.32, str(number), size * 0.95, class_="row-number", fill=dims.INK)
        if lie is not Lie.AS_CUT:
            label += mark_turned(-size * 2.1, middle, size)
            label += dims.note(width + size * 0.6, middle + size * 0.3, _SHORT[lie], size * 0.8)
        frame = tag(
            "rect", x=0.0, y=at, width=width, height=height, class_="row-frame", fill="transparent", stroke="none",
            stroke_width=size * 0.16,
        )  # fmt: skip
        labels += tag("g", label + frame, class_="row", data_row=str(row))
        at += height + GAP
    inner = wood(face, skin) + labels
    top = dims.across(0, width, -size * 1.9, lengths.show(width), size, reach=-0.01, strong=True)
    return document(
        tag("defs", skin.defs()) + inner + top, width + size * 9.2, total + size * 3.8,
        label="Rows on the bench, far side up", left=-size * 3, top=-size * 3.0, class_="drawing",
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
