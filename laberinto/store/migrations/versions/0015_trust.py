"""Trust: a trash for lots and photos, devices that were let in, boards built elsewhere; and what a deleted board is
looked up by, without which letting go of five thousand changes took five thousand searches of them all."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"

INDEXES = (("board", "head"), ("revision", "parent"), ("variant", "revision"))


def upgrade() -> None:
    op.create_table(
        "trash",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), index=True),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("data", sa.String, nullable=False),
        sa.Column("jpeg", sa.LargeBinary),
        sa.Column("removed", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_table(
        "device",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("token", sa.String, nullable=False, unique=True),
        sa.Column("may", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        sa.Column("seen", sa.DateTime, nullable=False),
        sa.Column("until", sa.DateTime),
        if_not_exists=True,
    )
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("board")}
    if "elsewhere" not in there:
        op.execute("ALTER TABLE board ADD COLUMN elsewhere BOOLEAN NOT NULL DEFAULT 0")
    for table, column in INDEXES:
        op.create_index(f"ix_{table}_{column}", table, [column], if_not_exists=True)
