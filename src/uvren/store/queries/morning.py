"""Calls, and words beside them."""

from __future__ import annotations

from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import (
    Call,
    Entry,
    Report,
    Session,
    User,
)


def calls_on(db: DbSession, squad_id: int, day: date) -> dict[int, tuple[Call, str]]:
    """The call that stands for each athlete on the day, with its maker's name."""
    rows = db.execute(
        select(Call, User.name)
        .join(User, User.id == Call.made_by)
        .where(Call.squad_id == squad_id, Call.day == day, Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {call.athlete_id: (call, name) for call, name in rows}


def words_of(db: DbSession, squad_id: int, athlete_id: int, first: date, last: date) -> list[tuple[date, str]]:
    """(day, words) that an athlete gave with reports that count, or with ratings, newest first."""
    reports = db.execute(
        select(Report.day, Report.words).where(
            Report.squad_id == squad_id, Report.athlete_id == athlete_id, Report.day.between(first, last),
            Report.counts, Report.words.is_not(None),
        )
    )  # fmt: skip
    ratings = db.execute(
        select(Session.day, Entry.words)
        .join(Session, Session.id == Entry.session_id)
        .where(
            Session.squad_id == squad_id, Entry.athlete_id == athlete_id, Session.day.between(first, last),
            Entry.words.is_not(None), Entry.words != "",
        )
    )  # fmt: skip
    found = {(day, words) for day, words in (*reports, *ratings) if words}
    return sorted(found, reverse=True)


def calls_between(db: DbSession, squad_id: int, first: date, last: date) -> dict[tuple[int, date], Call]:
    """The call that stands for each (athlete, day)."""
    rows = db.scalars(
        select(Call)
        .where(Call.squad_id == squad_id, Call.day.between(first, last), Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {(call.athlete_id, call.day): call for call in rows}


def last_calls(db: DbSession, squad_id: int, day: date) -> dict[int, Call]:
    """The last call of each athlete up to a day."""
    newest = (
        select(Call.athlete_id, func.max(Call.day).label("day"))
        .where(Call.squad_id == squad_id, Call.withdrawn_at.is_(None), Call.day <= day)
        .group_by(Call.athlete_id)
        .subquery()
    )
    found = db.scalars(
        select(Call)
        .join(newest, (newest.c.athlete_id == Call.athlete_id) & (newest.c.day == Call.day))
        .where(Call.squad_id == squad_id, Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {call.athlete_id: call for call in found}
