"""What every page and every edit asks, put together once: building a statement takes longer than SQLite's answer."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Integer, Select, bindparam, case, func, insert, select, update
from sqlalchemy.orm import aliased
from sqlmodel import col

from .tables import Acknowledgement, Board, OrderRow, Preference, Revision, Tick, Variant
from .views import OrderState

_BOARD = bindparam("board_id", type_=Integer)

_later = aliased(Revision)
_made_from_head = (
    select(func.max(col(_later.id)))
    .where(col(_later.board) == col(Board.id), col(_later.parent) == col(Board.head))
    .scalar_subquery()
)

_promised = case((col(OrderRow.state) == OrderState.AGREED.value, col(OrderRow.due)))
_handed = col(OrderRow.state) == OrderState.HANDED.value

HEADS: Select[*tuple[Any, ...]] = (
    select(
        col(Board.id), col(Board.name), col(Board.order_id), col(OrderRow.whom), _promised.label("due"),
        _handed.label("handed"),
        col(Board.created), col(Board.changed), col(Board.variant), col(Board.archived), col(Board.removed),
        col(Revision.id).label("revision"), col(Revision.parent), col(Revision.words), col(Revision.plan),
        _made_from_head.label("redo"),
    )
    .select_from(Board)
    .join(Revision, col(Revision.id) == col(Board.head))
    .outerjoin(OrderRow, col(OrderRow.id) == col(Board.order_id))
    .order_by(col(Board.changed).desc(), col(Board.id).desc())
)  # fmt: skip
"""Each board with the revision on show and the newest one made from that, the last changed first."""

_removed, _archived = col(Board.removed).is_not(None), col(Board.archived).is_not(None)

ON_SHELF = {
    "bench": HEADS.where(~_removed, ~_archived), "archive": HEADS.where(~_removed, _archived),
    "removed": HEADS.where(_removed),
}  # fmt: skip
"""The same of those that lie on a shelf, by its name."""

_shelf = case((_removed, "removed"), (_archived, "archive"), else_="bench")
COUNTS = select(_shelf, func.count()).group_by(_shelf)
"""How many boards lie on each shelf."""

BEGUN = select(col(Tick.board)).distinct()

HEAD = HEADS.where(col(Board.id) == _BOARD)
"""The same of one board, by ``board_id``."""

VARIANTS = select(col(Variant.board), col(Variant.letter), col(Variant.revision)).order_by(col(Variant.letter))
"""The variants of all boards, by letter."""

VARIANTS_OF = VARIANTS.where(col(Variant.board) == _BOARD)

ADD = insert(Revision)

ADVANCE = (
    update(Board)
    .where(col(Board.id) == _BOARD, col(Board.head) == bindparam("based_on"))
    .values(head=bindparam("revision"), name=bindparam("called"), changed=bindparam("at"))
)
"""Show another revision, if ``based_on`` is the one on show: compared and changed in one statement, so that of two
edits at once only one goes through."""

FOLLOW = (
    update(Variant)
    .where(col(Variant.board) == _BOARD, col(Variant.letter) == bindparam("which"))
    .values(revision=bindparam("now_at"))
)
"""The variant being worked on goes along with the head."""

PREFERENCES = select(col(Preference.key), col(Preference.value))

TICKS = select(col(Tick.step), col(Tick.done)).where(col(Tick.board) == _BOARD)

STANDING = select(
    col(Acknowledgement.key), col(Acknowledgement.why), col(Acknowledgement.reason), col(Acknowledgement.created)
).where(col(Acknowledgement.board) == _BOARD)

_path = (
    select(col(Revision.parent), col(Revision.words))
    .join(Board, col(Board.head) == col(Revision.id))
    .where(col(Board.id) == _BOARD)
    .cte("path", recursive=True)
)
PATH = select(
    _path.union_all(select(col(Revision.parent), col(Revision.words)).where(col(Revision.id) == _path.c.parent))
)
"""Revisions from the head of a board back to its first: the one before, and words."""
