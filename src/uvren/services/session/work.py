"""What athletes did beside minutes and effort: counts, lifts, segments, zones; entered by hand or read from a file."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.ratings import EFFORT_MOST, EFFORT_STEP, MINUTES_MOST
from uvren.core.units import Source as SourceOfLoad
from uvren.services.day.loads import definitions_of, refresh_daily_loads
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.session.entries import find_sessions
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import batches, insert_many
from uvren.store.models import Audit, Entry, Session, Source, Work
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since

MOST_ITEMS = 200
GIVEN = "given:"


@dataclass(frozen=True)
class WorkChange:
    """A document of work as it is to stand; ``data`` None takes it away.

    ``version`` is the version that was seen when editing, None where there was none.
    """

    session_id: str
    athlete_id: int
    what: str
    data: dict[str, Any] | None
    version: int | None = None
    source: Source = Source.STAFF


def _number(item: dict[str, Any], name: str, low: float, high: float, said: str, field: str) -> float:
    value = item.get(name)
    good = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
    if not good or not low <= float(value) <= high:  # type: ignore[arg-type]
        raise Invalid(f"{said} {low:g} to {high:g}.", field=f"{field}.{name}")
    return float(value)  # type: ignore[arg-type]


def _word(item: dict[str, Any], name: str, field: str, *, needed: bool = True) -> str | None:
    value = item.get(name)
    if value in (None, "") and not needed:
        return None
    if not isinstance(value, str) or not value.strip() or len(value) > 60:
        raise Invalid("This is a name of 60 characters at most.", field=f"{field}.{name}")
    return value.strip()


def _counted(item: dict[str, Any], field: str) -> dict[str, Any]:
    count = _number(item, "count", 0, 5000, "A count is", field)
    if count % 1:
        raise Invalid("A count is a whole number.", field=f"{field}.count")
    return {
        "class": _word(item, "class", field),
        "surface": _word(item, "surface", field, needed=False),
        "posture": _word(item, "posture", field, needed=False),
        "count": count,
    }


def _lift(item: dict[str, Any], field: str) -> dict[str, Any]:
    out: dict[str, Any] = {
        "exercise": _word(item, "exercise", field),
        "sets": _number(item, "sets", 1, 30, "Sets are", field),
        "reps": _number(item, "reps", 1, 100, "Repetitions are", field),
        "kg": _number(item, "kg", 0, 600, "Kilograms are", field),
    }
    optional = (
        ("reserve", 20, "Repetitions in reserve are"),
        ("rest_seconds", 1800, "Rest in seconds is"),
        ("bar_speed", 5, "Bar speed in m/s is"),
    )
    for name, high, said in optional:
        if item.get(name) is not None:
            out[name] = _number(item, name, 0, high, said, field)
    return out


def _segment(item: dict[str, Any], field: str) -> dict[str, Any]:
    out: dict[str, Any] = {"minutes": None, "effort": None}
    if item.get("minutes") is not None:
        out["minutes"] = _number(item, "minutes", 0, MINUTES_MOST, "Minutes are", field)
    if item.get("effort") is not None:
        out["effort"] = _number(item, "effort", 0, EFFORT_MOST, "Effort is", field)
        if out["effort"] % EFFORT_STEP:
            raise Invalid("Effort is 0 to 10, in half points.", field=f"{field}.effort")
    return out


_ITEMS: dict[str, Callable[[dict[str, Any], str], dict[str, Any]]] = {
    "counted": _counted,
    "lifting": _lift,
    "segments": _segment,
}


_SOURCES = {
    "counted": SourceOfLoad.COUNTED,
    "lifting": SourceOfLoad.LIFTING,
    "segments": SourceOfLoad.SEGMENTS,
    "zones": SourceOfLoad.HEART_RATE,
}


def checked(what: str, data: dict[str, Any], field: str) -> dict[str, Any]:
    """The document with only what belongs in it. Raises Invalid with the path of the value at fault."""
    if what.startswith(GIVEN):
        return {"value": _number(data, "value", 0, 1e7, "A load is", f"{field}.data")}
    if what == "zones":
        minutes = data.get("minutes")
        if not isinstance(minutes, list) or len(minutes) not in (3, 5):
            raise Invalid("Give the minutes in 3 or in 5 zones.", field=f"{field}.data.minutes")
        values = [
            _number({"m": value}, "m", 0, MINUTES_MOST, "Minutes are", f"{field}.data.minutes.{i}")
            for i, value in enumerate(minutes)
        ]
        return {"minutes": values}
    if what not in _ITEMS:
        raise Invalid(f"There is no work of the kind {what!r}.", field=f"{field}.what")
    items = data.get("items")
    if not isinstance(items, list) or not items or len(items) > MOST_ITEMS:
        raise Invalid(f"Give 1 to {MOST_ITEMS} items.", field=f"{field}.data.items")
    for i, item in enumerate(items):
        if not isinstance(item, dict):
            raise Invalid("An item is an object.", field=f"{field}.data.items.{i}")
    return {"items": [_ITEMS[what](item, f"{field}.data.items.{i}") for i, item in enumerate(items)]}


def record_work(
    db: DbSession,
    squad_id: int,
    changes: Sequence[WorkChange],
    *,
    stamp: Stamp,
    today: date,
) -> list[Work | None]:
    """Write documents of work and the daily loads that follow from them, all or nothing; does not commit.

    Whoever has work in a session has an entry in it: without minutes and rating where nothing else is known. Sending
    the same change twice changes nothing the second time. Raises Invalid, NotFound, or Stale with both versions.
    """
    wanted = [
        None if change.data is None else checked(change.what, change.data, f"changes.{i}")
        for i, change in enumerate(changes)
    ]
    keys = [(change.session_id, change.athlete_id, change.what) for change in changes]
    if len(set(keys)) != len(keys):
        raise Invalid("The same work stands twice in one change.", field="changes")
    queries.squad.hold(db, squad_id)
    sessions = _sessions_of(db, squad_id, changes, today)
    existing = {(one.session_id, one.athlete_id, one.what): one for one in queries.session.works_for_update(db, keys)}
    fresh: list[dict[str, Any]] = []
    touched: set[tuple[int, date]] = set()
    results: list[Work | None] = []
    for i, (change, key, data) in enumerate(zip(changes, keys, wanted, strict=True)):
        work = existing.get(key)
        if data == (None if work is None else work.data):
            results.append(work)
            continue
        if work is not None and change.version != work.version:
            raise Stale(
                "Someone changed this in the meantime.",
                field=f"changes.{i}",
                extra={"yours": data, "theirs": work.data, "version": work.version},
            )
        touched.add((change.athlete_id, sessions[change.session_id].day))
        if data is None:
            db.delete(work)
            results.append(None)
        elif work is None:
            values = _values(change, data, stamp)
            fresh.append(values)
            results.append(Work(**values))
        else:
            work.data, work.source, work.entered_by, work.entered_at = data, change.source, stamp.by, stamp.now
            work.version += 1
            results.append(work)
    db.flush()
    insert_many(db, Work, fresh)
    if touched:
        pairs = [key[:2] for key in keys]
        begun = ensure_entries(db, sessions, pairs, stamp=stamp, source=changes[0].source)
        refresh_daily_loads(db, squad_id, touched | begun, None if begun else _resting(db, squad_id, changes))
        _audit(db, squad_id, keys, stamp)
    return results


def _sessions_of(db: DbSession, squad_id: int, changes: Sequence[WorkChange], today: date) -> dict[str, Session]:
    """The sessions of changes by id. Raises NotFound for somebody else's, Invalid for one still to come."""
    sessions = find_sessions(db, squad_id, {change.session_id for change in changes})
    known = queries.squad.members_ever(db, squad_id)
    for i, change in enumerate(changes):
        if change.athlete_id not in known:
            raise NotFound("There is no such athlete in this squad.", field=f"changes.{i}.athlete_id")
        session = sessions[change.session_id]
        if session.day > today:
            raise Invalid(
                f"{session.title} is on {say.day(session.day)}; it is recorded when it is done.", field=f"changes.{i}"
            )
    return sessions


def _values(change: WorkChange, data: dict[str, Any], stamp: Stamp) -> dict[str, Any]:
    return {
        "id": new_ulid(),
        "session_id": change.session_id,
        "athlete_id": change.athlete_id,
        "what": change.what,
        "data": data,
        "source": change.source,
        "version": 1,
        "entered_by": stamp.by,
        "entered_at": stamp.now,
    }


def _resting(db: DbSession, squad_id: int, changes: Sequence[WorkChange]) -> set[int]:
    """Channels whose loads can rest on work of these kinds."""
    whats = {change.what for change in changes}
    sources = {_SOURCES[what] for what in whats if what in _SOURCES}
    return {
        channel.id
        for channel in queries.squad.channels(db, squad_id)
        if GIVEN + channel.code in whats
        or any(definition.form.source in sources for definition in definitions_of(channel))
    }


def ensure_entries(
    db: DbSession,
    sessions: dict[str, Session],
    pairs: Sequence[tuple[str, int]],
    *,
    stamp: Stamp,
    source: Source = Source.IMPORT,
) -> set[tuple[int, date]]:
    """Give each (session, athlete) an entry, and take their sessions for done. Returns whose days that touches."""
    there = queries.session.there_already(db, list(set(pairs)))
    fresh = [
        {
            "id": new_ulid(),
            "session_id": session,
            "athlete_id": athlete,
            "source": source,
            "version": 1,
            "entered_by": stamp.by,
            "entered_at": stamp.now,
        }
        for session, athlete in sorted(set(pairs) - there)
    ]
    for rows in batches(fresh):
        insert_since(db, Entry, rows, "entered_at")
    touched: set[tuple[int, date]] = set()
    for session_id in {session for session, _ in pairs}:
        session = sessions[session_id]
        if not session.done:
            session.done = True
            db.flush()
            touched |= {(athlete, session.day) for athlete in queries.session.people_in(db, session_id)}
    return touched


def _audit(db: DbSession, squad_id: int, keys: Sequence[tuple[str, int, str]], stamp: Stamp) -> None:
    by_session: dict[str, list[list[Any]]] = {}
    for session, athlete, what in keys:
        by_session.setdefault(session, []).append([athlete, what])
    rows = [
        {
            "at": stamp.now,
            "user_id": stamp.by,
            "squad_id": squad_id,
            "action": "work",
            "subject": f"session:{session}",
            "details": {"athlete_what": changed},
        }
        for session, changed in by_session.items()
    ]
    insert_many(db, Audit, rows)
