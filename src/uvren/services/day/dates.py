"""Days as a squad has them: its own date, and the days of which something is known."""

from __future__ import annotations

from datetime import date, datetime
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.store import queries
from uvren.store.models import (
    Squad,
)


def local_day(squad: Squad, now: datetime) -> date:
    """Today's date where the squad is."""
    return now.astimezone(ZoneInfo(squad.time_zone)).date()


def known_days(db: DbSession, squad: Squad) -> tuple[date | None, date | None]:
    """First and last day with a session."""
    return queries.session.first_day(db, squad.id), queries.session.last_day(db, squad.id)
