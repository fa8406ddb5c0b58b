"""Calls, and words beside them."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, datetime

from sqlalchemy import func, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.core.day import CallKind
from uvren.store.models import (
    Call,
    CoachSheet,
    Entry,
    Note,
    Report,
    SavedView,
    Session,
    User,
)
from uvren.store.types import new_ulid


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


def calls_of(db: DbSession, ids: Collection[str]) -> dict[str, Call]:
    """Calls by their identifiers, whether they stand or not."""
    return {call.id: call for call in db.scalars(select(Call).where(Call.id.in_(ids)))}


def referrals(db: DbSession, squad_id: int, first: date, last: date) -> list[Call]:
    """Calls that referred someone and still stand, newest first."""
    return list(
        db.scalars(
            select(Call)
            .where(
                Call.squad_id == squad_id,
                Call.kind == CallKind.REFER,
                Call.day.between(first, last),
                Call.withdrawn_at.is_(None),
            )
            .order_by(Call.made_at.desc())
        )
    )


def notes_of(db: DbSession, squad_id: int, athlete_id: int, until: date, audiences: Collection[Audience]) -> list[Note]:
    """Notes up to a day that these audiences may read, newest first."""
    query = select(Note).where(
        Note.squad_id == squad_id,
        Note.athlete_id == athlete_id,
        Note.day <= until,
        Note.audience.in_(audiences),
        Note.withdrawn_at.is_(None),
    )
    return list(db.scalars(query.order_by(Note.day.desc(), Note.made_at.desc())))


def last_sheet(db: DbSession, squad_id: int, day: date) -> CoachSheet | None:
    """The newest version of a day's sheet."""
    where = (CoachSheet.squad_id == squad_id, CoachSheet.day == day)
    return db.scalar(select(CoachSheet).where(*where).order_by(CoachSheet.version.desc()).limit(1))


def views_of(db: DbSession, squad_id: int, user_id: int) -> list[SavedView]:
    query = select(SavedView).where(SavedView.squad_id == squad_id, SavedView.user_id == user_id)
    return list(db.scalars(query.order_by(SavedView.name)))


def set_view(db: DbSession, squad_id: int, user_id: int, name: str, query: str, now: datetime) -> None:
    """Save a view; one of the same name is replaced."""
    values = {"query": query, "made_at": now}
    statement = insert(SavedView).values(id=new_ulid(), squad_id=squad_id, user_id=user_id, name=name, **values)
    db.execute(statement.on_duplicate_key_update(values))
