"""Lessons: what a board taught, and when it is said again."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "lesson",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="SET NULL"), nullable=True),
        sa.Column("taught_by", sa.String, nullable=False),
        sa.Column("text", sa.String, nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("machine", sa.String, nullable=False),
        sa.Column("wood", sa.String, nullable=False),
        sa.Column("family", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
