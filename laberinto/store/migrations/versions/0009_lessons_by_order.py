"""Lessons may hang on a thickness or on an order."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("lesson")}
    if "thickness" not in there:
        op.add_column("lesson", sa.Column("thickness", sa.Float, nullable=True))
    if "order" not in there:
        op.add_column("lesson", sa.Column("order", sa.String, nullable=False, server_default=""))
