"""The tables. Times are UTC."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import UniqueConstraint
from sqlmodel import Field, Session, SQLModel

from laberinto.core.errors import LaberintoError


def now() -> datetime:
    """This moment, in UTC."""
    return datetime.now(UTC)


def in_utc(moment: datetime) -> datetime:
    """A moment with its zone: the database gives UTC back without saying so."""
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


class OrderRow(SQLModel, table=True):
    """What somebody asked for: a role or place (no address), by which day, the price agreed in the shop's money, how
    far it is (see ``OrderState``) and ``since`` when. Its boards point at it."""

    __tablename__ = "orders"

    id: int | None = Field(default=None, primary_key=True)
    whom: str = ""
    due: datetime | None = None
    price: float | None = None
    state: str
    note: str = ""
    created: datetime = Field(default_factory=now)
    since: datetime = Field(default_factory=now)


class Board(SQLModel, table=True):
    """A board someone makes. ``head`` is the revision on show; undo and redo move it. ``variant`` is the letter of
    the variant being worked on, or empty. ``archived`` and ``removed`` are when it was put away or removed. What was
    built ``elsewhere``, in another shop, teaches nothing about the machines of this one."""

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(index=True)
    order_id: int | None = Field(default=None, foreign_key="orders.id", index=True)
    created: datetime = Field(default_factory=now)
    changed: datetime = Field(default_factory=now)
    head: int | None = Field(default=None, foreign_key="revision.id", index=True)
    variant: str = ""
    archived: datetime | None = None
    removed: datetime | None = None
    elsewhere: bool = Field(default=False, sa_column_kwargs={"server_default": "0"})


class Revision(SQLModel, table=True):
    """A plan as it stood after one change. Never altered; ``parent`` is the one it was made from."""

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    parent: int | None = Field(default=None, foreign_key="revision.id", index=True)
    plan: str
    words: str
    name: str = ""
    token: str = ""
    created: datetime = Field(default_factory=now)


class Variant(SQLModel, table=True):
    """A state of a board pinned under a letter, to come back to; it follows the edits made while it is chosen."""

    __table_args__ = (UniqueConstraint("board", "letter"),)

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    letter: str
    revision: int = Field(foreign_key="revision.id", index=True)


class Tick(SQLModel, table=True):
    """A step of the build that is done."""

    __table_args__ = (UniqueConstraint("board", "step"),)

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    step: str
    done: datetime = Field(default_factory=now)


class Note(SQLModel, table=True):
    """What was noticed or measured at a step, and what the plan said then: of which quantity, in which unit, and of
    which piece (counted from 0) where it was one; ``spots`` is JSON of what was read at several places of it, of which
    ``measured`` is the mean."""

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    step: str
    text: str = ""
    measured: float | None = None
    planned: float | None = None
    quantity: str = Field("", sa_column_kwargs={"server_default": ""})
    unit: str = Field("mm", sa_column_kwargs={"server_default": "mm"})
    piece: int | None = None
    spots: str = Field("", sa_column_kwargs={"server_default": ""})
    created: datetime = Field(default_factory=now)


class Snapshot(SQLModel, table=True):
    """A photo of a step, as a JPEG."""

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    step: str
    jpeg: bytes
    created: datetime = Field(default_factory=now)


class Preference(SQLModel, table=True):
    """How this shop likes things shown."""

    key: str = Field(primary_key=True)
    value: str


class LotRow(SQLModel, table=True):
    """Pieces of one size and wood in the store (mm, percent, the shop's money). ``defects`` is JSON; ``cut`` is the
    booked cut that it was left over from."""

    __tablename__ = "lot"

    id: int | None = Field(default=None, primary_key=True)
    kind: str
    wood: str = Field(index=True)
    count: int
    length: float
    width: float
    thickness: float
    moisture: float | None = None
    price: float | None = None
    radius: float | None = None
    place: str = ""
    note: str = ""
    defects: str = "[]"
    cut: int | None = Field(default=None, foreign_key="cut.id", ondelete="SET NULL")
    created: datetime = Field(default_factory=now)


class Photo(SQLModel, table=True):
    """What a lot looks like, as a JPEG."""

    lot: int = Field(primary_key=True, foreign_key="lot.id", ondelete="CASCADE")
    jpeg: bytes


class Cut(SQLModel, table=True):
    """A cut plan that was taken up: wood reserved by it, or booked out of the store. ``plan`` and ``took`` are JSON;
    ``took`` says how many pieces of which lots."""

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    state: str
    plan: str
    took: str
    created: datetime = Field(default_factory=now)


class Acknowledgement(SQLModel, table=True):
    """A finding that someone has seen and lets stand, and why."""

    __table_args__ = (UniqueConstraint("board", "key"),)

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    key: str
    why: str
    reason: str
    created: datetime = Field(default_factory=now)


class Tally(SQLModel, table=True):
    """How many pieces of a step are done, and when the first and the last were."""

    __table_args__ = (UniqueConstraint("board", "step"),)

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    step: str
    count: int
    first: datetime
    last: datetime


class TimerRow(SQLModel, table=True):
    """A timer, of a board or of none."""

    __tablename__ = "timer"

    id: int | None = Field(default=None, primary_key=True)
    board: int | None = Field(default=None, foreign_key="board.id", index=True, ondelete="CASCADE")
    label: str
    started: datetime
    ends: datetime


class Pin(SQLModel, table=True):
    """A fault or a fill on a side of a finished board: where it lies on the drawn side (mm, right and down from its
    corner), what it is, at which step it was seen, and how it was mended."""

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    piece: int = 0
    side: str
    x: float
    y: float
    fault: str
    strip: str = ""
    wood: str = ""
    stage: str = ""
    text: str = ""
    mended: str = ""
    minutes: float | None = None
    photo: int | None = Field(default=None, foreign_key="snapshot.id", ondelete="SET NULL")
    created: datetime = Field(default_factory=now)


class Kept(SQLModel, table=True):
    """What was added up of a board, so that it need not be built anew: for which revision and which shop, as JSON."""

    __tablename__ = "summary"

    board: int = Field(primary_key=True, foreign_key="board.id", ondelete="CASCADE")
    revision: int
    shop: str
    data: str


class OwnWood(SQLModel, table=True):
    """A wood of the shop's own, or one of the library's that it changed; ``data`` is JSON."""

    __tablename__ = "own_wood"

    key: str = Field(primary_key=True)
    data: str


class WoodPhoto(SQLModel, table=True):
    """What a part of such a wood ("end" or "face") looks like: a photo, where in it the wood lies (four corners as
    shares of its width and height, JSON), how large that is (mm), and with which finish it was taken."""

    __tablename__ = "wood_photo"

    wood: str = Field(primary_key=True, foreign_key="own_wood.key", ondelete="CASCADE")
    part: str = Field(primary_key=True)
    jpeg: bytes
    corners: str
    width: float
    height: float
    finish: str


class Move(SQLModel, table=True):
    """A job of the calendar that was pinned to a moment, or let go of where ``start`` is None. The last one of a job
    counts; taking one back uncovers what was before."""

    __tablename__ = "calendar_move"

    id: int | None = Field(default=None, primary_key=True)
    board: int = Field(foreign_key="board.id", index=True, ondelete="CASCADE")
    job: str = Field(index=True)
    start: datetime | None = None
    created: datetime = Field(default_factory=now)


class Planned(SQLModel, table=True):
    """The calendar that was found last: of which problem, and as JSON when each job begins and what is proven."""

    __tablename__ = "calendar"

    id: int | None = Field(default=None, primary_key=True)
    key: str
    data: str
    created: datetime = Field(default_factory=now)


class Trashed(SQLModel, table=True):
    """A lot or a photo that was removed and can be put back: of which ``kind``, its row as JSON and its picture."""

    __tablename__ = "trash"

    id: int | None = Field(default=None, primary_key=True)
    kind: str
    board: int | None = Field(default=None, foreign_key="board.id", index=True, ondelete="CASCADE")
    title: str
    data: str
    jpeg: bytes | None = None
    removed: datetime = Field(default_factory=now)


class Device(SQLModel, table=True):
    """A device that was let in from the shop's network: the SHA-256 of what it shows, what it ``may`` do, when it was
    last ``seen`` and until when it is let in, for ever if None."""

    id: int | None = Field(default=None, primary_key=True)
    name: str
    token: str = Field(unique=True)
    may: str
    created: datetime = Field(default_factory=now)
    seen: datetime
    until: datetime | None = None


class Lesson(SQLModel, table=True):
    """What a board taught, and when it is said again; see ``core.analysis.lessons.When``."""

    id: int | None = Field(default=None, primary_key=True)
    board: int | None = Field(default=None, foreign_key="board.id", ondelete="SET NULL")
    taught_by: str
    text: str
    kind: str = ""
    machine: str = ""
    wood: str = ""
    family: str = ""
    thickness: float | None = None
    order: str = Field("", sa_column_kwargs={"server_default": ""})
    created: datetime = Field(default_factory=now)


def found_board(session: Session, board_id: int) -> Board:
    """The row of a board. Raises LaberintoError where there is none."""
    board = session.get(Board, board_id)
    if board is None:
        raise LaberintoError(f"There is no board {board_id}.")
    return board
