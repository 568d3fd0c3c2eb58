"""Tallies of repeated work, timers, and what was planned where something was measured."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("note")}
    if "planned" not in there:
        op.add_column("note", sa.Column("planned", sa.Float, nullable=True))
    op.create_table(
        "tally",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("step", sa.String, nullable=False),
        sa.Column("count", sa.Integer, nullable=False),
        sa.Column("first", sa.DateTime, nullable=False),
        sa.Column("last", sa.DateTime, nullable=False),
        sa.UniqueConstraint("board", "step"),
        if_not_exists=True,
    )
    op.create_index("ix_tally_board", "tally", ["board"], if_not_exists=True)
    op.create_table(
        "timer",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=True),
        sa.Column("label", sa.String, nullable=False),
        sa.Column("started", sa.DateTime, nullable=False),
        sa.Column("ends", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_timer_board", "timer", ["board"], if_not_exists=True)
