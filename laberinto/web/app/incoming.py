"""Board files from elsewhere: looked through before anything is taken, and then brought in as a board of its own."""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path

from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.woods import LIBRARY, Wood
from laberinto.files.boardfile import BoardFile, read_board, renamed, renames
from laberinto.store import Store

from . import own
from .photos import sound

FOLDER = "incoming"
"""Where files wait until somebody says that they shall be brought in, below the data folder."""

MOST_WAITING = 12
"""Files that wait; the oldest gives way."""

_TOKEN = re.compile(r"[0-9a-f]{32}")


@dataclass(frozen=True, slots=True)
class Coming:
    """A board that may be brought in: its woods by what becomes of them, and whether a board here has its name."""

    board: BoardFile
    new: tuple[Wood, ...]
    there: tuple[Wood, ...]
    otherwise: tuple[Wood, ...]
    """Woods that come under another key, as theirs is taken here by a different one."""

    def simulated(self) -> Simulation | None:
        """It acted out with its own woods, None where its plan cannot be built."""
        woods: Mapping[str, Wood] = {**LIBRARY, **{key: wood for key, (wood, _) in (self.board.woods or {}).items()}}
        try:
            return simulate(self.board.plan, woods)
        except LaberintoError:
            return None


def look_through(data: bytes) -> Coming:
    """What a file would bring. Raises InputError where it cannot be brought in."""
    board = read_board(data)
    names = renames(board)
    board = renamed(board, names)
    brought = board.woods or {}
    missing = sorted(wood for wood in board.strip_woods if wood not in LIBRARY and wood not in brought)
    if missing:
        raise InputError(
            f"It is made of {missing[0]}, a wood that neither this shop nor the file knows. Make it under Woods first.",
            "file",
        )
    fresh = set(names.values())
    return Coming(
        board,
        new=tuple(wood for key, (wood, _) in brought.items() if key not in LIBRARY and key not in fresh),
        there=tuple(wood for key, (wood, _) in brought.items() if key in LIBRARY),
        otherwise=tuple(wood for key, (wood, _) in brought.items() if key in fresh),
    )


def bring(store: Store, coming: Coming, *, lots: bool, order: bool, ours: bool) -> int:
    """Bring it in; the number of the new board. See ``WholeBoards.add``. Nothing that is there is changed."""
    board = coming.board
    taken = {wood.key for wood in (*coming.new, *coming.otherwise)}
    board = replace(
        board, photos=tuple(map(_sound, board.photos)),
        lot_photos={number: _sound(jpeg) for number, jpeg in (board.lot_photos or {}).items()},
        woods={
            key: (wood, {part: replace(p, jpeg=_sound(p.jpeg)) for part, p in photos.items()})
            for key, (wood, photos) in (board.woods or {}).items() if key in taken
        },
    )  # fmt: skip
    board_id = store.whole.add(board, lots=lots, order=order, ours=ours)
    own.take_in(store)
    return board_id


def _sound(jpeg: bytes) -> bytes:
    try:
        return sound(jpeg, "file")
    except InputError:
        raise InputError("A photo in that board file is damaged. Nothing was taken.", "file") from None


def wait(data: Path, content: bytes) -> str:
    """Keep a file until it is decided on; its name."""
    folder = data / FOLDER
    folder.mkdir(mode=0o700, exist_ok=True)
    for old in sorted(folder.iterdir(), key=lambda path: path.stat().st_mtime)[: -MOST_WAITING + 1]:
        old.unlink(missing_ok=True)
    name = secrets.token_hex(16)
    (folder / name).write_bytes(content)
    return name


def waiting(data: Path, name: str) -> bytes | None:
    """A file that waits; None where there is none of that name any more."""
    path = data / FOLDER / name
    return path.read_bytes() if _TOKEN.fullmatch(name) and path.is_file() else None


def forget(data: Path, name: str) -> None:
    """Let go of a file that waits."""
    if _TOKEN.fullmatch(name):
        (data / FOLDER / name).unlink(missing_ok=True)
