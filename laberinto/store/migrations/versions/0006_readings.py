"""What was measured, in which unit and of which piece; photos of steps."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("note")}
    for column in (
        sa.Column("quantity", sa.String, nullable=False, server_default=""),
        sa.Column("unit", sa.String, nullable=False, server_default="mm"),
        sa.Column("piece", sa.Integer, nullable=True),
    ):
        if column.name not in there:
            op.add_column("note", column)
    op.create_table(
        "snapshot",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("board", sa.Integer, sa.ForeignKey("board.id", ondelete="CASCADE"), nullable=False),
        sa.Column("step", sa.String, nullable=False),
        sa.Column("jpeg", sa.LargeBinary, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    op.create_index("ix_snapshot_board", "snapshot", ["board"], if_not_exists=True)
