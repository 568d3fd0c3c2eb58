"""A wood of the shop's own as a file: JSON with its figures and its photos, to be given to another shop."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from laberinto.core.errors import InputError
from laberinto.core.validation import checked
from laberinto.core.woods import Wood

FORMAT = "laberinto-wood"

MOST_BYTES = 12_000_000
"""No larger file is read."""


@dataclass(frozen=True, slots=True)
class PartPhoto:
    """A photo of a part as a file holds it: JPEG, corners as shares of it, size in mm, finish."""

    jpeg: bytes
    corners: tuple[tuple[float, float], ...]
    width: float
    height: float
    finish: str


def write_wood(wood: Wood, photos: Mapping[str, PartPhoto]) -> str:
    """The file's text."""
    data: dict[str, Any] = {"format": FORMAT, "version": 1, "wood": wood.model_dump(mode="json", exclude={"look"})}
    data["photos"] = {
        part: {
            "jpeg": base64.b64encode(photo.jpeg).decode(), "corners": [list(corner) for corner in photo.corners],
            "width": photo.width, "height": photo.height, "finish": photo.finish,
        }
        for part, photo in photos.items()
    }  # fmt: skip
    return json.dumps(data, indent=1, ensure_ascii=False) + "\n"


def read_wood(text: str) -> tuple[Wood, dict[str, PartPhoto]]:
    """What a file holds. Raises InputError for what is none, or is damaged; nothing of such a file is taken."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise InputError("That is no wood file: it is not JSON, or it was cut off.", "file") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InputError("That is no wood file of Laberinto's.", "file")
    if data.get("version") != 1:
        raise InputError(f"That file is of version {data.get('version')}; this Laberinto reads version 1.", "file")
    fields = data.get("wood")
    try:
        wood = checked(Wood, fields if isinstance(fields, dict) else {}, say="In that file {field} {words}.")
    except InputError as error:
        raise InputError(str(error), "file") from None
    try:
        return wood.model_copy(update={"look": ""}), {part: _photo(data["photos"][part]) for part in ("end", "face")
                                                      if part in (data.get("photos") or {})}  # fmt: skip
    except (KeyError, TypeError, ValueError, binascii.Error):
        raise InputError("A photo in that file is damaged.", "file") from None


def _photo(told: Mapping[str, Any]) -> PartPhoto:
    corners = tuple((float(x), float(y)) for x, y in told["corners"])
    width, height = float(told["width"]), float(told["height"])
    inside = len(corners) == 4 and all(0 <= v <= 1 for corner in corners for v in corner)
    if not inside or not (1 <= width <= 2000 and 1 <= height <= 2000) or told["finish"] not in ("raw", "oiled"):
        raise ValueError(told["finish"])
    return PartPhoto(base64.b64decode(told["jpeg"], validate=True), corners, width, height, told["finish"])
