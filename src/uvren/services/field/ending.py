"""What a session was, once it is over: its parts as they were run, what was counted, and who was on for how long."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import NamedTuple

from sqlalchemy.orm import Session as DbSession

from uvren.core.field import Field, FieldKind
from uvren.services.errors import Invalid, NotFound
from uvren.services.field.noting import state_of
from uvren.store import queries
from uvren.store.models import FieldEvent, Session, SessionKind, Squad


class RanPart(NamedTuple):
    """A part as it was run, ``begins`` in minutes from when the first one was begun."""

    name: str
    begins: float
    minutes: float
    weight: float
    grade: int | None


@dataclass(frozen=True)
class Ran:
    """A session as it was: when it began, its parts, counts by athlete and class, minutes on the field by athlete."""

    session: Session
    began_at: datetime
    parts: list[RanPart]
    counts: dict[int, dict[str, int]]
    minutes: dict[int, float]


def ran(db: DbSession, squad: Squad, session_id: str) -> Ran:
    """What was noted of a session, put together. Raises NotFound; Invalid while a part runs or none was begun."""
    session = queries.session.any_session(db, session_id)
    if session is None or session.squad_id != squad.id:
        raise NotFound("There is no such session in this squad.")
    events = queries.field.field_events(db, session_id)
    state = state_of(events)
    if state.running is not None:
        raise Invalid("A part is still running. Stop it first.", field="session_id")
    if not state.runs:
        raise Invalid("No part was begun: there is nothing to keep of it.", field="session_id")
    began = min(one.begin for one in state.runs)
    return Ran(
        session=session,
        began_at=datetime.fromtimestamp(began, UTC),
        parts=_parts(session, state, began),
        counts=_counts(events),
        minutes=_minutes(session, state),
    )


def _parts(session: Session, state: Field, began: float) -> list[RanPart]:
    """Parts by when they were run; one that was never run has no minutes, one run twice the time of both."""
    planned = {part.place: part for part in session.segments}
    run: dict[int, list[float]] = {}
    for one in state.runs:
        end = one.begin if one.end is None else one.end
        first, minutes = run.get(one.part, [one.begin, 0.0])
        run[one.part] = [first, minutes + (end - one.begin) / 60]
    return [
        RanPart(of.name, round((first - began) / 60, 2), round(minutes, 2), of.weight, of.grade)
        for place, (first, minutes) in run.items()
        if (of := planned.get(place)) is not None
    ]


def _counts(events: list[FieldEvent]) -> dict[int, dict[str, int]]:
    found: dict[int, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for one in events:
        if one.kind is FieldKind.COUNT and one.athlete_id is not None and one.what:
            found[one.athlete_id][one.what] += round(one.amount)
    return {who: {what: n for what, n in of.items() if n > 0} for who, of in found.items()}


def _minutes(session: Session, state: Field) -> dict[int, float]:
    """Of a match, minutes on the field; of a session, those of who left before its end."""
    begin, end = min(one.begin for one in state.runs), max(one.end or one.begin for one in state.runs)
    if session.kind is SessionKind.MATCH and state.stints:
        people = {one.athlete for one in state.stints}
        return {who: round(state.minutes_on(who, end), 1) for who in people}
    return {who: round(max(at - begin, 0) / 60, 1) for who, at in state.left.items() if at < end}


def begin_at(session: Session, began_at: datetime, zone_day: date) -> bool:
    """Let a session begin when it did; whether that moved it. It stays on its day."""
    if abs(session.starts_at - began_at) < timedelta(seconds=1):
        return False
    if zone_day != session.day:
        return False
    session.starts_at = began_at
    return True
