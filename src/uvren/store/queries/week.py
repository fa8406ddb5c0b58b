"""Links to calendars."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import CalendarFeed


def feeds(db: DbSession, squad_id: int) -> list[CalendarFeed]:
    """A squad's links that hold, the newest last."""
    wanted = select(CalendarFeed).where(CalendarFeed.squad_id == squad_id, CalendarFeed.withdrawn_at.is_(None))
    return list(db.scalars(wanted.order_by(CalendarFeed.made_at, CalendarFeed.id)))


def feed_by(db: DbSession, token_digest: str) -> CalendarFeed | None:
    """The link of a token, where it holds."""
    wanted = select(CalendarFeed).where(CalendarFeed.token_digest == token_digest, CalendarFeed.withdrawn_at.is_(None))
    return db.scalars(wanted).one_or_none()
