"""What the page of a picture holds: the picture, the board's name and thickness, and the board it belongs to."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from flask import abort

from laberinto.core.edits.pattern import family_of
from laberinto.core.errors import InputError
from laberinto.core.patterns.picture import Pictured
from laberinto.core.picture import Picture
from laberinto.core.units import parse_length
from laberinto.core.woods import LIBRARY

from ...app import present, reading
from ...app.lookup import find
from ..patterns.draft import free_name


@dataclass(frozen=True, slots=True)
class State:
    """``thickness`` is as typed; ``board`` is the id of the board that is changed, or 0 for a new one."""

    picture: Picture
    name: str
    thickness: str
    board: int = 0

    @property
    def data(self) -> str:
        """The picture as JSON, for the form."""
        return json.dumps(self.picture.model_dump(mode="json"), separators=(",", ":"))

    def drawn(self, picture: Picture) -> State:
        return replace(self, picture=picture)

    def family(self) -> Pictured:
        """The pattern; raises InputError where the thickness or the picture is wrong."""
        thick = parse_length(self.thickness, present.lengths().system, least=12, most=150, field="thickness")
        return Pictured.drawn(self.picture, thickness=thick, **present.shop().for_a_pattern())


def start(board_id: int = 0) -> State:
    """A new picture, or that of a board."""
    if not board_id:
        family, how = Pictured(), present.lengths()
        sizes = {name: tuple(map(how.usual, getattr(family.picture, name))) for name in ("widths", "heights")}
        return State(family.picture.model_copy(update=sizes), free_name(), how.field(how.usual(family.thickness)))
    board = find(board_id)
    made = family_of(board.plan)
    if not isinstance(made, Pictured):
        abort(404)
    return State(made.picture, board.name, present.lengths().field(made.thickness), board_id)


def read(form: Mapping[str, str]) -> State:
    """The page as it was sent; raises InputError where its picture is none."""
    try:
        data: Any = json.loads(form.get("picture", ""))
    except (ValueError, RecursionError):
        raise InputError("The picture got lost on the way; reload the page.", "rows") from None
    if not isinstance(data, dict):
        raise InputError("The picture got lost on the way; reload the page.", "rows")
    picture = Picture.of(**{str(key): value for key, value in data.items()})
    for key in picture.woods:
        LIBRARY.require(key, "woods")
    return State(
        picture, " ".join(form.get("name", "").split()),
        form.get("thickness", ""), reading.whole(form.get("board")) or 0,
    )  # fmt: skip
