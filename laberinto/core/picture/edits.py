"""Changes to a picture: pure functions from one to another. Rows and columns count from 0, from the far left."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..errors import InputError
from .grid import LETTERS, MOST_SIDE, Picture

Cell = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Block:
    """A stretch of cells: from row and column, up to and with row and column."""

    top: int
    left: int
    bottom: int
    right: int

    def within(self, picture: Picture) -> Block:
        """The part of it that lies on the picture, with its corners in order."""
        rows, columns = len(picture.heights) - 1, len(picture.widths) - 1
        top, bottom = sorted(min(max(at, 0), rows) for at in (self.top, self.bottom))
        left, right = sorted(min(max(at, 0), columns) for at in (self.left, self.right))
        return Block(top, left, bottom, right)

    @property
    def cells(self) -> list[Cell]:
        return [(r, c) for r in range(self.top, self.bottom + 1) for c in range(self.left, self.right + 1)]


def whole(picture: Picture) -> Block:
    return Block(0, 0, len(picture.heights) - 1, len(picture.widths) - 1)


def paint(picture: Picture, cells: Iterable[Cell], letter: str) -> Picture:
    """Some cells in one wood; cells that are not there are passed over."""
    _known(picture, letter)
    there = {cell: letter for cell in cells if 0 <= cell[0] < len(picture.rows) and 0 <= cell[1] < len(picture.widths)}
    return picture.changed(there)


def fill(picture: Picture, cell: Cell, letter: str) -> Picture:
    """The patch of one wood that a cell lies in, all in another."""
    _known(picture, letter)
    row, column = cell
    if not (0 <= row < len(picture.rows) and 0 <= column < len(picture.widths)):
        return picture
    old, reached, open_ = picture.rows[row][column], {cell}, [cell]
    while open_:
        r, c = open_.pop()
        for near in ((r - 1, c), (r + 1, c), (r, c - 1), (r, c + 1)):
            inside = 0 <= near[0] < len(picture.rows) and 0 <= near[1] < len(picture.widths)
            if inside and near not in reached and picture.rows[near[0]][near[1]] == old:
                reached.add(near)
                open_.append(near)
    return picture.changed(dict.fromkeys(reached, letter))


def mirror(picture: Picture, block: Block, *, across: bool) -> Picture:
    """A block left for right (``across``) or far for near. Where it is the whole picture its sizes turn with it."""
    block = block.within(picture)
    turned = {}
    for r, c in block.cells:
        of = (r, block.left + block.right - c) if across else (block.top + block.bottom - r, c)
        turned[r, c] = picture.rows[of[0]][of[1]]
    made = picture.changed(turned)
    if block == whole(picture):
        sizes = {"widths": picture.widths[::-1]} if across else {"heights": picture.heights[::-1]}
        made = made.model_copy(update=sizes)
    return made


def repeat(picture: Picture, block: Block) -> Picture:
    """A block laid over the whole picture again and again, from where it is."""
    block = block.within(picture)
    tall, wide = block.bottom - block.top + 1, block.right - block.left + 1
    return picture.changed(
        {
            (r, c): picture.rows[block.top + (r - block.top) % tall][block.left + (c - block.left) % wide]
            for r, c in whole(picture).cells
        }
    )


def paste(picture: Picture, rows: Sequence[str], at: Cell) -> Picture:
    """Rows of letters laid over the picture from a cell; what reaches beyond it is cut off."""
    cells: dict[Cell, str] = {}
    for r, row in enumerate(rows):
        for c, letter in enumerate(row):
            _known(picture, letter)
            if 0 <= at[0] + r < len(picture.rows) and 0 <= at[1] + c < len(picture.widths):
                cells[at[0] + r, at[1] + c] = letter
    return picture.changed(cells)


def resize(picture: Picture, rows: int, columns: int) -> Picture:
    """More or fewer rows and columns, at the near and the right edge; new cells are of the first wood and as large as
    the last."""
    for name, count in (("rows", rows), ("columns", columns)):
        if not 1 <= count <= MOST_SIDE:
            raise InputError(f"A picture has 1 to {MOST_SIDE} {name}.", name)
    kept = [row[:columns].ljust(columns, LETTERS[0]) for row in picture.rows[:rows]]
    kept += [LETTERS[0] * columns] * (rows - len(kept))
    return picture.model_copy(
        update={
            "rows": tuple(kept),
            "widths": (picture.widths + picture.widths[-1:] * columns)[:columns],
            "heights": (picture.heights + picture.heights[-1:] * rows)[:rows],
        }
    )


def set_sizes(picture: Picture, block: Block, width: float | None, height: float | None) -> Picture:
    """Columns and rows that a block reaches over, made so wide and so high, mm."""
    block = block.within(picture)
    widths, heights = list(picture.widths), list(picture.heights)
    if width is not None:
        widths[block.left : block.right + 1] = [width] * (block.right - block.left + 1)
    if height is not None:
        heights[block.top : block.bottom + 1] = [height] * (block.bottom - block.top + 1)
    return Picture.of(rows=picture.rows, woods=picture.woods, widths=widths, heights=heights)


def set_wood(picture: Picture, letter: str, wood: str) -> Picture:
    """A letter's wood, or one more wood behind the last letter."""
    at = LETTERS.find(letter)
    woods = list(picture.woods)
    if at == len(woods) and at < len(LETTERS):
        woods.append(wood)
    else:
        _known(picture, letter)
        woods[at] = wood
    return picture.model_copy(update={"woods": tuple(woods)})


def _known(picture: Picture, letter: str) -> None:
    if not letter or letter not in LETTERS[: len(picture.woods)]:
        known = ", ".join(LETTERS[: len(picture.woods)])
        raise InputError(f"There is no wood {letter or '?'} on this palette; there are {known}.", "woods")
