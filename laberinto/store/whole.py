"""Whole boards: everything that is kept of one, read into a board file's parts and written back from them."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict
from datetime import datetime
from typing import Any

from sqlalchemy import Engine
from sqlmodel import Session, SQLModel, col, select

from laberinto.core.plan.model import read_plan
from laberinto.core.timber import Lot
from laberinto.core.woods import Wood
from laberinto.files.boardfile import BoardFile
from laberinto.files.boardparts import (
    Change,
    History,
    Log,
    Noted,
    Ordered,
    Pictured,
    Pinned,
    Stood,
    Taken,
    Tallied,
    Taught,
    Used,
    UsedLot,
)
from laberinto.files.woods import PartPhoto

from .database import writing
from .own_woods import OwnWoods
from .plans import text_of
from .tables import (
    Acknowledgement,
    Board,
    Cut,
    Lesson,
    LotRow,
    Note,
    OrderRow,
    OwnWood,
    Photo,
    Pin,
    Revision,
    Snapshot,
    Tally,
    Tick,
    Variant,
    WoodPhoto,
    found_board,
    in_utc,
)

_ORDER = ("whom", "due", "price", "state", "note", "created", "since")
_PIN = ("piece", "side", "x", "y", "fault", "strip", "wood", "stage", "text", "mended", "minutes", "created")
_LESSON = ("text", "kind", "machine", "wood", "family", "thickness", "order", "taught_by", "created")
_NOTE = ("step", "text", "measured", "planned", "quantity", "unit", "piece", "created")
_LOT = tuple(name for name in Lot.model_fields if name not in ("defects", "kind"))


class WholeBoards:
    """Out of the shop and into it."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def read(self, board_id: int) -> BoardFile:
        """Everything of a board. Raises LaberintoError where there is none."""
        with Session(self.engine) as session:
            board = found_board(session, board_id)
            history = _history(session, board)
            photos = _of(session, Snapshot, board_id)
            log = _log(session, board_id, {row.id or 0: at for at, row in enumerate(photos, 1)}, photos)
            used, pictures = _used(session, board_id)
        whole = BoardFile(history, log, used, tuple(row.jpeg for row in photos), pictures)
        own = {wood.key: wood for wood in OwnWoods(self.engine).all() if wood.key in whole.strip_woods}
        looks = OwnWoods(self.engine).photos()
        woods: dict[str, tuple[Wood, Mapping[str, PartPhoto]]] = {
            key: (
                wood.model_copy(update={"look": ""}),
                {part: PartPhoto(**asdict(photo)) for part, photo in looks.get(key, {}).items()},
            )
            for key, wood in own.items()
        }
        return BoardFile(history, log, used, whole.photos, pictures, woods)

    def add(self, board: BoardFile, *, lots: bool, order: bool, ours: bool) -> int:
        """A new board with all of it, in one transaction; its number. With ``lots`` the store gets the lots it was cut
        from, and its cuts with them; with ``order`` an order of its own; what was measured counts for the machines of
        this shop if it was built in ``ours``. Woods are added that are not there; none is changed."""
        with writing(self.engine) as session:
            for key, (wood, photos) in (board.woods or {}).items():
                if session.get(OwnWood, key) is None:
                    _add_wood(session, wood, photos)
            row = _add_history(session, board.history)
            row.elsewhere = not ours
            if order and board.history.order is not None:
                placed = OrderRow(**board.history.order.model_dump())
                session.add(placed)
                session.flush()
                row.order_id = placed.id
            board_id = row.id
            assert board_id is not None
            _add_log(session, board_id, board)
            if lots:
                _add_used(session, board_id, board)
            session.commit()
            return board_id


def _of(session: Session, table: type[Any], board_id: int) -> list[Any]:
    """A board's rows of a table, the oldest first."""
    return list(session.exec(select(table).where(table.board == board_id).order_by(col(table.id))).all())


def _picked(row: SQLModel, names: tuple[str, ...]) -> dict[str, Any]:
    """Some fields of a row, times with their zone."""
    values = {name: getattr(row, name) for name in names}
    return {name: in_utc(value) if isinstance(value, datetime) else value for name, value in values.items()}


def _history(session: Session, board: Board) -> History:
    rows = _of(session, Revision, board.id or 0)
    places = {row.id: at for at, row in enumerate(rows)}
    order = session.get(OrderRow, board.order_id) if board.order_id is not None else None
    return History(
        created=in_utc(board.created), changed=in_utc(board.changed),
        archived=in_utc(board.archived) if board.archived else None, head=places[board.head], variant=board.variant,
        variants={v.letter: places[v.revision] for v in _of(session, Variant, board.id or 0)},
        changes=tuple(
            Change(
                parent=places[row.parent] if row.parent else None, words=row.words, name=row.name, token=row.token,
                created=in_utc(row.created), plan=json.loads(row.plan),
            )
            for row in rows
        ),
        order=Ordered(**_picked(order, _ORDER)) if order else None,
    )  # fmt: skip


def _log(session: Session, board_id: int, places: Mapping[int, int], photos: list[Snapshot]) -> Log:
    return Log(
        ticks={row.step: in_utc(row.done) for row in _of(session, Tick, board_id)},
        notes=tuple(
            Noted(**_picked(row, _NOTE), spots=tuple(json.loads(row.spots or "[]")))
            for row in _of(session, Note, board_id)
        ),
        photos=tuple(Pictured(step=row.step, created=in_utc(row.created)) for row in photos),
        tallies=tuple(
            Tallied(**_picked(row, ("step", "count", "first", "last"))) for row in _of(session, Tally, board_id)
        ),
        stands=tuple(
            Stood(**_picked(row, ("key", "why", "reason", "created")))
            for row in _of(session, Acknowledgement, board_id)
        ),
        pins=tuple(
            Pinned(**_picked(row, _PIN), photo=places.get(row.photo or 0)) for row in _of(session, Pin, board_id)
        ),
        lessons=tuple(Taught(**_picked(row, _LESSON)) for row in _of(session, Lesson, board_id)),
    )


def _used(session: Session, board_id: int) -> tuple[Used, dict[int, bytes]]:
    cuts = _of(session, Cut, board_id)
    places = {cut.id: at for at, cut in enumerate(cuts)}
    took = {int(number) for cut in cuts for number in json.loads(cut.took)}
    rows = session.exec(
        select(LotRow).where(col(LotRow.id).in_(took) | col(LotRow.cut).in_(list(places))).order_by(col(LotRow.id))
    ).all()
    pictures = {
        photo.lot: photo.jpeg
        for photo in session.exec(select(Photo).where(col(Photo.lot).in_([row.id for row in rows]))).all()
    }
    there = {row.id for row in rows}
    lots = tuple(
        UsedLot(
            number=row.id or 0, lot={"kind": row.kind, **_picked(row, _LOT), "defects": json.loads(row.defects)},
            cut=places.get(row.cut), photo=row.id in pictures, created=in_utc(row.created),
        )
        for row in rows
    )  # fmt: skip
    return Used(
        lots=lots,
        cuts=tuple(
            Taken(
                state=cut.state, plan=json.loads(cut.plan), created=in_utc(cut.created),
                took={int(number): n for number, n in json.loads(cut.took).items() if int(number) in there},
            )
            for cut in cuts
        ),
    ), pictures  # fmt: skip


def _add_wood(session: Session, wood: Wood, photos: Mapping[str, PartPhoto]) -> None:
    session.add(OwnWood(key=wood.key, data=wood.model_copy(update={"look": ""}).model_dump_json()))
    session.flush()
    for part, photo in photos.items():
        session.add(WoodPhoto(wood=wood.key, part=part, **(asdict(photo) | {"corners": json.dumps(photo.corners)})))


def _add_history(session: Session, history: History) -> Board:
    board = Board(
        name=history.changes[history.head].plan["name"], created=history.created, changed=history.changed,
        variant=history.variant, archived=history.archived,
    )  # fmt: skip
    session.add(board)
    session.flush()
    board_id, ids = board.id or 0, list[int]()
    for change in history.changes:
        row = Revision(
            board=board_id, parent=ids[change.parent] if change.parent is not None else None,
            plan=text_of(read_plan(change.plan)), words=change.words, name=change.name, token=change.token,
            created=change.created,
        )  # fmt: skip
        session.add(row)
        session.flush()
        ids.append(row.id or 0)
    board.head = ids[history.head]
    for letter, at in history.variants.items():
        session.add(Variant(board=board_id, letter=letter, revision=ids[at]))
    return board


def _add_log(session: Session, board_id: int, board: BoardFile) -> None:
    log, photos = board.log, list[int | None]()
    for told, jpeg in zip(log.photos, board.photos, strict=True):
        row = Snapshot(board=board_id, step=told.step, jpeg=jpeg, created=told.created)
        session.add(row)
        session.flush()
        photos.append(row.id)
    rows: list[SQLModel] = [Tick(board=board_id, step=step, done=done) for step, done in log.ticks.items()]
    for note in log.notes:
        spots = json.dumps(list(note.spots)) if note.spots else ""
        rows.append(Note(board=board_id, spots=spots, **note.model_dump(exclude={"spots"})))
    rows += [Tally(board=board_id, **one.model_dump()) for one in log.tallies]
    rows += [Acknowledgement(board=board_id, **one.model_dump()) for one in log.stands]
    for pin in log.pins:
        photo = photos[pin.photo - 1] if pin.photo is not None else None
        rows.append(Pin(board=board_id, photo=photo, **pin.model_dump(exclude={"photo"})))
    rows += [Lesson(board=board_id, **one.model_dump()) for one in log.lessons]
    for row_ in rows:  # one by one, so that they keep their order
        session.add(row_)
        session.flush()


def _add_used(session: Session, board_id: int, board: BoardFile) -> None:
    """Lots get numbers of this store, and the cuts are told."""
    rows = {}
    for used in board.used.lots:
        lot = used.lot
        values = {name: lot[name] for name in _LOT if name in lot}
        row = LotRow(kind=lot.get("kind", "plank"), defects=json.dumps(lot.get("defects", [])), **values)
        row.created = used.created
        session.add(row)
        session.flush()
        rows[used.number] = row
        if (jpeg := (board.lot_photos or {}).get(used.number)) is not None:
            session.add(Photo(lot=row.id or 0, jpeg=jpeg))
    cuts = []
    for taken in board.used.cuts:
        took = {str(rows[number].id): n for number, n in taken.took.items()}
        plan = _renumbered(taken.plan, {number: row.id or 0 for number, row in rows.items()})
        cut = Cut(
            board=board_id, state=taken.state, plan=json.dumps(plan), took=json.dumps(took), created=taken.created
        )
        session.add(cut)
        session.flush()
        cuts.append(cut)
    for used in board.used.lots:
        if used.cut is not None:
            rows[used.number].cut = cuts[used.cut].id


def _renumbered(plan: dict[str, Any], numbers: Mapping[int, int]) -> dict[str, Any]:
    """A cut plan whose planks name lots by other numbers."""
    planks = [
        {**plank, "stock": {**plank["stock"], "number": numbers.get(plank["stock"]["number"], 0)}}
        if not plank["stock"]["new"] else plank
        for plank in plan["planks"]
    ]  # fmt: skip
    return {**plan, "planks": planks}
