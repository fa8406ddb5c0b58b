"""Links to calendars, weeks of a block, and templates."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from sqlalchemy import Row, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import CalendarFeed, PlannedWeek, Squad, WeekTemplate


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


def templates(db: DbSession, club_id: int) -> Sequence[Row[WeekTemplate, str]]:
    """A club's templates with the name of the squad they were made in, by their names."""
    wanted = (
        select(WeekTemplate, Squad.name)
        .join(Squad, Squad.id == WeekTemplate.squad_id)
        .where(Squad.club_id == club_id, Squad.gone_at.is_(None), WeekTemplate.gone_at.is_(None))
    )
    return db.execute(wanted.order_by(WeekTemplate.name, WeekTemplate.id)).all()


def template(db: DbSession, club_id: int, template_id: str) -> WeekTemplate | None:
    """A template of a club, also one that was taken away."""
    wanted = select(WeekTemplate).join(Squad, Squad.id == WeekTemplate.squad_id)
    return db.scalars(wanted.where(Squad.club_id == club_id, WeekTemplate.id == template_id)).one_or_none()
