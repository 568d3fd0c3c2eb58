"""The calendar: what is pinned, and what was found last."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.create_table(
        "calendar_move",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("job", sa.String, nullable=False),
        sa.Column("start", sa.DateTime),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    for column in ("board", "job"):
        op.create_index(f"ix_calendar_move_{column}", "calendar_move", [column], if_not_exists=True)
    op.create_table(
        "calendar",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("key", sa.String, nullable=False),
        sa.Column("data", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
