"""Woods of the shop's own, and photos of how they look."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "own_wood",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("data", sa.String, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "wood_photo",
        sa.Column("wood", sa.String, sa.ForeignKey("own_wood.key", ondelete="CASCADE"), primary_key=True),
        sa.Column("part", sa.String, primary_key=True),
        sa.Column("jpeg", sa.LargeBinary, nullable=False),
        sa.Column("corners", sa.String, nullable=False),
        sa.Column("width", sa.Float, nullable=False),
        sa.Column("height", sa.Float, nullable=False),
        sa.Column("finish", sa.String, nullable=False),
        if_not_exists=True,
    )
