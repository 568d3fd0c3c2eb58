"""Alembic runs this: migrate over the connection handed in, or over a file for ``alembic`` by hand."""

from alembic import context
from sqlmodel import SQLModel

import laberinto.store.tables  # noqa: F401  (registers the tables)

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=SQLModel.metadata, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
