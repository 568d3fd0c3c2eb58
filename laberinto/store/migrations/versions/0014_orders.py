"""Orders: what is promised, of one board or several. What a board said of its own becomes an order of that board."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    op.create_table(
        "orders",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("whom", sa.String, nullable=False),
        sa.Column("due", sa.DateTime),
        sa.Column("price", sa.Float),
        sa.Column("state", sa.String, nullable=False),
        sa.Column("note", sa.String, nullable=False),
        sa.Column("created", sa.DateTime, nullable=False),
        sa.Column("since", sa.DateTime, nullable=False),
        if_not_exists=True,
    )
    there = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("board")}
    if "order_id" not in there:
        op.execute("ALTER TABLE board ADD COLUMN order_id INTEGER REFERENCES orders (id)")
        op.create_index("ix_board_order_id", "board", ["order_id"])
    if "order_for" in there:
        state = "CASE WHEN archived IS NULL THEN 'agreed' ELSE 'handed' END"
        said = "order_for <> '' OR due IS NOT NULL"
        op.execute(
            "INSERT INTO orders (id, whom, due, state, note, created, since) "
            f"SELECT id, order_for, due, {state}, '', created, created FROM board WHERE {said}"
        )
        op.execute(f"UPDATE board SET order_id = id WHERE {said}")
        for column in ("order_for", "due"):
            op.execute(f"ALTER TABLE board DROP COLUMN {column}")
