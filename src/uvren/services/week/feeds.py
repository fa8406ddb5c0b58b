"""Calendars by a secret link: a squad's sessions, or one athlete's own, for whatever program keeps a calendar.

Nothing of anybody's health is in them: what is planned, when, and for how long.
"""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.files.writing import CalendarEntry, write_calendar
from uvren.services.club import audit
from uvren.services.club.accounts import digest
from uvren.services.day.dates import local_day
from uvren.services.day.plan import planned_for
from uvren.services.errors import NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import CalendarFeed, Squad
from uvren.store.types import new_ulid

BACK, AHEAD = timedelta(days=28), timedelta(days=180)
GONE = "This calendar is no longer given out. Ask who gave you the link for a new one."


@dataclass(frozen=True)
class Feed:
    """A link that holds; ``athlete_id`` and ``name`` are None for the squad's."""

    id: str
    athlete_id: int | None
    name: str | None
    made_at: datetime


def read_feeds(db: DbSession, squad: Squad, today: date) -> list[Feed]:
    """The links of a squad that hold."""
    names = {one.athlete_id: one.name for one in queries.squad.members(db, squad.id, today)}
    return [
        Feed(one.id, one.athlete_id, None if one.athlete_id is None else names.get(one.athlete_id), one.made_at)
        for one in queries.week.feeds(db, squad.id)
    ]


def make_feed(db: DbSession, squad: Squad, athlete_id: int | None, *, stamp: Stamp) -> str:
    """A new link's token, told only now; one before it for the same holds no longer. Does not commit.

    Raises NotFound.
    """
    if athlete_id is not None and athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    for old in queries.week.feeds(db, squad.id):
        if old.athlete_id == athlete_id:
            old.withdrawn_at = stamp.now
    token = secrets.token_urlsafe(32)
    feed = CalendarFeed(id=new_ulid(), token_digest=digest(token), squad_id=squad.id, athlete_id=athlete_id,
                        made_by=stamp.by, made_at=stamp.now)  # fmt: skip
    db.add(feed)
    audit.note(db, "feed_made", f"feed:{feed.id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    db.flush()
    return token


def withdraw_feed(db: DbSession, squad: Squad, name: str, *, stamp: Stamp) -> None:
    """Let a link hold no longer. Does not commit. Raises NotFound."""
    feed = next((one for one in queries.week.feeds(db, squad.id) if one.id == name), None)
    if feed is None:
        raise NotFound("There is no such link in this squad.")
    feed.withdrawn_at = stamp.now
    audit.note(db, "feed_withdrawn", f"feed:{feed.id}", stamp=stamp, squad_id=squad.id, athlete_id=feed.athlete_id)
    db.flush()


def calendar_of(db: DbSession, token: str, now: datetime) -> bytes:
    """What a link gives. Raises NotFound for one that does not hold, or of somebody who has left."""
    feed = queries.week.feed_by(db, digest(token))
    squad = None if feed is None else db.get(Squad, feed.squad_id)
    if feed is None or squad is None or squad.gone_at is not None:
        raise NotFound(GONE)
    today = local_day(squad, now)
    name = squad.name
    if feed.athlete_id is not None:
        members = {one.athlete_id: one.name for one in queries.squad.members(db, squad.id, today)}
        if feed.athlete_id not in members:
            raise NotFound(GONE)
        name = f"{squad.name}, {members[feed.athlete_id]}"
    return write_calendar(name, _entries(db, squad, feed.athlete_id, today))


def _entries(db: DbSession, squad: Squad, athlete_id: int | None, today: date) -> Iterator[CalendarEntry]:
    sessions = queries.session.sessions_between(db, squad.id, today - BACK, today + AHEAD)
    own = {
        row.session_id: row
        for row in queries.day.own_plans(db, [one.id for one in sessions] if athlete_id is not None else [])
        if row.athlete_id == athlete_id
    }
    for one in sessions:
        minutes, _ = planned_for(one, own.get(one.id))
        if minutes > 0:
            # The same moment each time nothing has changed, so that nobody's program thinks it has.
            changed = datetime(2000, 1, 1, tzinfo=UTC) + timedelta(seconds=one.version)
            yield CalendarEntry(one.id, one.starts_at, minutes, one.name, changed)
