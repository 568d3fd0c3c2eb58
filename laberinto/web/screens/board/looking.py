"""Where on the board's page someone is, and what is wrong there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from laberinto.store import BoardView

from ...app import reading
from .views import VIEWS

MOST_BOARDS = 400
"""No plan ends in more."""


@dataclass(frozen=True, slots=True)
class Looking:
    """The chosen stage, and what is drawn."""

    stage: str
    view: str = "face"
    piece: int = 0
    """Which of several finished boards, from 0."""

    @classmethod
    def at(cls, board: BoardView, args: Mapping[str, str]) -> Looking:
        """From an address or a form, with anything unknown left out."""
        ids = [stage.id for stage in board.plan.stages]
        stage, view = args.get("stage", ""), args.get("view", "")
        piece = reading.whole(args.get("piece"), MOST_BOARDS) or 0
        return cls(stage if stage in ids else ids[0], view if view in VIEWS else "face", piece)


@dataclass(slots=True)
class Fault:
    """What is wrong: at which field and stage, why, and what had been typed. ``kept`` where the edit was saved all the
    same, so that the plan waits to be mended; ``clash`` lists what another page did meanwhile."""

    field: str
    message: str
    typed: dict[str, str]
    stage: str = ""
    kept: bool = False
    clash: tuple[str, ...] = ()
