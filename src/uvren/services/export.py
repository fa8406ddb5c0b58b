"""A squad's daily loads as records for a file."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.series import LoadRow
from uvren.services.desk import open_desks
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
