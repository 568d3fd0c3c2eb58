"""Boards, revisions of their plans, ticks and notes of the build, preferences."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "board",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("order_for", sa.String, nullable=False),
        sa.Column("due", sa.DateTime),
        sa.Column("created", sa.DateTime, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
        sa.Column("head", sa.Integer, sa.ForeignKey("revision.id")),
        if_not_exists=True,
    )
    op.create_index("ix_board_name", "board", ["name"], if_not_exists=True)
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("parent", sa.Integer, sa.ForeignKey("revision.id")),
        sa.Column("plan", sa.String, nullable=False),
        sa.Column("words", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_revision_board", "revision", ["board"], if_not_exists=True)
    op.create_table(
        "tick",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("step", sa.String, nullable=False),
        sa.Column("done", sa.DateTime, nullable=False),
        sa.UniqueConstraint("board", "step"),
        if_not_exists=True,
    )
    op.create_index("ix_tick_board", "tick", ["board"], if_not_exists=True)
    op.create_table(
        "note",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("step", sa.String, nullable=False),
        sa.Column("text", sa.String, nullable=False),
        sa.Column("measured", sa.Float),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_note_board", "note", ["board"], if_not_exists=True)
    op.create_table("preference", sa.Column("key", sa.String, primary_key=True), sa.Column("value", sa.String, nullable=False), if_not_exists=True)
