"""Links to calendars, and weeks of a block."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import CalendarFeed, PlannedWeek


def feeds(db: DbSession, squad_id: int) -> list[CalendarFeed]:
    """A squad's links that hold, the newest last."""
    wanted = select(CalendarFeed).where(CalendarFeed.squad_id == squad_id, CalendarFeed.withdrawn_at.is_(None))
    return list(db.scalars(wanted.order_by(CalendarFeed.made_at, CalendarFeed.id)))


def feed_by(db: DbSession, token_digest: str) -> CalendarFeed | None:
    """The link of a token, where it holds."""
    wanted = select(CalendarFeed).where(CalendarFeed.token_digest == token_digest, CalendarFeed.withdrawn_at.is_(None))
    return db.scalars(wanted).one_or_none()


def planned_weeks(db: DbSession, squad_id: int, first: date, last: date) -> list[PlannedWeek]:
    """Weeks of blocks that begin within some days, in order of time."""
    wanted = select(PlannedWeek).where(PlannedWeek.squad_id == squad_id, PlannedWeek.first_day.between(first, last))
    return list(db.scalars(wanted.order_by(PlannedWeek.first_day)))
