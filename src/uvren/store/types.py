"""Column types of our own."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import Dialect
from sqlalchemy.dialects.mysql import CHAR, DATETIME
from sqlalchemy.types import TypeDecorator
from ulid import ULID


class Instant(TypeDecorator[datetime]):
    """A moment, kept in UTC to the microsecond. Refuses a time that does not say its zone."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a moment needs its time zone")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class UlidType(TypeDecorator[str]):
    """A ULID as text: sortable by when it was made, and makeable by a browser without a network.

    Whatever cannot be one is compared as the empty text, which is nobody's; the database refuses to compare it.
    """

    impl = CHAR(26, charset="ascii", collation="ascii_bin")
    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        return value if value is None or value.isascii() else ""


def new_ulid() -> str:
    return str(ULID())
