"""Boards that are put away, or removed but not yet gone."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("board")}
    for name in ("archived", "removed"):
        if name not in there:
            op.add_column("board", sa.Column(name, sa.DateTime, nullable=True))
