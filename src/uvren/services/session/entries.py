"""What athletes did: entries, and the daily loads that are kept with them in one transaction."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.ratings import EFFORT_MOST, EFFORT_STEP, MINUTES_MOST
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import insert_many
from uvren.store.models import Audit, Entry, Session, Source
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since


@dataclass(frozen=True)
class EntryChange:
    """New values of an athlete's entry in a session; all of minutes, effort and words as they are to stand.

    ``version`` is the version that was seen when editing, None where there was no entry. ``entered_at`` is when it came
    in, for a history that is brought in later.
    """

    session_id: str
    athlete_id: int
    minutes: float | None
    effort: float | None
    words: str | None = None
    version: int | None = None
    planned_minutes: float | None = None
    planned_effort: float | None = None
    source: Source = Source.STAFF
    entered_at: datetime | None = None


def check_change(change: EntryChange, field: str) -> None:
    """Raises Invalid, with the allowed range and the field's path, for a value that cannot be."""
    minutes, effort = change.minutes, change.effort
    if minutes is not None and not 0 <= minutes <= MINUTES_MOST:
        raise Invalid(f"Minutes are 0 to {MINUTES_MOST}.", field=f"{field}.minutes")
    if effort is not None and (not 0 <= effort <= EFFORT_MOST or effort % EFFORT_STEP):
        raise Invalid("Effort is 0 to 10, in half points.", field=f"{field}.effort")
    if change.words is not None and len(change.words) > 2000:
        raise Invalid("Words are 2000 characters at most.", field=f"{field}.words")


def record_entries(
    db: DbSession,
    squad_id: int,
    changes: Sequence[EntryChange],
    *,
    stamp: Stamp,
    today: date,
    only: Collection[int] | None = None,
) -> list[Entry]:
    """Write entries and the daily loads that follow from them, all or nothing; does not commit.

    Sending the same change twice changes nothing the second time. With ``only`` the loads of just these channels
    follow, for who writes what the others rest on right after. Raises Invalid for a value out of range or a
    session that is still to come, NotFound for a session of another squad, Stale when an entry was changed since.
    """
    for i, change in enumerate(changes):
        check_change(change, f"changes.{i}")
    # Estimates rest on other people's ratings: two changes at once must not each miss what the other writes.
    queries.squad.hold(db, squad_id)
    sessions = find_sessions(db, squad_id, {change.session_id for change in changes})
    known = queries.squad.members_ever(db, squad_id)
    existing = _existing(db, changes)
    touched: set[tuple[int, date]] = set()
    fresh: list[dict[str, Any]] = []
    results: list[Entry] = []
    log: dict[str, list[list[Any]]] = defaultdict(list)
    done: set[str] = set()
    for i, change in enumerate(changes):
        session = sessions[change.session_id]
        field = f"changes.{i}"
        if change.athlete_id not in known:
            raise NotFound("There is no such athlete in this squad.", field=f"{field}.athlete_id")
        reported = change.minutes is not None or change.effort is not None
        if reported:
            _check_done(session, today, f"{field}.effort")
        entry = existing.get((change.session_id, change.athlete_id))
        before = None if entry is None else [entry.minutes, entry.effort]
        if entry is None:
            values = _values(change, stamp)
            fresh.append(values)
            entry = Entry(**values)
        elif not _apply(entry, change, stamp, field):
            results.append(entry)
            continue
        results.append(entry)
        log[session.id].append([change.athlete_id, before, [change.minutes, change.effort]])
        if session.done or reported:
            touched.add((change.athlete_id, session.day))
        if reported and not session.done:
            session.done = True
            done.add(session.id)
    insert_since(db, Entry, fresh, "entered_at")
    for session_id in done:
        touched |= {(athlete, sessions[session_id].day) for athlete in queries.session.people_in(db, session_id)}
    db.flush()
    refresh_daily_loads(db, squad_id, touched, only)
    _audit(db, squad_id, log, stamp)
    return results


def _check_done(session: Session, today: date, field: str) -> None:
    if session.day > today:
        raise Invalid(f"{session.title} is on {say.day(session.day)}; it is recorded when it is done.", field=field)


def _audit(db: DbSession, squad_id: int, log: dict[str, list[list[Any]]], stamp: Stamp) -> None:
    rows = [
        {
            "at": stamp.now,
            "user_id": stamp.by,
            "squad_id": squad_id,
            "action": "entries",
            "subject": f"session:{session_id}",
            "details": {"athlete_before_after": changes},
        }
        for session_id, changes in log.items()
    ]
    insert_many(db, Audit, rows)


def _values(change: EntryChange, stamp: Stamp) -> dict[str, Any]:
    return {
        "id": new_ulid(),
        "session_id": change.session_id,
        "athlete_id": change.athlete_id,
        "planned_minutes": change.planned_minutes,
        "planned_effort": change.planned_effort,
        "minutes": change.minutes,
        "effort": change.effort,
        "words": change.words,
        "source": change.source,
        "version": 1,
        "entered_by": stamp.by,
        "entered_at": change.entered_at or stamp.now,
    }


def _apply(entry: Entry, change: EntryChange, stamp: Stamp, field: str) -> bool:
    """Put the change into an existing entry; False when it stands there already."""
    wanted = (change.minutes, change.effort, change.words)
    if (entry.minutes, entry.effort, entry.words) == wanted:
        return False
    if change.version != entry.version:
        raise Stale(
            "Someone changed this entry in the meantime.",
            field=field,
            extra={
                "yours": {"minutes": change.minutes, "effort": change.effort},
                "theirs": {"minutes": entry.minutes, "effort": entry.effort, "version": entry.version},
            },
        )
    entry.minutes, entry.effort, entry.words = wanted
    entry.source = change.source
    entry.version += 1
    entry.entered_by = stamp.by
    entry.entered_at = stamp.now
    return True


def find_sessions(db: DbSession, squad_id: int, ids: Collection[str]) -> dict[str, Session]:
    found = queries.session.sessions_of(db, squad_id, list(ids))
    for gone in set(ids) - found.keys():
        session = queries.session.any_session(db, gone)
        if session is not None and session.squad_id == squad_id and session.called_off is not None:
            raise Stale(f"{session.name} on {say.day(session.day)} was called off: {session.called_off} "
                        "If it took place after all, put it on again first.")  # fmt: skip
        raise NotFound("There is no such session in this squad.")
    return found


def _existing(db: DbSession, changes: Sequence[EntryChange]) -> dict[tuple[str, int], Entry]:
    pairs = {(change.session_id, change.athlete_id) for change in changes}
    if len(pairs) != len(changes):
        raise Invalid("An athlete stands twice in one change.", field="changes")
    return {(one.session_id, one.athlete_id): one for one in queries.session.entries_for_update(db, list(pairs))}
