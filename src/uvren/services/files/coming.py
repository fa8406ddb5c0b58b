"""Files on their way in: put down, looked at, waiting for their turn, brought in by the worker."""

from __future__ import annotations

import hashlib
import os
from dataclasses import dataclass, replace
from datetime import date, datetime
from pathlib import Path
from typing import IO, Any

from sqlalchemy.orm import Session as DbSession

from uvren.files.apart import LOOK_SECONDS, READ_SECONDS, apart
from uvren.files.errors import BadFile, Problem
from uvren.files.layout import Look, look_at
from uvren.files.safety import MOST_BYTES, megabytes
from uvren.services.day.dates import local_day
from uvren.services.day.fitness import SIDES, definitions
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.files import mappings, package
from uvren.services.files.asked import Question
from uvren.services.files.bringing import MOST_TOLD, NotAllGood, Progress, bring_in
from uvren.services.files.guessing import About, guess, plain
from uvren.services.files.making import making
from uvren.services.files.mappings import FileKind, Spec
from uvren.services.files.matching import around_of, match, said_of
from uvren.services.files.read_file import read_file
from uvren.services.files.read_samples import Content
from uvren.services.files.tables import TABLES
from uvren.services.session.planning import NewSession
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    FileImport,
    ImportState,
    Squad,
)
from uvren.store.types import new_ulid

# A file at which the worker ended this often is not begun again.
MOST_BEGUN = 2


def put_down(db: DbSession, squad: Squad, folder: Path, name: str, stream: IO[bytes], *, stamp: Stamp) -> FileImport:
    """Keep a file to be looked at. The same content that is in already is not taken again: that import is returned.

    Raises Invalid for a file that is empty or too large; nothing of it is kept then.
    """
    folder.mkdir(parents=True, exist_ok=True)
    import_id = new_ulid()
    path = folder / import_id
    digest, size = hashlib.sha256(), 0
    try:
        # Readable by the program alone: names and health are in it.
        with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
            while chunk := stream.read(1 << 20):
                size += len(chunk)
                if size > MOST_BYTES:
                    raise Invalid(f"{name} is too large: {megabytes(MOST_BYTES)} is the most.", field="file")
                digest.update(chunk)
                out.write(chunk)
        if size == 0:
            raise Invalid(f"{name} is empty.", field="file")
        before = queries.files.standing_import(db, squad.id, digest.hexdigest())
        if before is not None:
            path.unlink()
            return before
    except Exception:
        path.unlink(missing_ok=True)
        raise
    made = FileImport(
        id=import_id,
        squad_id=squad.id,
        file_name=Path(name).name[:200] or "file",
        digest=digest.hexdigest(),
        size=size,
        state=ImportState.LOOKED_AT,
        spec={},
        step="",
        share=0.0,
        report={},
        undo={},
        created_by=stamp.by,
        created_at=stamp.now,
    )
    db.add(made)
    db.flush()
    return made


def find_import(db: DbSession, squad: Squad, import_id: str) -> FileImport:
    """Raises NotFound."""
    found = db.get(FileImport, import_id)
    if found is None or found.squad_id != squad.id:
        raise NotFound("There is no such import.")
    return found


def imports_of(db: DbSession, squad: Squad, most: int = 50) -> list[FileImport]:
    """The latest imports, the newest first."""
    return queries.files.latest_imports(db, squad.id, most)


@dataclass(frozen=True)
class Preview:
    """How a file begins, how it would be read, and who and which sessions it seems to be of.

    ``people`` are (what the file says, the athlete or None, whether it is known who is meant); ``questions`` what is
    open; ``making`` the sessions that are not there, as they would be made; ``found`` what a table of another kind
    would bring in, a line each.
    """

    look: Look
    spec: Spec
    mapping: str
    people: list[tuple[str, int | None, bool]]
    sessions: list[str]
    unplaced: list[str]
    wrong: str
    problems: list[Problem]
    rows_read: int
    dropped: int
    notes: list[str]
    questions: list[Question]
    making: list[NewSession]
    found: list[str]


def about(db: DbSession, squad: Squad, today: date) -> About:
    """What the squad has that a file can speak of."""
    channels = queries.squad.channels(db, squad.id)
    names = {plain(said): one.code for one in channels for said in (one.name, one.code)}
    tests: dict[str, str] = {}
    for test in definitions(db, squad):
        tests[plain(test.name)] = test.code
        if test.sides:
            tests |= {plain(f"{test.name} {side}"): f"{test.code}:{side}" for side in SIDES}
    main = next((one.code for one in channels if one.is_main), "")
    return About(squad.time_zone, today, names, main, tests)


def preview(db: DbSession, squad: Squad, path: Path, name: str, given: Spec | None = None, *, today: date) -> Preview:
    """Look at a file with a mapping: the one given, else the one saved for such files, else a guess.

    Raises Invalid for a file that is no table at all, or is not here any more.
    """
    if not path.exists():
        raise Invalid("This file is not here any more. Send it again.", field="file")
    around = around_of(db, squad, name, today)
    try:
        look = apart(LOOK_SECONDS, look_at, path, given.layout if given else None, around.people, around.name)
    except BadFile as error:
        raise Invalid(str(error), field="file") from error
    saved = None if given else mappings.mapping_for(db, squad, look.columns)
    spec = given
    if spec is None and saved is not None:
        # What belongs to one file only (its day, its athlete) is not kept and may be lacking still.
        spec = Spec.from_json(saved.spec, check=False)
    if spec is None:
        spec = guess(look, about(db, squad, today))
    elif look.columns and {use.name for use in spec.columns} != set(look.columns):
        # Another sheet or another head has other columns; what is said of those that stay stays.
        said = {use.name: use for use in spec.columns}
        guessed = guess(look, about(db, squad, today))
        columns = tuple(said.get(use.name, use) for use in guessed.columns)
        spec = replace(spec, columns=columns, kind=spec.kind if said.keys() & set(look.columns) else guessed.kind,
                       writing=guessed.writing if spec.writing is None else spec.writing)  # fmt: skip
    spec = replace(spec, layout=look.layout)
    shown: dict[str, Any] = {
        "people": [], "sessions": [], "unplaced": [], "wrong": "", "problems": [], "rows_read": 0, "dropped": 0,
        "notes": [], "questions": [], "making": [], "found": [],
    }  # fmt: skip
    try:
        spec.check()
        if spec.kind is FileKind.PACKAGE:
            whole = apart(READ_SECONDS, package.read, path)
            return Preview(look, spec, "", **(shown | {"found": whole.said()}))
        content = apart(READ_SECONDS, read_file, path, spec, around)
        shown |= _matched(db, squad, content, spec, name, today)
    except BadFile as error:
        shown["wrong"] = str(error)
    except Invalid as error:
        shown["wrong"] = error.detail
    return Preview(look, spec, saved.name if saved else "", **shown)


def _matched(db: DbSession, squad: Squad, content: Content, spec: Spec, name: str, today: date) -> dict[str, Any]:
    """What a preview shows of what was read: who and what it is of, what is open, and what would be made."""
    matched = match(db, squad, content, spec, name)
    table = TABLES.get(spec.kind)
    if table is not None:
        table.check(db, squad, matched, spec, today)
    questions = [*content.questions, *matched.questions]
    return {
        "people": matched.people,
        "sessions": [said_of(session) for session in matched.sessions.values()],
        "unplaced": matched.unplaced_said(spec),
        "problems": [*content.problems, *matched.problems][:MOST_TOLD],
        "rows_read": content.rows_read,
        "dropped": content.dropped + len(matched.problems),
        "notes": [*content.notes, *matched.notes],
        "questions": questions,
        "making": making(squad, matched, spec).new,
        # What hangs on what is open is not said before it is answered.
        "found": table.found(squad, matched, spec, today) if table is not None and not questions else [],
    }


def queue(db: DbSession, squad: Squad, import_id: str, spec: Spec) -> FileImport:
    """Take a looked-at file for good, to be brought in by the worker. Raises Invalid or Stale."""
    spec.check()
    found = find_import(db, squad, import_id)
    if found.state not in (ImportState.LOOKED_AT, ImportState.FAILED):
        raise Stale("This file is on its way in already, or is in.")
    found.spec = spec.to_json()
    found.state, found.step, found.share = ImportState.WAITING, "Waiting for its turn", 0.0
    found.report, found.begun = {}, 0
    db.flush()
    return found


def take_by_itself(db: DbSession, squad: Squad, found: FileImport, folder: Path, *, today: date) -> bool:
    """Queue a file for which a mapping is kept and nothing is left to ask. Says whether it did; does not commit."""
    if found.state is not ImportState.LOOKED_AT:
        return False
    try:
        seen = preview(db, squad, folder / found.id, found.file_name, today=today)
    except Invalid:
        # Said again where the file is looked at.
        return False
    known = all(known for _, _, known in seen.people)
    is_open = seen.wrong or seen.problems or seen.unplaced or seen.questions or not known
    if not seen.mapping or is_open or not (seen.sessions or seen.found):
        return False
    queue(db, squad, found.id, seen.spec)
    return True


def _begin(db: DbSession, found: FileImport, now: datetime) -> bool:
    """Whether an import is for us to bring in; says so in it, and commits."""
    if found.state is not ImportState.WAITING:
        db.rollback()
        return False
    ours = found.begun < MOST_BEGUN
    if ours:
        found.state, found.step, found.begun = ImportState.RUNNING, "Reading the file", found.begun + 1
    else:
        found.report = {"wrong": "The program that reads files ended at this one twice; nothing of it came in."}
        found.state, found.finished_at, found.step, found.share = ImportState.FAILED, now, "", 1.0
    db.commit()
    return ours


def run(
    db: DbSession,
    import_id: str,
    folder: Path,
    *,
    now: datetime,
    today: date | None = None,
    tell: Progress | None = None,
) -> FileImport:
    """Bring a waiting file in, all or nothing, and commit. The import says what came of it; errors are part of that."""
    found = db.get(FileImport, import_id, with_for_update=True)
    if found is None:
        raise NotFound("There is no such import.")
    if not _begin(db, found, now):
        return found
    squad = db.get_one(Squad, found.squad_id)
    try:
        report, undo = bring_in(
            db,
            squad,
            folder / import_id,
            found.file_name,
            Spec.from_json(found.spec),
            import_id=import_id,
            stamp=Stamp(found.created_by, now),
            today=today or local_day(squad, now),
            tell=tell or (lambda _step, _share: None),
        )
        found.state, found.report, found.undo = ImportState.DONE, report, undo
    except NotAllGood as error:
        db.rollback()
        found.state, found.report = ImportState.FAILED, error.report
    except BadFile as error:
        db.rollback()
        found.state, found.report = ImportState.FAILED, {"wrong": str(error)}
    except (Invalid, NotFound, Stale) as error:
        db.rollback()
        found.state, found.report = ImportState.FAILED, {"wrong": error.detail}
    except Exception:
        db.rollback()
        found.state = ImportState.FAILED
        found.report = {"wrong": "Something went wrong on our side while reading it; nothing of it came in."}
        found.finished_at, found.step, found.share = now, "", 1.0
        db.commit()
        raise
    found.finished_at, found.step, found.share = now, "", 1.0
    db.commit()
    if found.state is ImportState.DONE:
        (folder / import_id).unlink(missing_ok=True)
    return found


def discard(db: DbSession, squad: Squad, import_id: str, folder: Path) -> None:
    """Put a file that is not in away again. Raises Stale for one that is."""
    found = find_import(db, squad, import_id)
    if found.state in (ImportState.DONE, ImportState.RUNNING, ImportState.WAITING):
        raise Stale("This file is in, or on its way; take it back instead.")
    if found.state is not ImportState.UNDONE:
        queries.files.delete_import(db, import_id)
    (folder / import_id).unlink(missing_ok=True)
