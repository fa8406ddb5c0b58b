"""Sessions: the days around a day, and the grid of who did what in one session."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core.calendar import match_offset
from uvren.core.ratings import Origin
from uvren.services.entries import Estimate, estimates_for
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import Entry, Session, SessionKind, Squad
from uvren.store.queries import Member

SPINE_DAYS = 10
OFFSET_REACH = 10


@dataclass(frozen=True)
class SpineDay:
    """A day of the spine: its sessions, how many ratings they lack, and how far it is from a match."""

    day: date
    offset: int | None
    sessions: list[Session]
    unrated: dict[str, int]


def read_spine(db: DbSession, squad: Squad, around: date) -> list[SpineDay]:
    """Three weeks of days around a day."""
    first, last = around - timedelta(days=SPINE_DAYS), around + timedelta(days=SPINE_DAYS)
    reach = timedelta(days=OFFSET_REACH)
    sessions = queries.sessions_between(db, squad.id, first - reach, last + reach)
    matches = {session.day for session in sessions if session.kind is SessionKind.MATCH}
    unrated = queries.unrated_counts(db, [session.id for session in sessions if session.done])
    days = [first + timedelta(days=i) for i in range((last - first).days + 1)]
    return [SpineDay(day, match_offset(day, matches), [s for s in sessions if s.day == day], unrated) for day in days]


@dataclass(frozen=True)
class GridRow:
    """An athlete's line in the grid. ``entry`` is None where nothing was planned or said for them."""

    member: Member
    entry: Entry | None
    load: float | None
    origin: Origin | None
    estimate: Estimate | None
    how: str


@dataclass(frozen=True)
class Grid:
    session: Session
    rows: list[GridRow]


def find_session(db: DbSession, squad: Squad, session_id: str) -> Session:
    session = db.get(Session, session_id)
    if session is None or session.squad_id != squad.id:
        raise NotFound("There is no such session in this squad.")
    return session


def read_grid(db: DbSession, squad: Squad, session_id: str) -> Grid:
    """Everyone in the squad on the session's day, with what they did in it."""
    session = find_session(db, squad, session_id)
    entries = {entry.athlete_id: entry for entry in db.scalars(select(Entry).where(Entry.session_id == session.id))}
    estimates = estimates_for(db, squad.id, session) if session.done else {}
    rows = []
    for member in queries.members(db, squad.id, session.day):
        entry = entries.get(member.athlete_id)
        origin, estimate, how = estimates.get(member.athlete_id, (None, None, ""))
        load = None
        if entry is not None and entry.minutes is not None and (entry.effort is not None or entry.minutes == 0):
            load = 0.0 if entry.minutes == 0 else entry.minutes * (entry.effort or 0.0)
            origin = Origin.MEASURED
        rows.append(GridRow(member, entry, load, None if origin is None else Origin(origin), estimate, how))
    return Grid(session, rows)


def last_session_before(db: DbSession, squad: Squad, day: date, now: datetime, today: date) -> Session:
    """The session the grid opens on: the last one begun by now, or, for a past day, by the evening before it.

    Raises NotFound when there is none yet.
    """
    last = day if day >= today else day - timedelta(days=1)
    found = db.scalars(
        select(Session)
        .where(Session.squad_id == squad.id, Session.day <= last, Session.starts_at <= now)
        .order_by(Session.starts_at.desc())
        .limit(1)
    ).first()
    if found is None:
        raise NotFound("No session has begun by then.")
    return found
