"""Names and tokens of revisions, and variants of a board pinned under letters."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("revision", sa.Column("name", sa.String, nullable=False, server_default=""))
    op.add_column("revision", sa.Column("token", sa.String, nullable=False, server_default=""))
    op.add_column("board", sa.Column("variant", sa.String, nullable=False, server_default=""))
    op.create_table(
        "variant",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("letter", sa.String, nullable=False),
        sa.Column("revision", sa.Integer, sa.ForeignKey("revision.id"), nullable=False),
        sa.UniqueConstraint("board", "letter"),
    )
    op.create_index("ix_variant_board", "variant", ["board"])
