"""What lies under the simulated instruments: the twin of a board that is being built."""

from __future__ import annotations

from laberinto.core.asbuilt.twin import Place, truth
from laberinto.core.errors import LaberintoError
from laberinto.store import Store

from .bench import True_

INDOORS = 48.0
"""Humidity of the shop's air, percent."""


def of_store(store: Store, seed: int) -> True_:
    """Reads boards of a store: under an instrument lies ``board=3 step=panel-flat.flatten quantity=to piece=0``."""

    def true(device: str, under: str) -> float | None:
        if device == "hygrometer":
            return INDOORS
        said = dict(part.partition("=")[::2] for part in under.split())
        if not said.get("board", "").isdigit():
            return None
        board = store.board(int(said["board"]))
        stage = said.get("step", "").partition(".")[0]
        if board is None or stage not in {each.id for each in board.plan.stages}:
            return None
        piece = int(said["piece"]) if said.get("piece", "").isdigit() else None
        try:
            return truth(board.plan, stage, said.get("quantity", ""), seed + board.id, piece, _planned(store, board.id))
        except LaberintoError:
            return None

    return true


def _planned(store: Store, board_id: int) -> dict[Place, float]:
    """What was planned when each thing was first measured: readings since have moved the plan."""
    out: dict[Place, float] = {}
    for note in reversed(store.build(board_id).notes()):
        if note.planned is not None and note.quantity:
            out.setdefault((note.step.partition(".")[0], note.quantity, note.piece), note.planned)
    return out
