"""Runs the migrations on the database named in the configuration."""

from alembic import context
from sqlalchemy import create_engine

from uvren.store.models import Base

# The queue of background work keeps tables of its own.
QUEUE_TABLES = {"kv", "schedule", "task", "counter"}


def ours(name: str | None, kind: str, _parents: object) -> bool:
    return kind != "table" or name not in QUEUE_TABLES


# An earlier version has no table of marks yet, and nothing that was worked out outlives a migration.
engine = create_engine(context.config.get_main_option("sqlalchemy.url") or "", execution_options={"unmarked": True})
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True, include_name=ours)
    with context.begin_transaction():
        context.run_migrations()
