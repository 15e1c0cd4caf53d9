"""Alembic's entry: runs migrations against the configured database."""

from alembic import context
from sqlalchemy import create_engine
from sqlmodel import SQLModel

import edge_slice.store.tables  # noqa: F401  (fills the metadata)

connectable = create_engine(context.config.get_main_option("sqlalchemy.url") or "")
with connectable.connect() as connection:
    context.configure(connection=connection, target_metadata=SQLModel.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
