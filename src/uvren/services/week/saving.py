"""Everybody's own minutes in sessions still to come."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.club import audit
from uvren.services.day.plan import loads_followed
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.services.versions import check_seen
from uvren.services.week.reading import DAYS, LONGEST, edition_of
from uvren.store import queries
from uvren.store.models import Besides, Entry, Session, Source, Squad
from uvren.store.types import new_ulid

WEEK = timedelta(days=DAYS - 1)

Own = Mapping[tuple[int, str], float | None]


def check_edition(db: DbSession, squad: Squad, first: date, edition: str) -> list[Session]:
    """The sessions of a week, held for a change of it. Raises Stale where its plan is another than was seen."""
    queries.squad.hold(db, squad.id)
    sessions = queries.session.sessions_between(db, squad.id, first, first + WEEK)
    check_seen(edition, edition_of(db, sessions), "Somebody planned this week meanwhile.", yours={}, theirs={})
    return sessions


def own_plans(db: DbSession, sessions: list[str]) -> dict[tuple[int, str], float | None]:
    """Minutes that athletes have of their own in these sessions; None where an entry has none."""
    return {(row.athlete_id, row.session_id): row.planned_minutes for row in queries.day.own_plans(db, sessions)}


def plan_own(
    db: DbSession,
    squad: Squad,
    own: Own,
    *,
    stamp: Stamp,
    loads: Mapping[tuple[int, str], Mapping[str, float]] = {},
    efforts: Mapping[tuple[int, str], float | None] = {},
) -> None:
    """Plan minutes for athletes in sessions still to come; None is as many as the session's. Does not commit.

    ``efforts`` are what they are planned at, None for as the session; ``loads`` what such minutes come to by the code
    of a channel, where that is known better than by the usual rate.

    Raises NotFound for a session or an athlete of another squad, Invalid for what was done already.
    """
    queries.squad.hold(db, squad.id)
    ids = {session for _, session in own}
    sessions = queries.session.sessions_of(db, squad.id, list(ids))
    members = queries.squad.members_ever(db, squad.id)
    there = {(one.athlete_id, one.session_id): one for one in queries.session.entries_of(db, list(ids))}
    for (athlete, name), minutes in own.items():
        session = sessions.get(name)
        if session is None or athlete not in members:
            raise NotFound("There is no such session or athlete in this squad.", field="own")
        if session.done:
            raise Invalid(f"{session.name} on {say.day(session.day)} was done already.", field="own")
        if minutes is not None and not 0 <= minutes <= LONGEST:
            raise Invalid(f"Minutes are 0 to {LONGEST:g}.", field="own")
        entry = there.get((athlete, name))
        if entry is not None and (athlete, name) in efforts:
            entry.planned_effort = efforts[athlete, name]
        if entry is not None and minutes is None and _holds_nothing(entry):
            db.delete(entry)
        elif entry is not None:
            entry.planned_loads = loads_followed(entry.planned_loads, entry.planned_minutes, minutes)
            entry.planned_minutes = minutes
            if (athlete, name) in loads:
                entry.planned_loads = dict(loads[athlete, name])
        elif minutes is not None:
            new = _planned(name, athlete, minutes, loads.get((athlete, name)), stamp)
            new.planned_effort = efforts.get((athlete, name))
            db.add(new)
    people = sorted({athlete for athlete, _ in own})
    audit.note(db, "own_plans", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, athletes=people)
    db.flush()


def plan_beside(
    db: DbSession, squad: Squad, athlete_id: int, session_id: str, how: Besides | None, *, stamp: Stamp
) -> None:
    """Plan that somebody takes part in a session to come without load, or None: that they do not. Does not commit.

    Who had no minutes of their own has none of it to do, and as many as everybody once it is taken back. Raises
    Invalid or NotFound.
    """
    there = [one for one in queries.session.entries_of(db, [session_id]) if one.athlete_id == athlete_id]
    planned = there[0].planned_minutes if there else None
    for entry in there:
        entry.beside = None
    minutes = (0.0 if planned is None else planned) if how else (None if planned == 0 else planned)
    plan_own(db, squad, {(athlete_id, session_id): minutes}, stamp=stamp)
    for entry in queries.session.entries_of(db, [session_id]):
        if entry.athlete_id == athlete_id:
            entry.beside = how
    db.flush()


def _holds_nothing(entry: Entry) -> bool:
    """Whether an entry is there for its own minutes alone."""
    said = (entry.minutes, entry.effort, entry.words, entry.planned_effort, entry.beside)
    return all(one is None for one in said)


def _planned(session: str, athlete: int, minutes: float, loads: Mapping[str, float] | None, stamp: Stamp) -> Entry:
    return Entry(id=new_ulid(), session_id=session, athlete_id=athlete, planned_minutes=minutes,
                 planned_loads=dict(loads) if loads else None, source=Source.STAFF,
                 version=1, entered_by=stamp.by, entered_at=stamp.now)  # fmt: skip
