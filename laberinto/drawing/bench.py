"""What lies on the bench at each stage: strips, panel, slices or rows, with the numbers that set the machine."""

from __future__ import annotations

from laberinto.core.faces import Side, face_of
from laberinto.core.figures import rows
from laberinto.core.simulate import Simulation, StageResult
from laberinto.core.stages import Arrange, Crosscut
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
    if isinstance(result.stage, Crosscut) and not (result.stage.skew or result.stage.bevel):
        return cuts(sim, result, skin, lengths)
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
    inner, labels, at = "", "", 0.0
    for number, wide in enumerate(widths):
        inner += oblique.block(result.pieces[number].moved([at, 0.0, 0.0]), skin)
        labels += _numbered(at + wide / 2, str(number + 1), lengths.show(wide, unit=False), size)
        at += wide + GAP
    inner += labels + _run(width, depth, height, size, lengths)
    return _oblique_page(inner, skin, width, depth, height, size, 3.8, "Pieces in order")


def _numbered(x: float, number: str, width: str, size: float) -> str:
    """A piece's number under its end, and its width under that."""
    return text(x, size * 1.5, number, size, class_="piece-number", fill=dims.INK) + text(
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
    if len(spans) <= MOST_LABELS and all(float(p[:, 1].max() - p[:, 1].min()) > height - 1e-3 for p in spans):
        for i, points in enumerate(spans):
            x0, x1 = float(points[:, 0].min()), float(points[:, 0].max())
            number = str(int(front.strip[i]) + 1)
            labels += _numbered((x0 + x1) / 2, number, lengths.show(x1 - x0, unit=False), size)
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
    counts = sim.slices(arrange.id)
    labels, at = "", 0.0
    for row, ((number, lie), height) in enumerate(zip(arrange.rows(counts), heights, strict=True)):
        middle = at + height / 2
        label = text(
            -size * 1.1,
            middle + size * 0.32,
            arrange.name(number, counts),
            size * 0.95,
            class_="row-number",
            fill=dims.INK,
        )
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
