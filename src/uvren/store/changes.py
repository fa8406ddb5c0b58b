"""What has changed of a squad, noted in the transaction of whatever changes it.

Whoever keeps something that was worked out from the tables holds it against these marks: as long as the mark is the
same, nothing it rests on has changed. A mark is a word that is never used twice.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from functools import wraps
from typing import Any, TypeVar, cast

from sqlalchemy import Connection, Engine, TextClause, event, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.sql.dml import UpdateBase

from uvren.store.models import Squad, SquadChange
from uvren.store.types import new_ulid

# In place of an athlete: everybody of the squad, what stands beside the day, such as a sheet that was given out, and,
# while it is noted, everybody of every squad.
EVERYBODY, BESIDE, _EVERYWHERE = 0, -1, -2

# Nothing that is worked out for a squad rests on these.
_QUIET = {
    "audit",
    "sign_in",
    "sign_in_try",
    "invitation",
    "consent",
    "file_import",
    "squad_change",
    "squad_lock",
    "used_code",
    "earlier",
    "recovery_code",
    "known_device",
    "begin_link",
    "calendar_feed",
    "week_template",
    # What is noted and sent while a session runs changes nobody's day until it has become entries and recordings.
    "field_event",
    "live_hub",
    "live_chunk",
}
_BESIDE = {"season_phase", "planned_week", "coach_sheet", "saved_view", "note", "file_mapping", "alias",
           "spell_limit", "side_check"}  # fmt: skip
# What is a person's or the club's, in whatever squad.
_EVERY_SQUADS = {"anchor", "athlete", "club", "squad", "user"}
# What is said of one athlete and changes nobody else's day.
_PERSONAL = {"entry", "daily_load", "report", "athlete_call", "complaint", "restriction", "rest_trial", "work",
             "lighter_week", "return_event"}  # fmt: skip

_WRITTEN, _SQUADS, _FLUSHING, _SHARED = "written", "squads", "flushing", "shared"
_WRITES = re.compile(r"^\s*(?:INSERT|UPDATE|DELETE|REPLACE)\b", re.IGNORECASE)


def about(db: DbSession, squad_id: int) -> None:
    """Say that what the session writes is this squad's. Who does not say so changes every squad."""
    db.info.setdefault(_SQUADS, set()).add(squad_id)


def has_written(db: DbSession) -> bool:
    """Whether the session has changed something that is not committed yet."""
    return bool(db.new or db.dirty or db.deleted) or bool(db.in_transaction() and db.connection().info.get(_WRITTEN))


def marks_of(db: DbSession, squad_id: int) -> dict[int, str]:
    """The marks of a squad by athlete, with :data:`EVERYBODY` and :data:`BESIDE`."""
    rows = db.execute(select(SquadChange.athlete_id, SquadChange.mark).where(SquadChange.squad_id == squad_id))
    return {athlete: str(mark) for athlete, mark in rows}


Read = TypeVar("Read", bound=Callable[..., Any])
# What is read once for as long as nothing of the whole squad's changes; a test holds it to what it reads.
WHOLE_SQUADS: dict[str, Callable[..., Any]] = {}


def whole_squads(read: Read) -> Read:
    """For a query that reads nothing personal: with :func:`share` it is asked once until everybody's mark changes."""

    @wraps(read)
    def shared(db: DbSession, *given: Any, **named: Any) -> Any:
        kept = db.info.get(_SHARED)
        if kept is None:
            return read(db, *given, **named)
        key = (read.__qualname__, _still(given), _still(tuple(sorted(named.items()))))
        if key not in kept:
            kept[key] = read(db, *given, **named)
        return kept[key]

    WHOLE_SQUADS[read.__qualname__] = read
    return cast(Read, shared)


def _still(given: Any) -> Any:
    """The same as something that can be a key."""
    return tuple(map(_still, given)) if isinstance(given, list | tuple) else given


def share(db: DbSession, kept: dict[Any, Any]) -> None:
    """Let a session take what is the whole squad's from ``kept``, and leave there what it reads."""
    db.info[_SHARED] = kept


@event.listens_for(DbSession, "after_begin")
def _begin(session: DbSession, transaction: Any, connection: Connection) -> None:
    # The notes lie with the connection, which comes from a pool: those of the one before are not this one's.
    if not transaction.nested:
        connection.info[_WRITTEN] = set()
        connection.info.pop(_FLUSHING, None)
        connection.info[_SQUADS] = session.info.setdefault(_SQUADS, set())


@event.listens_for(DbSession, "before_flush")
def _flush(session: DbSession, _context: Any, _objects: Any) -> None:
    written = session.connection().info
    for one in (*session.new, *session.dirty, *session.deleted):
        table = str(one.__tablename__)
        _note(written, table, {one.athlete_id} if table in _PERSONAL else None)
    written[_FLUSHING] = True


@event.listens_for(DbSession, "after_flush")
def _flushed(session: DbSession, _context: Any) -> None:
    session.connection().info.pop(_FLUSHING, None)


@event.listens_for(Engine, "before_execute")
def _executing(connection: Connection, clause: Any, many: Any, one: Any, _options: Any) -> None:
    if isinstance(clause, TextClause) and _WRITES.match(clause.text):
        _note(connection.info, "", None)
    if not isinstance(clause, UpdateBase) or connection.info.get(_FLUSHING):
        return
    table = str(getattr(clause.table, "name", ""))
    rows = [*many, *([one] if one else [])]
    told = {row.get("athlete_id") for row in rows}
    _note(connection.info, table, told if table in _PERSONAL and told and None not in told else None)


@event.listens_for(Engine, "before_cursor_execute")
def _raw(connection: Connection, _cursor: Any, statement: str, _given: Any, context: Any, _many: bool) -> None:
    # Statements written out by hand tell nobody what they change.
    if context is not None and context.compiled is None and _WRITES.match(statement):
        _note(connection.info, "", None)


def _note(info: Any, table: str, athletes: Collection[int] | None) -> None:
    if table in _QUIET:
        return
    written = info.setdefault(_WRITTEN, set())
    if table in _BESIDE:
        written.add(BESIDE)
    elif table in _EVERY_SQUADS:
        written.update((EVERYBODY, _EVERYWHERE))
    elif athletes is None:
        written.add(EVERYBODY)
    else:
        written.update(athletes)


@event.listens_for(Engine, "commit")
def _commit(connection: Connection) -> None:
    written = connection.info.get(_WRITTEN)
    if not written or connection.get_execution_options().get("unmarked"):
        return
    connection.info[_WRITTEN] = set()
    squads = connection.info.get(_SQUADS)
    if not squads or _EVERYWHERE in written:
        squads = set(connection.execute(select(Squad.id)).scalars())
    mark = new_ulid()
    # Everybody's mark speaks for each athlete's.
    who = written & {EVERYBODY, BESIDE} if EVERYBODY in written else written
    rows = [{"squad_id": squad, "athlete_id": one, "mark": mark} for squad in sorted(squads) for one in sorted(who)]
    if rows:
        statement = insert(SquadChange.__table__)  # type: ignore[arg-type]
        connection.execute(statement.on_duplicate_key_update(mark=statement.inserted.mark), rows)


@event.listens_for(Engine, "rollback")
def _rollback(connection: Connection) -> None:
    connection.info[_WRITTEN] = set()
