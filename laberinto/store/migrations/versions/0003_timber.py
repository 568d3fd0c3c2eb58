"""The timber store with its cuts, and findings that were acknowledged."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "cut",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("state", sa.String, nullable=False),
        sa.Column("plan", sa.String, nullable=False),
        sa.Column("took", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_cut_board", "cut", ["board"], if_not_exists=True)
    op.create_table(
        "lot",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("wood", sa.String, nullable=False),
        sa.Column("count", sa.Integer, nullable=False),
        sa.Column("length", sa.Float, nullable=False),
        sa.Column("width", sa.Float, nullable=False),
        sa.Column("thickness", sa.Float, nullable=False),
        sa.Column("moisture", sa.Float),
        sa.Column("price", sa.Float),
        sa.Column("radius", sa.Float),
        sa.Column("place", sa.String, nullable=False, server_default=""),
        sa.Column("note", sa.String, nullable=False, server_default=""),
        sa.Column("defects", sa.String, nullable=False, server_default="[]"),
        sa.Column("cut", sa.Integer, sa.ForeignKey("cut.id", ondelete="SET NULL")),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_lot_wood", "lot", ["wood"], if_not_exists=True)
    op.create_table(
        "photo",
        sa.Column("lot", sa.Integer, sa.ForeignKey("lot.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("jpeg", sa.LargeBinary, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "acknowledgement",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("key", sa.String, nullable=False),
        sa.Column("why", sa.String, nullable=False),
        sa.Column("reason", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        sa.UniqueConstraint("board", "key"),
        if_not_exists=True,
    )
    op.create_index("ix_acknowledgement_board", "acknowledgement", ["board"], if_not_exists=True)
