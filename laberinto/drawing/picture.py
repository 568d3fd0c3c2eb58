"""A picture as a grid to paint on, and the panels that make it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from itertools import accumulate, pairwise

from laberinto.core.picture import LETTERS, Panel, Picture
from laberinto.core.woods import LIBRARY

from .svg import document, num, tag, text

HEAD = 16.0
"""Room for column and row numbers, mm of the picture."""


def grid(picture: Picture, swatches: Mapping[str, str], *, marked: Collection[tuple[int, int]] = (), label: str) -> str:
    """Every cell as a rectangle of its own, to be painted; ``swatches`` gives a bitmap for each wood. ``marked`` cells
    get a ring."""
    lefts = [0.0, *accumulate(picture.widths)]
    tops = [0.0, *accumulate(picture.heights)]
    head = max(HEAD, max(lefts[-1], tops[-1]) * 0.04)
    defs = "".join(
        tag(
            "pattern", tag("image", href=swatches[wood], width=24.0, height=24.0, preserveAspectRatio="none"),
            id=f"wood-{letter}", patternUnits="userSpaceOnUse", width=24.0, height=24.0,
        )
        for letter, wood in zip(LETTERS, picture.woods, strict=False)
    )  # fmt: skip
    cells, rings = [], []
    for r, row in enumerate(picture.rows):
        cells.append(f'<g role="row" aria-label="Row {r + 1}">')
        for c, letter in enumerate(row):
            name = LIBRARY[picture.wood(r, c)].name
            place = {"x": lefts[c], "y": tops[r], "width": picture.widths[c], "height": picture.heights[r]}
            cells.append(
                f'<rect class="cell" id="cell-{r}-{c}" data-row="{r}" data-column="{c}" role="gridcell" tabindex="-1"'
                f' aria-label="Row {r + 1}, column {c + 1}: {letter}, {name}" fill="url(#wood-{letter})"'
                + "".join(f' {key}="{num(value)}"' for key, value in place.items())
                + "/>"
            )
            if (r, c) in marked:
                size = min(picture.widths[c], picture.heights[r])
                rings.append(
                    tag(
                        "circle", cx=lefts[c] + picture.widths[c] / 2, cy=tops[r] + picture.heights[r] / 2,
                        r=size * 0.3, class_="changed-ring", fill="none", stroke_width=size * 0.1,
                    )
                )  # fmt: skip
        cells.append("</g>")
    size = head * 0.55
    numbers = "".join(
        text((a + b) / 2, -head * 0.3, str(c + 1), min(size, picture.widths[c] * 0.7), class_="grid-number")
        for c, (a, b) in enumerate(pairwise(lefts))
    ) + "".join(
        text(-head * 0.25, (a + b) / 2 + size * 0.35, str(r + 1), min(size, picture.heights[r] * 0.7), anchor="end",
             class_="grid-number")
        for r, (a, b) in enumerate(pairwise(tops))
    )  # fmt: skip
    inner = tag("defs", defs) + tag("g", numbers, aria_hidden="true")
    inner += tag("g", "".join(cells), class_="cells") + tag("g", "".join(rings), aria_hidden="true")
    return document(
        inner + tag("rect", class_="grid-choice", fill="none", visibility="hidden", aria_hidden="true"),
        lefts[-1] + head * 1.3, tops[-1] + head * 1.2, label=label, left=-head * 1.1, top=-head, class_="picture-grid",
    ).replace('role="img"', 'role="grid"', 1)  # fmt: skip


def panel(one: Panel, swatches: Mapping[str, str], prefix: str, width: float) -> str:
    """A panel's strips from their ends, to the scale of the picture's ``width``."""
    x, inner, defs = 0.0, "", {}
    for wood, wide in one.strips:
        name = f"{prefix}{wood}"
        defs[name] = tag(
            "pattern", tag("image", href=swatches[wood], width=24.0, height=24.0, preserveAspectRatio="none"),
            id=name, patternUnits="userSpaceOnUse", width=24.0, height=24.0,
        )  # fmt: skip
        inner += tag(
            "rect", x=x, y=0.0, width=wide, height=one.height, fill=f"url(#{name})", stroke="#1a120a",
            stroke_opacity=0.4, stroke_width=0.4,
        )  # fmt: skip
        x += wide
    label = ", ".join(f"{LIBRARY[wood].name.lower()} {num(wide)}" for wood, wide in one.strips)
    return document(tag("defs", "".join(defs.values())) + inner, width, one.height, label=label, class_="panel-end")


def rows_words(rows: Sequence[tuple[int, bool]]) -> str:
    """Rows as people read them: 1, 3 flipped, 7."""
    return ", ".join(f"{row + 1}{' flipped' if flipped else ''}" for row, flipped in rows)
