"""Alembic's entry: runs migrations against the configured database."""

from alembic import context
from sqlalchemy import create_engine
from sqlmodel import SQLModel

import edge_slice.store.marks
import edge_slice.store.people
import edge_slice.store.review
import edge_slice.store.tables  # noqa: F401  (all fill the metadata)

QUEUE = "procrastinate_"  # what is called so belongs to the queue, and is compared with its library's own schema


def _ours(thing: object, name: str | None, kind: str, reflected: bool, compared: object) -> bool:
    return not (kind == "table" and (name or "").startswith(QUEUE))


connectable = create_engine(context.config.get_main_option("sqlalchemy.url") or "")
with connectable.connect() as connection:
    context.configure(
        connection=connection, target_metadata=SQLModel.metadata, compare_type=True, compare_server_default=True,
        include_object=_ours,
    )  # fmt: skip
    with context.begin_transaction():
        context.run_migrations()
