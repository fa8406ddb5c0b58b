"""A squad's daily loads and sessions as files in open formats."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.series import LoadRow
from uvren.files.loads_csv import EXPORTED, cells
from uvren.files.writing import CalendarEntry, TableFormat, table_chunks, write_calendar
from uvren.services.day.desk import open_desks
from uvren.store import queries
from uvren.store.models import Squad


def daily_loads(db: DbSession, squad: Squad, as_of: date, today: date) -> Iterator[LoadRow]:
    """Every day of every athlete on every channel with limits, rest as 0, through the evening before ``as_of``.

    Today's own day is in it once something is recorded of it, so that the figures of the last day are those on screen.
    """
    for opened in open_desks(db, squad, as_of, today):
        loads = opened.desk.done
        recorded = (loads.values[:, -1] > 0).any() or loads.missing[:, -1].any()
        last = as_of if recorded else as_of - timedelta(days=1)
        assert loads.estimated is not None
        for row, member in enumerate(opened.members):
            for column in range(int(loads.start[row]), loads.column(last) + 1 if last >= loads.first_day else 0):
                missing = loads.missing[row, column]
                yield LoadRow(
                    athlete=member.name,
                    day=loads.date_of(column),
                    channel=opened.channel.code,
                    load=None if missing else float(loads.load[row, column]),
                    estimated=bool(loads.estimated[row, column] > 0),
                )


def loads_table(rows: Iterable[LoadRow], format: TableFormat) -> Iterator[bytes]:
    """Daily loads as a table of a format, piece by piece."""
    return table_chunks(format, EXPORTED, map(cells, rows))


def sessions_calendar(db: DbSession, squad: Squad, today: date, now: datetime) -> tuple[bytes, int]:
    """The sessions of a year around today as iCalendar, and how many they are."""
    year = timedelta(days=365)
    entries = [
        CalendarEntry(
            session.id,
            session.starts_at,
            session.planned_minutes,
            session.name,
            now,
        )
        for session in queries.session.sessions_between(db, squad.id, today - year, today + year)
    ]
    return write_calendar(squad.name, entries), len(entries)
