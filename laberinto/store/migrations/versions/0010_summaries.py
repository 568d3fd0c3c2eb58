"""Summaries of boards, so that all of them can be added up."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "summary",
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("shop", sa.String, nullable=False),
        sa.Column("data", sa.String, nullable=False),
        if_not_exists=True,
    )
