"""The fewest panels that make a picture: rows that are equal, or each other's reverse, come from one panel.

A slice shows its panel's lamination from the left, or flipped from the right. So rows can share a panel exactly where
their woods, widths and height agree one way or the other, and no fewer panels than there are such kinds can do.
"""

from __future__ import annotations

from dataclasses import dataclass

from .grid import Picture

Run = tuple[str, float]
"""A strip: its wood and its width, mm."""


@dataclass(frozen=True, slots=True)
class Panel:
    """A panel: its strips from the left, its thickness once flat (mm), and the rows its slices make, each with whether
    the slice is flipped."""

    strips: tuple[Run, ...]
    height: float
    rows: tuple[tuple[int, bool], ...]


def strips(picture: Picture, row: int) -> tuple[Run, ...]:
    """The lamination that shows this row: neighbouring cells of one wood are one strip."""
    out: list[Run] = []
    for column, width in enumerate(picture.widths):
        wood = picture.wood(row, column)
        if out and out[-1][0] == wood:
            out[-1] = (wood, round(out[-1][1] + width, 4))
        else:
            out.append((wood, width))
    return tuple(out)


def panels(picture: Picture) -> list[Panel]:
    """The fewest panels, in the order in which the rows first need them from the far side."""
    kinds: dict[tuple[float, tuple[Run, ...]], list[tuple[int, bool]]] = {}
    for row, height in enumerate(picture.heights):
        one = strips(picture, row)
        if (height, one[::-1]) in kinds and (height, one) not in kinds:
            kinds[height, one[::-1]].append((row, True))
        else:
            kinds.setdefault((height, one), []).append((row, False))
    return [Panel(one, height, tuple(rows)) for (height, one), rows in kinds.items()]
