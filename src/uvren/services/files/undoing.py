"""Taking a whole import back."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Stale
from uvren.services.files.coming import find_import
from uvren.services.files.tables import TABLES
from uvren.services.session.work import GIVEN
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    Audit,
    Entry,
    FileImport,
    ImportState,
    Membership,
    Session,
    Source,
    Squad,
    Work,
)


def undo(db: DbSession, squad: Squad, import_id: str, *, stamp: Stamp, today: date) -> FileImport:
    """Take a whole import back: what it brought goes, what it replaced stands again. Does not commit.

    What someone changed since by hand is left as they left it, and said so in the report. Raises Stale for an import
    that is not in.
    """
    queries.squad.hold(db, squad.id)
    found = find_import(db, squad, import_id)
    if found.state is not ImportState.DONE:
        raise Stale("Only a file that is in can be taken back.")
    if "package" in found.report:
        raise Stale("A whole squad is not taken back; the squad that it came into can be deleted.")
    touched: set[tuple[int, date]] = set()
    for recording, day in queries.files.recordings_of_import(db, import_id):
        if day is not None:
            touched.add((recording.athlete_id, day))
        db.delete(recording)
    db.flush()
    kept: list[str] = []
    stood = _Stood(db, found)
    _undo_works(db, stood, touched, kept)
    db.flush()
    _undo_entries(db, stood, touched, kept)
    db.flush()
    for table in TABLES.values():
        table.take_away(db, squad, found.undo, kept, stamp=stamp, today=today)
    _drop_sessions(db, found.undo.get("sessions", []))
    db.flush()
    refresh_daily_loads(db, squad.id, touched)
    _first_days_again(db, squad, found, kept)
    found.state, found.undone_at, found.undone_by = ImportState.UNDONE, stamp.now, stamp.by
    found.report = {**found.report, "kept": kept}
    db.add(
        Audit(
            at=stamp.now,
            user_id=stamp.by,
            squad_id=squad.id,
            action="import_undone",
            subject=f"import:{import_id}",
            details={"file": found.file_name},
        )
    )
    db.flush()
    return found


def _drop_sessions(db: DbSession, gone: Sequence[str]) -> None:
    """Take sessions away that a file made and that nobody used since."""
    used = queries.session.used_of(db, gone)
    queries.session.drop_sessions(db, [one for one in gone if one not in used])


class _Stood:
    """What a file wrote and what stands of it now, read at once."""

    def __init__(self, db: DbSession, found: FileImport) -> None:
        self.works, self.entries = found.undo.get("works", []), found.undo.get("entries", [])
        ids = {one[0] for one in (*self.works, *self.entries)}
        self.until = found.finished_at or found.created_at
        self.sessions = queries.session.sessions_of(db, found.squad_id, list(ids))
        self.work = {(one.session_id, one.athlete_id, one.what): one for one in queries.session.works_of(db, ids)}
        self.entry = {(one.session_id, one.athlete_id): one for one in queries.session.entries_of(db, ids)}

    def is_ours(self, one: Work | Entry) -> bool:
        """Whether it stands as the file wrote it."""
        return one.source is Source.IMPORT and one.entered_at <= self.until


def _undo_works(db: DbSession, stood: _Stood, touched: set[tuple[int, date]], kept: list[str]) -> None:
    for session_id, athlete, what, before in stood.works:
        work, session = stood.work.get((session_id, athlete, what)), stood.sessions.get(session_id)
        if work is None or session is None:
            continue
        if not stood.is_ours(work):
            kept.append(f"{what.removeprefix(GIVEN)} on {_day(session)} was changed since and stays.")
            continue
        touched.add((athlete, session.day))
        if before is None:
            db.delete(work)
        else:
            work.data, work.version = before, work.version + 1


def _undo_entries(db: DbSession, stood: _Stood, touched: set[tuple[int, date]], kept: list[str]) -> None:
    more = queries.session.with_more_than_entry(db, stood.sessions)
    # Work that a file brought begins an entry; it goes with it.
    begun = [[session, athlete, None, None, None] for session, athlete, _, before in stood.works if before is None]
    there = {(one[0], one[1]) for one in stood.entries}
    gone: list[str] = []
    for session_id, athlete, minutes, effort, words, *was_there in [
        *stood.entries, *(one for one in begun if (one[0], one[1]) not in there)
    ]:  # fmt: skip
        entry, session = stood.entry.get((session_id, athlete)), stood.sessions.get(session_id)
        if entry is None or session is None:
            continue
        if not stood.is_ours(entry):
            # A recording only begins an entry: what people said in it since was never the file's.
            if was_there:
                kept.append(f"An entry on {_day(session)} was changed since and stays.")
            continue
        touched.add((athlete, session.day))
        if was_there == [True]:
            entry.minutes, entry.effort, entry.words = minutes, effort, words
            entry.version += 1
        elif (session_id, athlete) not in more:
            gone.append(entry.id)
            stood.entry.pop((session_id, athlete))
    queries.session.drop_entries(db, gone)


def _day(session: Session) -> str:
    return f"{say.day(session.day)} {session.day.year}"


def _first_days_again(db: DbSession, squad: Squad, found: FileImport, kept: list[str]) -> None:
    """First days in the squad that went back for the file stand again, unless something is kept from before them."""
    for membership_id, before, moved_to in found.undo.get("members", []):
        member, day = db.get(Membership, membership_id), date.fromisoformat(before)
        if member is None or member.from_day != date.fromisoformat(moved_to):
            continue
        entered = queries.session.first_day_of(db, squad.id, member.athlete_id, member.from_day)
        if entered is not None and entered < day:
            kept.append(f"{member.athlete.name} stays in the squad from {say.day(member.from_day)} "
                        f"{member.from_day.year}: something else was entered for them.")  # fmt: skip
            continue
        member.from_day = day
    db.flush()
