"""Tables that keep what they held: MariaDB's system versioning, told the club's own time.

Whatever is read from them can be read as it stood at a moment; every session says at the start of a transaction which
moment its writes count from and which moment it reads as of.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import Any, cast

from sqlalchemy import Column, Connection, Engine, MetaData, event, insert, text
from sqlalchemy.orm import Session as DbSession

from uvren.store.database import batches
from uvren.store.models import Base, Call, Entry, Limit, Report
from uvren.store.types import Instant

VERSIONED: tuple[type[Base], ...] = (Entry, Report, Limit, Call)
_WRITTEN, _AS_OF, _PAST = "written_at", "as_of", "past"


def _set(connection: Connection, written_at: datetime | None, as_of: datetime | None) -> None:
    clock = "DEFAULT" if written_at is None else f"{written_at.timestamp():.6f}"
    moment = "DEFAULT" if as_of is None else f"'{as_of.astimezone(UTC):%Y-%m-%d %H:%M:%S.%f}'"
    connection.exec_driver_sql(f"SET timestamp = {clock}, system_versioning_asof = {moment}")


@event.listens_for(DbSession, "after_begin")
def _begin(session: DbSession, _transaction: Any, connection: Connection) -> None:
    # Connections come from a pool: what the one before set is not to be trusted.
    _set(connection, session.info.get(_WRITTEN), session.info.get(_AS_OF))


def _renew(db: DbSession) -> None:
    if db.in_transaction():
        _set(db.connection(), db.info.get(_WRITTEN), db.info.get(_AS_OF))


def written_at(db: DbSession, moment: datetime | None) -> None:
    """Let what the session writes count as known from a moment on; None is the machine's clock."""
    db.info[_WRITTEN] = moment
    _renew(db)


def not_before(db: DbSession, moment: datetime | None) -> datetime:
    """Let what the session writes count from a moment on at the earliest; returns from when it counts."""
    now = db.info.get(_WRITTEN) or datetime.now(UTC)
    if moment is None or moment <= now or tells_the_past(db):
        return cast(datetime, now)
    written_at(db, moment)
    return moment


def tells_the_past(db: DbSession) -> bool:
    return bool(db.info.get(_PAST))


@contextmanager
def telling_the_past(db: DbSession) -> Iterator[None]:
    """For made data: what is written counts from the moment given, also before what is there already."""
    db.info[_PAST] = True
    try:
        yield
    finally:
        db.info[_PAST] = False


def known_at(db: DbSession, moment: datetime | None) -> None:
    """Let the session read versioned tables as they stood at a moment; None is now."""
    db.info[_AS_OF] = moment
    _renew(db)


def is_known_at(db: DbSession) -> datetime | None:
    """The moment as of which a session reads, None for now."""
    moment = db.info.get(_AS_OF)
    return moment if isinstance(moment, datetime) else None


@contextmanager
def known_now(db: DbSession) -> Iterator[None]:
    """Read what is known now for a while, in a session that reads as of a moment."""
    before = is_known_at(db)
    known_at(db, None)
    try:
        yield
    finally:
        known_at(db, before)


def insert_since(db: DbSession, model: type[Base], rows: Sequence[dict[str, Any]], since: str) -> None:
    """Insert rows as :func:`uvren.store.database.insert_many` does, each known from its own moment ``since``."""
    table = model.__table__.to_metadata(MetaData())  # type: ignore[attr-defined]
    table.append_column(Column("row_start", Instant()))
    connection = db.connection()
    connection.exec_driver_sql("SET system_versioning_insert_history = 1")
    try:
        for batch in batches(rows):
            connection.execute(insert(table), [row | {"row_start": row[since]} for row in batch])
    finally:
        connection.exec_driver_sql("SET system_versioning_insert_history = 0")


def purge_history(db: DbSession, model: type[Base], gone: str, **values: Any) -> None:
    """Take rows out of what a table held, for good: those for which the condition ``gone`` (SQL) holds.

    The whole history is written anew: whoever calls it lets every writer wait (``queries.squad.hold_all``).
    """
    name = model.__tablename__
    columns = ", ".join(f"`{column.name}`" for column in model.__table__.columns)
    connection = db.connection()
    connection.execute(
        text(
            f"CREATE OR REPLACE TEMPORARY TABLE kept_history AS SELECT {columns}, row_start, row_end "
            f"FROM `{name}` FOR SYSTEM_TIME ALL WHERE row_end < TIMESTAMP'2038-01-01 00:00:00' AND NOT ({gone})"
        ),
        values,
    )
    connection.exec_driver_sql(f"DELETE HISTORY FROM `{name}`")
    connection.exec_driver_sql("SET system_versioning_insert_history = 1")
    connection.exec_driver_sql(
        f"INSERT INTO `{name}` ({columns}, row_start, row_end) SELECT {columns}, row_start, row_end FROM kept_history"
    )
    connection.exec_driver_sql("SET system_versioning_insert_history = 0")
    connection.exec_driver_sql("DROP TEMPORARY TABLE kept_history")


def truncate(engine: Engine) -> None:
    """Delete every row of every table and all they held, for a fresh start."""
    versioned = {model.__tablename__ for model in VERSIONED}
    with engine.begin() as connection:
        connection.exec_driver_sql("SET FOREIGN_KEY_CHECKS = 0")
        for table in Base.metadata.sorted_tables:
            keeps = table.name in versioned
            if keeps:
                connection.exec_driver_sql(f"ALTER TABLE `{table.name}` DROP SYSTEM VERSIONING")
            # Not DELETE, which the audit refuses.
            connection.exec_driver_sql(f"TRUNCATE TABLE `{table.name}`")
            if keeps:
                connection.exec_driver_sql(f"ALTER TABLE `{table.name}` ADD SYSTEM VERSIONING")
        connection.exec_driver_sql("SET FOREIGN_KEY_CHECKS = 1")
