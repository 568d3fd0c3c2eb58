"""Readings at several places of a piece are kept one by one."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("note")}
    if "spots" not in there:
        op.add_column("note", sa.Column("spots", sa.String, nullable=False, server_default=""))
