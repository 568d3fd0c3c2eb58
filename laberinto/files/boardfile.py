"""A board as one file, ``.laberinto.zip``: plan, history, variants, log, photos, woods, and the lots it was cut from.

Inside are JSON, JPEG and a manifest with a checksum of each; docs/board-file.md describes it. Numbers of another shop's
database mean nothing here: what points at something else in the file points at its place in a list, or at a lot by the
number it had.
"""

from __future__ import annotations

import hashlib
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from io import BytesIO
from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from laberinto.core.errors import InputError, PlanError
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.timber import Lot
from laberinto.core.timber.cutting import CutPlan
from laberinto.core.validation import explain
from laberinto.core.woods import LIBRARY, Wood

from .boardparts import History, Log, Manifest, Part, Used
from .woods import PartPhoto, read_wood, write_wood
from .zipped import unpacked

FORMAT = "laberinto-board"
VERSION = 1
SUFFIX = ".laberinto.zip"

_NAMES = re.compile(
    r"(manifest|plan|history|log|timber)\.json|photos/\d{1,6}\.jpg|lots/\d{1,9}\.jpg|woods/[a-z][a-z0-9-]{0,39}\.json"
)

Some = TypeVar("Some", bound=Part)


@dataclass(frozen=True, slots=True)
class BoardFile:
    """All of it; photos as JPEG in the order of the log, those of lots by their numbers, woods by their keys."""

    history: History
    log: Log
    used: Used
    photos: tuple[bytes, ...] = ()
    lot_photos: Mapping[int, bytes] | None = None
    woods: Mapping[str, tuple[Wood, Mapping[str, PartPhoto]]] | None = None

    @property
    def plan(self) -> Plan:
        """The plan on show."""
        return read_plan(self.history.changes[self.history.head].plan)

    @property
    def strip_woods(self) -> set[str]:
        """Keys of the woods of all its plans and lots."""
        plans = (read_plan(change.plan) for change in self.history.changes)
        return {wood for plan in plans for wood in plan.strip_woods} | {str(lot.lot["wood"]) for lot in self.used.lots}


def write_board(board: BoardFile, written: datetime, by: str) -> bytes:
    """The file. ``by`` names the version that writes it."""
    files: dict[str, bytes] = {
        "plan.json": (board.plan.as_json(1) + "\n").encode(),
        "history.json": board.history.model_dump_json(indent=1).encode(),
        "log.json": board.log.model_dump_json(indent=1).encode(),
        "timber.json": board.used.model_dump_json(indent=1).encode(),
        **{f"photos/{at}.jpg": jpeg for at, jpeg in enumerate(board.photos, 1)},
        **{f"lots/{number}.jpg": jpeg for number, jpeg in (board.lot_photos or {}).items()},
        **{f"woods/{key}.json": write_wood(*both).encode() for key, both in (board.woods or {}).items()},
    }
    manifest = Manifest(
        format=FORMAT, version=VERSION, name=board.plan.name, written=written, by=by,
        files={name: hashlib.sha256(data).hexdigest() for name, data in files.items()},
    )  # fmt: skip
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", manifest.model_dump_json(indent=1))
        for name, data in files.items():
            stored = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
            archive.writestr(name, data, compress_type=stored)
    return out.getvalue()


def is_zip(data: bytes) -> bool:
    """Whether it begins as a zip does."""
    return data.startswith(b"PK")


def read_board(data: bytes) -> BoardFile:
    """What a file holds, checked through: every plan can be read, everything that is pointed at is there. Raises
    InputError with one sentence for a file that is damaged, newer, or something else; nothing of it is taken."""
    files = unpacked(data, _NAMES, "board file")
    if "manifest.json" not in files:
        raise InputError("That zip is no board file: it has no manifest.", "file")
    manifest = _part(Manifest, files.pop("manifest.json"), "manifest.json")
    if manifest.format != FORMAT:
        raise InputError("That zip is no board file of Laberinto’s.", "file")
    if manifest.version > VERSION:
        raise InputError(
            f"That board file is of version {manifest.version}; this Laberinto reads up to {VERSION}. Update it.",
            "file",
        )
    for name in sorted({*manifest.files, *files}):
        if name not in files or hashlib.sha256(files[name]).hexdigest() != manifest.files.get(name):
            why = "is missing from" if name not in files else "was changed or damaged in"
            raise InputError(f"“{name}” {why} that board file. Nothing was taken.", "file")
    for name in ("plan.json", "history.json", "log.json", "timber.json"):
        if name not in files:
            raise InputError(f"That board file has no {name}. Nothing was taken.", "file")
    board = BoardFile(
        _part(History, files["history.json"], "history.json"), _part(Log, files["log.json"], "log.json"),
        _part(Used, files["timber.json"], "timber.json"),
        woods={name[6:-5]: read_wood(files[name].decode("utf-8", "replace")) for name in files if name[:6] == "woods/"},
        lot_photos={int(name[5:-4]): files[name] for name in files if name[:5] == "lots/"},
    )  # fmt: skip
    pictures = [files.get(f"photos/{at}.jpg") for at in range(1, len(board.log.photos) + 1)]
    if any(picture is None for picture in pictures):
        raise InputError("A photo that the log names is missing from that board file. Nothing was taken.", "file")
    board = replace(board, photos=tuple(picture for picture in pictures if picture is not None))
    _sound(board)
    return board


def _part(model: type[Some], data: bytes, name: str) -> Some:
    try:
        return model.model_validate_json(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"])
        raise InputError(
            f"{name} in that board file: {where or 'it'} {explain(first)}. Nothing was taken.", "file"
        ) from None


def _sound(board: BoardFile) -> None:
    """Raise InputError where something points at nothing, or a plan, a lot or a cut is none."""
    history, used = board.history, board.used
    count, cuts = len(history.changes), len(used.cuts)
    numbers = {lot.number for lot in used.lots}
    ahead = any(c.parent is not None and not 0 <= c.parent < at for at, c in enumerate(history.changes))
    lost = [
        history.head >= count, ahead, any(not 0 <= at < count for at in history.variants.values()),
        history.variant != "" and history.variant not in history.variants,
        any(pin.photo is not None and pin.photo > len(board.photos) for pin in board.log.pins),
        any(lot.cut is not None and lot.cut >= cuts for lot in used.lots), len(numbers) != len(used.lots),
        any(not set(cut.took) <= numbers or any(n < 1 for n in cut.took.values()) for cut in used.cuts),
        any(key != wood.key for key, (wood, _) in (board.woods or {}).items()),
    ]  # fmt: skip
    if any(lost):
        raise InputError("Something in that board file points at what is not there. Nothing was taken.", "file")
    try:
        for change in history.changes:
            read_plan(change.plan)
        for lot in used.lots:
            Lot.of(**rewooded(lot.lot, None))
        for cut in used.cuts:
            _CUT.validate_python(rewooded(cut.plan, None))
    except (PlanError, InputError, ValidationError, TypeError) as error:
        raise InputError(
            f"A plan, lot or cut in that board file is wrong: {error}. Nothing was taken.", "file"
        ) from None


_CUT = TypeAdapter(CutPlan)


def rewooded(data: Any, names: Mapping[str, str] | None) -> Any:
    """The same with other keys of woods: those in ``names``, or with None any wood of the library for each, so that
    what is said of woods that are not known yet can be checked."""
    stands_in = next(iter(LIBRARY))
    if isinstance(data, dict):
        out: dict[str, Any] = {}
        for key, value in data.items():
            if key == "wood" and isinstance(value, str):
                out[key] = stands_in if names is None else names.get(value, value)
            elif key == "parameters" and isinstance(value, dict) and names:
                out[key] = {k: names.get(v, v) if isinstance(v, str) else v for k, v in value.items()}
            else:
                out[key] = rewooded(value, names)
        return out
    if isinstance(data, list | tuple):
        return [rewooded(each, names) for each in data]
    return data


def renamed(board: BoardFile, names: Mapping[str, str]) -> BoardFile:
    """The same board with other keys for some of its woods, where theirs are taken by other woods."""
    if not names:
        return board

    def anew(part: Some) -> Some:
        return type(part).model_validate(rewooded(part.model_dump(), names))

    woods = {
        names.get(key, key): (wood.model_copy(update={"key": names.get(key, key)}), photos)
        for key, (wood, photos) in (board.woods or {}).items()
    }
    return replace(board, history=anew(board.history), log=anew(board.log), used=anew(board.used), woods=woods)


def same_wood(one: Wood, other: Wood) -> bool:
    """Whether two woods are one but for where they came from and how they were photographed."""
    unlike = {"look": "", "source": ""}
    return one.model_copy(update=unlike) == other.model_copy(update=unlike)


def renames(board: BoardFile) -> dict[str, str]:
    """New keys for the woods of a file that the library knows as something else: what is there is never changed."""
    out: dict[str, str] = {}
    for key, (wood, _) in (board.woods or {}).items():
        if key in LIBRARY and not same_wood(LIBRARY[key], wood):
            free = (f"{key[:36]}-{n}" for n in range(2, 1000))
            out[key] = next(one for one in free if one not in LIBRARY and one not in (board.woods or {}))
    return out
