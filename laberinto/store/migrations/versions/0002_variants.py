"""Names and tokens of revisions, and variants of a board pinned under letters."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    for table, name in (("revision", "name"), ("revision", "token"), ("board", "variant")):
        there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns(table)}
        if name not in there:  # an upgrade that was broken off before upgrades were all or nothing
            op.add_column(table, sa.Column(name, sa.String, nullable=False, server_default=""))
    op.create_table(
        "variant",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("letter", sa.String, nullable=False),
        sa.Column("revision", sa.Integer, sa.ForeignKey("revision.id"), nullable=False),
        sa.UniqueConstraint("board", "letter"),
        if_not_exists=True,
    )
    op.create_index("ix_variant_board", "variant", ["board"], if_not_exists=True)
