"""Taking a whole import back."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Stale
from uvren.services.session.imports.files import find_import
from uvren.services.session.work import GIVEN
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    Audit,
    FileImport,
    ImportState,
    Session,
    Source,
    Squad,
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
    touched: set[tuple[int, date]] = set()
    for recording, day in queries.session.recordings_of_import(db, import_id):
        if day is not None:
            touched.add((recording.athlete_id, day))
        db.delete(recording)
    db.flush()
    kept: list[str] = []
    _undo_works(db, found, touched, kept)
    _undo_entries(db, found, touched, kept)
    db.flush()
    gone = found.undo.get("sessions", [])
    for session_id in gone:
        session = db.get(Session, session_id)
        if session is not None and not queries.session.in_use(db, session_id):
            db.delete(session)
    db.flush()
    refresh_daily_loads(db, squad.id, touched)
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


def _undo_works(db: DbSession, found: FileImport, touched: set[tuple[int, date]], kept: list[str]) -> None:
    for session_id, athlete, what, before in found.undo.get("works", []):
        work = queries.session.work_of(db, session_id, athlete, what)
        session = db.get(Session, session_id)
        if work is None or session is None:
            continue
        if work.source is not Source.IMPORT or work.entered_at > (found.finished_at or found.created_at):
            kept.append(f"{what.removeprefix(GIVEN)} on {say.day(session.day)} was changed since and stays.")
            continue
        touched.add((athlete, session.day))
        if before is None:
            db.delete(work)
        else:
            work.data, work.version = before, work.version + 1


def _undo_entries(db: DbSession, found: FileImport, touched: set[tuple[int, date]], kept: list[str]) -> None:
    for session_id, athlete, minutes, effort, words, *was_there in found.undo.get("entries", []):
        entry = queries.session.entry_of(db, session_id, athlete)
        session = db.get(Session, session_id)
        if entry is None or session is None:
            continue
        if entry.source is not Source.IMPORT or entry.entered_at > (found.finished_at or found.created_at):
            # A recording only begins an entry: what people said in it since was never the file's.
            if was_there:
                kept.append(f"An entry on {say.day(session.day)} was changed since and stays.")
            continue
        touched.add((athlete, session.day))
        if was_there == [True]:
            entry.minutes, entry.effort, entry.words = minutes, effort, words
            entry.version += 1
        elif not queries.session.has_more_than_entry(db, session_id, athlete):
            db.delete(entry)
