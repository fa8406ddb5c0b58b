"""Sessions: the days around a day, and the grid of who did what in one session."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import LEAST, Audience
from uvren.core.calendar import match_offset
from uvren.core.ratings import OWN_DAYS, Origin
from uvren.core.units import EffortMinutes
from uvren.services.day.kept import standing_on
from uvren.services.day.loads import KNOWN, Done, channel_loads, definition_on, definitions_of
from uvren.services.day.plan import planned_for
from uvren.services.day.standing import PLANNED
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import Entry, Session, SessionKind, Squad
from uvren.store.queries.squad import Member

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
    sessions = queries.session.sessions_between(db, squad.id, first - reach, last + reach)
    matches = {session.day for session in sessions if session.kind is SessionKind.MATCH}
    unrated = queries.session.unrated_counts(db, [session.id for session in sessions if session.done])
    days = [first + timedelta(days=i) for i in range((last - first).days + 1)]
    return [SpineDay(day, match_offset(day, matches), [s for s in sessions if s.day == day], unrated) for day in days]


@dataclass(frozen=True)
class Estimate:
    """A load that stands in for a missing one. ``effort`` is the rating it rests on, or load a minute."""

    effort: float
    load: float


@dataclass(frozen=True)
class GridRow:
    """An athlete's line in the grid. ``entry`` is None where nothing was planned or said for them.

    ``called`` is what stands for them that day, without why.
    """

    member: Member
    entry: Entry | None
    called: str = ""
    load: float | None = None
    origin: Origin | None = None
    estimate: Estimate | None = None
    how: str = ""


@dataclass(frozen=True)
class Grid:
    """A session with everyone in it.

    ``factor`` is what the session's place makes of minutes x effort on the main channel; None where the main channel
    is worked out from something else than the rating.
    """

    session: Session
    rows: list[GridRow]
    factor: float | None


def find_session(db: DbSession, squad: Squad, session_id: str) -> Session:
    session = queries.session.any_session(db, session_id)
    if session is None or session.squad_id != squad.id:
        raise NotFound("There is no such session in this squad.")
    if session.called_off is not None:
        raise NotFound(f"{session.name} on {say.day(session.day)} was called off: {session.called_off}")
    return session


def explain(origin: Origin, n: int, effort: float, minutes: float, factor: float | None, kind: str) -> str:
    """How an estimate was made, in words; empty for what is measured."""
    if origin is Origin.MEASURED:
        return ""
    if origin is Origin.GIVEN:
        return "As a file gave it; it is not worked out from minutes and effort."
    if np.isnan(minutes):
        return "Unknown: no minutes yet. Not counted as rest."
    what = "ratings" if factor is not None else "loads a minute"
    if origin is Origin.MISSING:
        return f"Unknown: fewer than 3 {what} to go by. Not counted as rest."
    whose = f"own median of {n} {kind} {what}" if origin is Origin.OWN_MEDIAN else f"median of {n} teammates"
    place = "" if factor in (None, 1) else f" × {factor:g} for the place"
    return f"Estimated: {whose} is {effort:.3g}, × {minutes:g} min{place}."


def read_grid(
    db: DbSession, squad: Squad, session_id: str, today: date, audiences: frozenset[Audience] = LEAST
) -> Grid:
    """Everyone in the squad on the session's day, with what they did in it and its load on the main channel."""
    session = find_session(db, squad, session_id)
    entries = {entry.athlete_id: entry for entry in queries.session.entries_of(db, [session.id])}
    main = queries.squad.main_channel(db, squad.id)
    definitions = definitions_of(main)
    definition = definition_on(definitions, session.day)
    rated = definition is None or isinstance(definition.form, EffortMinutes)
    factor = float(definition.form.factor([session.place])[0]) if definition else 1.0
    done = Done(db, squad.id, session.day - timedelta(days=OWN_DAYS), session.day)
    loads = channel_loads(done, main.code, definitions)
    filled = loads.filled
    standing = standing_on(db, squad, session.day, today)
    others = [
        one for one in queries.session.sessions_between(db, squad.id, session.day, session.day) if one.id != session.id
    ]
    rest_of_day = sum(one.planned_minutes for one in others)
    rows = []
    for member in queries.squad.members(db, squad.id, session.day):
        entry = entries.get(member.athlete_id)
        minutes_of_day = planned_for(session, entry)[0] + rest_of_day
        called = standing.get(member.athlete_id, PLANNED).said(audiences, minutes_of_day)
        i = done.index.get((session.id, member.athlete_id))
        if i is None:
            rows.append(GridRow(member, entry, called))
            continue
        if not loads.expected[i]:
            rows.append(GridRow(member, entry, called, None, Origin.MEASURED))
            continue
        origin = Origin(int(filled.origin[i]))
        load, effort, minutes = float(filled.load[i]), float(filled.effort[i]), float(done.entries.minutes[i])
        how = explain(origin, int(filled.n[i]), effort, minutes, factor if rated else None, session.kind)
        if origin in KNOWN:
            rows.append(GridRow(member, entry, called, load, origin, how=how))
        else:
            estimate = None if np.isnan(load) else Estimate(effort, load)
            rows.append(GridRow(member, entry, called, None, origin, estimate, how))
    return Grid(session, rows, factor if rated else None)


def last_session_before(db: DbSession, squad: Squad, day: date, now: datetime, today: date) -> Session:
    """The session the grid opens on: the last one begun by now, or, for a past day, by the evening before it.

    Raises NotFound when there is none yet.
    """
    last = day if day >= today else day - timedelta(days=1)
    found = queries.session.last_begun(db, squad.id, last, now)
    if found is None:
        raise NotFound("No session has begun by then.")
    return found
