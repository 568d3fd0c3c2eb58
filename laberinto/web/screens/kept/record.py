"""A board with its story, as its pages and papers tell it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from flask import Blueprint
from markupsafe import Markup

from laberinto.core.analysis.figures import Figures
from laberinto.core.analysis.together import Real
from laberinto.core.finish.balance import Balance, balance
from laberinto.core.finish.care import Care, again_at, cure_days
from laberinto.core.stages import Oil, Stage
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.skin import Painted
from laberinto.store import BoardView, NoteView, PhotoView, PinView, in_utc

from ...app import bitmaps, present
from ..build.view import Entry, log
from ..steps import Sheet, sheet

bp = Blueprint("kept", __name__, url_prefix="/boards/<int:board_id>/record", template_folder="templates")


@dataclass(frozen=True, slots=True)
class Picture:
    """A photo, and what it shows."""

    words: str
    photo: PhotoView


@dataclass(frozen=True, slots=True)
class Record:
    """The board as it is or will be, and its story."""

    sheet: Sheet
    entries: list[Entry]
    drawing: Markup
    changes: int
    cared: list[tuple[Care, NoteView]]
    """What was done for it since, the newest first."""
    photos: list[PhotoView]
    pins: list[PinView]

    @property
    def board(self) -> BoardView:
        return self.sheet.board

    @property
    def figures(self) -> Figures:
        return self.sheet.figures

    @property
    def done(self) -> list[Entry]:
        """Steps that are ticked, in the order in which they were."""
        return [entry for *_, entry in sorted((in_utc(e.done), e.number, e) for e in self.entries if e.done)]

    @property
    def finished(self) -> bool:
        """Whether nothing is left to do."""
        return bool(self.entries) and all(entry.done for entry in self.entries)

    @property
    def again(self) -> datetime | None:
        """When it is to be oiled again; None as long as it is not finished."""
        if not self.finished or not self.done:
            return None
        finished = [in_utc(self.done[-1].done)] if self.done[-1].done else []
        return again_at(self.board.plan, [*finished, *(in_utc(note.created) for kind, note in self.cared if kind.oils)])

    @property
    def hours(self) -> float | None:
        """Of hands, where they were written down."""
        return present.store().shelf.last(Real.HOURS.key).get(self.board.id)

    @property
    def usable(self) -> datetime | None:
        """From when it may meet food, its finish having cured; None before it is finished, and once that is past."""
        if not self.finished or not self.done or self.done[-1].done is None:
            return None
        oiled = [in_utc(e.done) for e in self.done if e.done and e.step.stage in self._oilings]
        cured = max(oiled, default=in_utc(self.done[-1].done)) + timedelta(days=cure_days(self.board.plan))
        return cured if cured > datetime.now(UTC) else None

    @property
    def _oilings(self) -> set[str]:
        return {stage.id for stage in self.board.plan.stages if isinstance(stage, Oil)}

    @property
    def moisture(self) -> float | None:
        """As it was measured last, percent; None where it never was."""
        read = [n for entry in self.entries for n in entry.notes if n.quantity == "moisture" and n.measured is not None]
        return max(read, key=lambda note: in_utc(note.created)).measured if read else None

    @property
    def rooms(self) -> list[tuple[str, Balance]]:
        """How it moves in a dry room and in a damp one."""
        shop, leaves = present.shop(), self.moisture
        airs = (("heated", shop.dry), ("damp", shop.damp))
        return [(f"A {room} kitchen, {air:g} %", balance(self.sheet.sim, air, leaves)) for room, air in airs]

    @property
    def pictured(self) -> list[Picture]:
        """Every photo from strips to oil, in the order of the build, and then those of faults."""
        of_steps = [Picture(entry.step.heading, photo) for entry in self.entries for photo in entry.photos]
        shown = {picture.photo.id for picture in of_steps}
        return [*of_steps, *(Picture("A fault", photo) for photo in self.photos if photo.id not in shown)]

    @property
    def first_and_last(self) -> tuple[Picture, Picture] | None:
        """The first and the last of the build, side by side; None where there are not two."""
        of_steps = [picture for picture in self.pictured if picture.words != "A fault"]
        return (of_steps[0], of_steps[-1]) if len(of_steps) > 1 else None

    @property
    def noted(self) -> list[Entry]:
        """Steps at which something was measured or written down."""
        return [entry for entry in self.entries if entry.notes]

    @property
    def days(self) -> int:
        """From the first tick to the last, both counted."""
        when = [in_utc(entry.done).date() for entry in self.done if entry.done]
        return (when[-1] - when[0]).days + 1 if when else 0

    @property
    def finish(self) -> Stage | None:
        """What it is oiled with."""
        return next((r.stage for r in self.sheet.sim.results if isinstance(r.stage, Oil) and not r.stage.skip), None)


def record_of(board: BoardView) -> Record:
    """All that is kept of a board. Raises LaberintoError where its plan cannot be built."""
    whole, store = sheet(board), present.store()
    sim = whole.sim
    skin = Painted(sim, "k", bitmaps.atlas_address, present.preference("finish"))
    drawing = draw_board(sim.board.pieces[0], skin, present.lengths(), label=f"The face of {board.name}")
    build = store.build(board.id)
    notes = build.notes()
    photos = build.photos()
    entries = log(whole, notes, photos=photos).entries
    changes, pins = len(store.revisions(board.id).all()), store.pins(board.id).all()
    return Record(whole, entries, Markup(drawing), changes, cared_for(notes), photos, pins)


def cared_for(notes: list[NoteView]) -> list[tuple[Care, NoteView]]:
    """Those notes that tell of care."""
    kinds = {kind.key: kind for kind in Care}
    return [(kinds[note.step], note) for note in notes if note.step in kinds]
