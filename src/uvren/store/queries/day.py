"""What a day is worked out from: loads, plans, ratings and reports, row by row."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Sequence
from datetime import date, datetime
from typing import Any

import numpy as np
from sqlalchemy import Row, Text, delete, func, or_, select, type_coerce
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession

from uvren.core.reports import ReportKind
from uvren.core.windows import Floats
from uvren.store.changes import whole_squads
from uvren.store.database import batches
from uvren.store.models import (
    STANDING_MARKS,
    Channel,
    DailyLoad,
    DayMark,
    DayMarkKind,
    Entry,
    LighterWeek,
    Membership,
    Report,
    Session,
    SessionKind,
)

# (athlete, kind, day, answers)
AnswersOfDay = tuple[int, ReportKind, date, dict[str, Any]]


def daily_loads(
    db: DbSession, channel_ids: Collection[int], athletes: Collection[int], until: date, since: date | None = None
) -> Floats:
    """Rows of channel, athlete, day (an ordinal), load (nan: missing) and estimate, shape (n, 5).

    From ``since``, or the first day, through ``until``.
    """
    # The server counts from a day 365 earlier than Python does.
    ordinal = (func.to_days(DailyLoad.day) - 365).label("ordinal")
    statement = select(DailyLoad.channel_id, DailyLoad.athlete_id, ordinal, DailyLoad.load, DailyLoad.estimated).where(
        DailyLoad.channel_id.in_(channel_ids), DailyLoad.athlete_id.in_(athletes), DailyLoad.day <= until
    )
    if since is not None:
        statement = statement.where(DailyLoad.day >= since)
    # Tens of thousands of rows are taken as the driver has them, without an object for each.
    cursor = db.connection().execute(statement).cursor
    assert cursor is not None
    rows = np.array(cursor.fetchall(), dtype=np.float64).reshape(-1, 5)
    return _with_unknown_days(db, rows, channel_ids, athletes, until, since)


def _with_unknown_days(
    db: DbSession, rows: Floats, channel_ids: Collection[int], athletes: Collection[int], until: date,
    since: date | None,
) -> Floats:  # fmt: skip
    """The rows, and one without a load for each athlete and day of which it is said that it is not known."""
    marks = (
        select(Channel.id, Membership.athlete_id, DayMark.day)
        .join(DayMark, DayMark.squad_id == Channel.squad_id)
        .join(Membership, Membership.squad_id == Channel.squad_id)
        .where(
            Channel.id.in_(channel_ids), Membership.athlete_id.in_(athletes), DayMark.mark == DayMarkKind.UNKNOWN,
            DayMark.day <= until, DayMark.day >= Membership.from_day, STANDING_MARKS,
            or_(Membership.to_day.is_(None), DayMark.day <= Membership.to_day),
        )
    )  # fmt: skip
    found = db.execute(marks if since is None else marks.where(DayMark.day >= since)).all()
    if not found:
        return rows
    there = set(map(tuple, rows[:, :3].astype(np.int64).tolist()))
    more = [(channel, athlete, day.toordinal(), np.nan, 0.0) for channel, athlete, day in found
            if (channel, athlete, day.toordinal()) not in there]  # fmt: skip
    return np.concatenate([rows, np.array(more, dtype=np.float64).reshape(-1, 5)])


@whole_squads
def plan(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, date, SessionKind, float, float, str | None, bool]]:
    """(session, day, kind, minutes, effort, place, done) of the squad's sessions."""
    return db.execute(
        select(
            Session.id,
            Session.day,
            Session.kind,
            Session.planned_minutes,
            Session.planned_effort,
            Session.place,
            Session.done,
        ).where(Session.squad_id == squad_id, Session.day.between(first, last))
    ).all()


def own_plans(
    db: DbSession, session_ids: Collection[str]
) -> Sequence[Row[str, int, float | None, float | None, dict[str, Any] | None, float | None]]:
    """(session, athlete, planned minutes, planned effort, planned loads, minutes) where an athlete has an entry."""
    if not session_ids:
        return []
    return db.execute(
        select(
            Entry.session_id,
            Entry.athlete_id,
            Entry.planned_minutes,
            Entry.planned_effort,
            Entry.planned_loads,
            Entry.minutes,
        ).where(Entry.session_id.in_(session_ids))
    ).all()


def lighter_weeks(db: DbSession, squad_id: int, first: date, last: date) -> list[LighterWeek]:
    """Lighter weeks that begin within some days and stand, in order of time."""
    wanted = select(LighterWeek).where(
        LighterWeek.squad_id == squad_id, LighterWeek.from_day.between(first, last), LighterWeek.withdrawn_at.is_(None)
    )
    return list(db.scalars(wanted.order_by(LighterWeek.from_day, LighterWeek.id)))


def lighter_week(db: DbSession, squad_id: int, name: str) -> LighterWeek | None:
    return db.scalars(select(LighterWeek).where(LighterWeek.squad_id == squad_id, LighterWeek.id == name)).one_or_none()


def _of(statement: Any, column: Any, athletes: Collection[int] | None) -> Any:
    """A query of some athletes only; of everybody where they are not given."""
    return statement if athletes is None else statement.where(column.in_(athletes))


def done_minutes(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int] | None = None
) -> Sequence[Row[int, date, SessionKind, float | None, float | None, str | None]]:
    """(athlete, day, kind, minutes, effort, place) of what was done in the squad's sessions."""
    wanted = (
        select(Entry.athlete_id, Session.day, Session.kind, Entry.minutes, Entry.effort, Session.place)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
    )
    return db.execute(_of(wanted, Entry.athlete_id, athletes)).all()


def unrated_between(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int]
) -> Sequence[Row[int, date, SessionKind, float, float | None, str | None]]:
    """(athlete, day, kind, minutes, effort, place) of everyone who took part, or may have, in what was done.

    Minutes are those planned where nobody has said how many it were.
    """
    minutes = func.coalesce(Entry.minutes, Entry.planned_minutes, Session.planned_minutes)
    return db.execute(
        select(Entry.athlete_id, Session.day, Session.kind, minutes, Entry.effort, Session.place)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done, minutes > 0)
        .where(Entry.athlete_id.in_(athletes))
    ).all()


@whole_squads
def hours_between(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[date, SessionKind, datetime, float]]:
    """(day, kind, start, planned minutes) of the squad's sessions."""
    return db.execute(
        select(Session.day, Session.kind, Session.starts_at, Session.planned_minutes).where(
            Session.squad_id == squad_id, Session.day.between(first, last)
        )
    ).all()


def efforts_between(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int]
) -> Sequence[Row[int, date, SessionKind, float, float | None, float | None]]:
    """(athlete, day, kind, planned effort, effort, minutes) of what was done, in order of time."""
    return db.execute(
        select(
            Entry.athlete_id,
            Session.day,
            Session.kind,
            func.coalesce(Entry.planned_effort, Session.planned_effort),
            Entry.effort,
            Entry.minutes,
        )
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
        .where(Entry.athlete_id.in_(athletes))
        .order_by(Session.starts_at)
    ).all()


def reports_between(
    db: DbSession, squad_id: int, kinds: Collection[ReportKind], first: date, last: date, athletes: Collection[int]
) -> list[AnswersOfDay]:
    """(athlete, kind, day, answers) of the reports that count."""
    rows = db.execute(
        select(Report.athlete_id, Report.kind, Report.day, type_coerce(Report.answers, Text)).where(
            Report.squad_id == squad_id,
            Report.athlete_id.in_(athletes),
            Report.kind.in_(kinds),
            Report.day.between(first, last),
            Report.counts,
        )
    ).all()
    # Thousands of small documents are read as one.
    documents = json.loads(f"[{','.join(text for *_, text in rows)}]")
    return [(athlete, kind, day, answers) for (athlete, kind, day, _), answers in zip(rows, documents, strict=True)]


def set_daily_loads(db: DbSession, rows: Sequence[dict[str, Any]]) -> None:
    """Write loads of days: (channel_id, athlete_id, day, load, estimated, sessions)."""
    statement = insert(DailyLoad.__table__)  # type: ignore[arg-type]
    statement = statement.on_duplicate_key_update(
        load=statement.inserted.load, estimated=statement.inserted.estimated, sessions=statement.inserted.sessions
    )
    for batch in batches(rows):
        # On the connection: as one statement the driver sends, not one that is built value by value.
        db.connection().execute(statement, list(batch))


def days_with_load(db: DbSession, channel_id: int, first: date, last: date) -> Sequence[Row[int, date]]:
    """(athlete, day) that have a load on a channel."""
    where = (DailyLoad.channel_id == channel_id, DailyLoad.day.between(first, last))
    return db.execute(select(DailyLoad.athlete_id, DailyLoad.day).where(*where)).all()


def remove_daily_loads(db: DbSession, channel_id: int, pairs: Sequence[tuple[int, date]]) -> None:
    """Take away the loads of (athlete, day)."""
    days: dict[int, list[date]] = defaultdict(list)
    for athlete, day in pairs:
        days[athlete].append(day)
    # Of each athlete by days: thousands of pairs in one list are looked through one by one.
    for athlete, own in days.items():
        for batch in batches(own):
            mine = (DailyLoad.channel_id == channel_id, DailyLoad.athlete_id == athlete)
            db.execute(delete(DailyLoad).where(*mine, DailyLoad.day.in_(batch)))
