"""Pins: faults and fills on the sides of a board."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "pin",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("piece", sa.Integer, nullable=False),
        sa.Column("side", sa.String, nullable=False),
        sa.Column("x", sa.Float, nullable=False),
        sa.Column("y", sa.Float, nullable=False),
        sa.Column("fault", sa.String, nullable=False),
        sa.Column("strip", sa.String, nullable=False),
        sa.Column("wood", sa.String, nullable=False),
        sa.Column("stage", sa.String, nullable=False),
        sa.Column("text", sa.String, nullable=False),
        sa.Column("mended", sa.String, nullable=False),
        sa.Column("minutes", sa.Float, nullable=True),
        sa.Column("photo", sa.Integer, sa.ForeignKey("snapshot.id", ondelete="SET NULL"), nullable=True),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
