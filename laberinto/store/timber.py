"""The timber store: lots, and the cuts that reserve wood or take it out. Every change is one transaction."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Engine
from sqlmodel import Session, col, select

from laberinto.core.errors import LaberintoError
from laberinto.core.timber import Defect, Lot, LotKind
from laberinto.core.timber.cutting import CutPlan
from laberinto.core.woods import LIBRARY

from .database import writing
from .tables import Board, Cut, LotRow, Photo
from .trash import LOT, LOT_PHOTO, throw

RESERVED, BOOKED, UNDONE = "reserved", "booked", "undone"

_PLAN = TypeAdapter(CutPlan)


class ShortageError(LaberintoError):
    """The store no longer holds what a cut needs; nothing was changed."""


@dataclass(frozen=True, slots=True)
class LotView:
    """A lot as it lies: how many of its pieces are reserved, and for which boards."""

    id: int
    lot: Lot
    reserved: int
    photo: bool
    left_over_from: str
    created: datetime

    @property
    def free(self) -> int:
        """How many of the lot no board holds."""
        return self.lot.count - self.reserved


@dataclass(frozen=True, slots=True)
class CutView:
    """A cut that was taken up."""

    id: int
    board: int
    board_name: str
    state: str
    plan: CutPlan
    took: Mapping[int, int]
    created: datetime


class Timber:
    """All lots of the shop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def lots(self, *, gone: bool = False, woods: Collection[str] | None = None) -> list[LotView]:
        """What lies there, by wood, planks first; with ``gone`` lots of which nothing is left too, with ``woods`` those
        of these woods alone."""
        with Session(self.engine) as session:
            query = select(LotRow).order_by(LotRow.wood, col(LotRow.id))
            if woods is not None:
                query = query.where(col(LotRow.wood).in_(sorted(woods)))
            rows = [row for row in session.exec(query).all() if gone or row.count]
            held = self._held(session)
            pictured = set(session.exec(select(Photo.lot)).all())
            names = dict(session.exec(select(Cut.id, Board.name).where(Cut.board == Board.id)).all())
            order = list(LotKind)
            views = [
                LotView(_id(r), _lot(r), held[_id(r)], r.id in pictured, names.get(r.cut, ""), r.created) for r in rows
            ]
        return sorted(views, key=lambda v: (v.lot.wood, order.index(v.lot.kind), -v.lot.volume, v.id))

    def kept(self) -> bool:
        """Whether anything lies there at all."""
        with Session(self.engine) as session:
            return session.exec(select(LotRow.id).where(LotRow.count > 0).limit(1)).first() is not None

    def lot(self, lot_id: int) -> LotView | None:
        """A lot by its number, None where there is none."""
        return next((view for view in self.lots(gone=True) if view.id == lot_id), None)

    def add(self, lots: Iterable[Lot]) -> list[int]:
        """Put lots into the store, all or none; their numbers."""
        with writing(self.engine) as session:
            rows = [_row(lot) for lot in lots]
            session.add_all(rows)
            session.commit()
            return [_id(row) for row in rows]

    def change(self, lot_id: int, lot: Lot) -> None:
        """Put other values to a lot. Raises ShortageError where fewer pieces than are reserved would be left."""
        with writing(self.engine) as session:
            row = self._must(session, lot_id)
            held = self._held(session)[lot_id]
            if lot.count < held:
                raise ShortageError(f"{held} of lot {lot_id} are reserved, so there must be at least {held}.")
            if held and not _same_wood(_lot(row), lot):
                raise ShortageError(
                    f"{held} of lot {lot_id} are reserved as they were; another wood, size or fault would make their "
                    "cut plan wrong. Let them go on the board's Wood page first, then plan the cuts again."
                )
            for name, value in _values(lot).items():
                setattr(row, name, value)
            session.add(row)
            session.commit()

    def remove(self, lot_id: int) -> None:
        """Take a lot out of the store, into the trash. Raises ShortageError where a cut holds or has taken from it."""
        with writing(self.engine) as session:
            row = self._must(session, lot_id)
            for cut in session.exec(select(Cut).where(Cut.state != UNDONE)).all():
                if str(lot_id) in json.loads(cut.took):
                    what = "is reserved" if cut.state == RESERVED else "was cut"
                    name = self._name(session, cut)
                    raise ShortageError(f"Lot {lot_id} {what} for {name}. Undo that first, or set its pieces to 0.")
            jpeg = None
            if (photo := session.get(Photo, lot_id)) is not None:
                jpeg = photo.jpeg
                session.delete(photo)
                session.flush()
            named = LIBRARY[row.wood].name if row.wood in LIBRARY else row.wood
            throw(session, LOT, f"lot {lot_id}: {row.count} {named} {row.kind}", row, jpeg=jpeg)
            session.commit()

    def photo(self, lot_id: int) -> bytes | None:
        """The photo of a lot as JPEG, None where there is none."""
        with Session(self.engine) as session:
            found = session.get(Photo, lot_id)
            return found.jpeg if found else None

    def set_photo(self, lot_id: int, jpeg: bytes | None) -> None:
        """Keep a photo of a lot, or none; the one before goes into the trash."""
        with writing(self.engine) as session:
            self._must(session, lot_id)
            found = session.get(Photo, lot_id)
            if found is not None:
                throw(session, LOT_PHOTO, f"lot {lot_id}", found, jpeg=found.jpeg)
            if jpeg is not None:
                session.add(Photo(lot=lot_id, jpeg=jpeg))
            session.commit()

    # -- cuts ---------------------------------------------------------------------------------------------------

    def cuts(self, board_id: int | None = None) -> list[CutView]:
        """Cuts that hold or took wood, the newest first; of one board, or of all."""
        with Session(self.engine) as session:
            query = select(Cut, Board.name).where(Cut.board == Board.id, Cut.state != UNDONE)
            if board_id is not None:
                query = query.where(Cut.board == board_id)
            found = session.exec(query.order_by(col(Cut.id).desc())).all()
            return [
                CutView(
                    cut.id or 0, cut.board, name, cut.state, _PLAN.validate_json(cut.plan),
                    {int(k): n for k, n in json.loads(cut.took).items()}, cut.created,
                )
                for cut, name in found
            ]  # fmt: skip

    def reserve(self, board_id: int, plan: CutPlan) -> int:
        """Hold the pieces of a plan for a board; what was held for it before is let go. Raises ShortageError."""
        took = Counter(plank.stock.number for plank in plan.planks if not plank.stock.new)
        with writing(self.engine) as session:
            for cut in session.exec(select(Cut).where(Cut.board == board_id, Cut.state == RESERVED)).all():
                cut.state = UNDONE
                session.add(cut)
            session.flush()
            held = self._held(session)
            for number, n in took.items():
                row = session.get(LotRow, number)
                if row is None or row.count - held[number] < n:
                    raise ShortageError(f"Lot {number} no longer holds {n} free piece{'s' if n > 1 else ''}.")
            self._as_planned(session, plan)
            cut = Cut(board=board_id, state=RESERVED, plan=_PLAN.dump_json(plan).decode(), took=json.dumps(took))
            session.add(cut)
            session.commit()
            return cut.id or 0

    def release(self, board_id: int) -> None:
        """Let go of what is reserved for a board."""
        with writing(self.engine) as session:
            for cut in session.exec(select(Cut).where(Cut.board == board_id, Cut.state == RESERVED)).all():
                session.delete(cut)
            session.commit()

    def book(self, cut_id: int) -> list[int]:
        """Take a reserved cut's pieces out of the store and put its rests in; the numbers of the lots these become."""
        with writing(self.engine) as session:
            cut = self._cut(session, cut_id, RESERVED)
            plan = _PLAN.validate_json(cut.plan)
            self._as_planned(session, plan)
            for number, n in json.loads(cut.took).items():
                row = session.get(LotRow, int(number))
                if row is None or row.count < n:
                    raise ShortageError(f"Lot {number} no longer holds {n} piece{'s' if n > 1 else ''}.")
                row.count -= n
                session.add(row)
            rests = Counter(_offcut(plank.stock.lot, rest.length, rest.width)
                            for plank in plan.planks if not plank.stock.new for rest in plank.rests)  # fmt: skip
            rows = [_row(lot.model_copy(update={"count": n}), cut_id) for lot, n in rests.items()]
            session.add_all(rows)
            cut.state = BOOKED
            session.add(cut)
            session.commit()
            return [_id(row) for row in rows]

    def undo(self, cut_id: int) -> None:
        """Take a cut back: let reserved pieces go; put booked ones back and take their rests out again. Raises
        ShortageError where a rest was used since."""
        with writing(self.engine) as session:
            cut = self._cut(session, cut_id, RESERVED, BOOKED)
            if cut.state == BOOKED:
                rests = session.exec(select(LotRow).where(LotRow.cut == cut_id)).all()
                plan = _PLAN.validate_json(cut.plan)
                came = sum(len(plank.rests) for plank in plan.planks if not plank.stock.new)
                held = self._held(session)
                if sum(row.count for row in rests) != came or any(held[_id(row)] for row in rests):
                    raise ShortageError(
                        "Offcuts of this cut were used, reserved or changed since, so it cannot be taken back. Correct "
                        "the lots by hand."
                    )
                for row in rests:
                    if (photo := session.get(Photo, row.id)) is not None:
                        session.delete(photo)
                        session.flush()
                    session.delete(row)
                for number, n in json.loads(cut.took).items():
                    if (lot := session.get(LotRow, int(number))) is not None:
                        lot.count += n
                        session.add(lot)
            cut.state = UNDONE
            session.add(cut)
            session.commit()

    @staticmethod
    def _cut(session: Session, cut_id: int, *states: str) -> Cut:
        cut = session.get(Cut, cut_id)
        if cut is None or cut.state not in states:
            raise LaberintoError("This cut was booked or undone on another page meanwhile.")
        return cut

    @staticmethod
    def _name(session: Session, cut: Cut) -> str:
        board = session.get(Board, cut.board)
        return board.name if board else "a board"

    @staticmethod
    def _held(session: Session) -> Counter[int]:
        """How many pieces of each lot are reserved."""
        held: Counter[int] = Counter()
        for took in session.exec(select(Cut.took).where(Cut.state == RESERVED)).all():
            held.update({int(number): n for number, n in json.loads(took).items()})
        return held

    @staticmethod
    def _as_planned(session: Session, plan: CutPlan) -> None:
        """Raise ShortageError where a lot is no longer what the plan was laid on: cutting it would make wood from
        nothing."""
        for plank in plan.planks:
            if plank.stock.new:
                continue
            row = session.get(LotRow, plank.stock.number)
            if row is None or not _same_wood(_lot(row), plank.stock.lot):
                raise ShortageError(f"Lot {plank.stock.number} was changed since these cuts were planned.")

    @staticmethod
    def _must(session: Session, lot_id: int) -> LotRow:
        row = session.get(LotRow, lot_id)
        if row is None:
            raise LaberintoError(f"There is no lot {lot_id}.")
        return row


def _offcut(lot: Lot, length: float, width: float) -> Lot:
    """A rest as a lot of its own, worth its share of the price."""
    share = length * width / (lot.length * lot.width)
    price = None if lot.price is None else round(lot.price * share, 2)
    return Lot(
        kind=LotKind.OFFCUT, wood=lot.wood, length=round(length, 1), width=round(width, 1), thickness=lot.thickness,
        moisture=lot.moisture, price=price, radius=lot.radius, place=lot.place,
    )  # fmt: skip


def _same_wood(one: Lot, other: Lot) -> bool:
    """Whether what is cut from one could be cut from the other: wood, size, curve and faults are the same."""
    names = ("kind", "wood", "length", "width", "thickness", "radius", "defects")
    return all(getattr(one, name) == getattr(other, name) for name in names)


def _values(lot: Lot) -> dict[str, Any]:
    values = lot.model_dump()
    return {**values, "kind": lot.kind.value, "defects": json.dumps([d.model_dump() for d in lot.defects])}


def _row(lot: Lot, cut: int | None = None) -> LotRow:
    return LotRow(**_values(lot), cut=cut)


def _lot(row: LotRow) -> Lot:
    names = ("wood", "count", "length", "width", "thickness", "moisture", "price", "radius", "place", "note")
    faults = tuple(Defect(**fault) for fault in json.loads(row.defects))
    return Lot(kind=LotKind(row.kind), defects=faults, **{name: getattr(row, name) for name in names})


def _id(row: LotRow) -> int:
    assert row.id is not None
    return row.id
