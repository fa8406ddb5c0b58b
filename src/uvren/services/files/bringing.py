"""Bringing a file in: all of it, or the good rows where that is wanted, told row by row."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.apart import READ_SECONDS, apart
from uvren.files.errors import Problem
from uvren.services.club import audit
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Invalid
from uvren.services.files import package
from uvren.services.files.making import make_sessions
from uvren.services.files.mappings import FileKind, Spec
from uvren.services.files.matching import Matched, Placed, around_of, match, said_of
from uvren.services.files.read_file import read_file
from uvren.services.files.read_samples import Content, Row
from uvren.services.files.tables import TABLES
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.recordings import Kept, keep
from uvren.services.session.work import GIVEN, WorkChange, ensure_entries, record_work
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    Membership,
    Recording,
    RecordingKind,
    Source,
    Squad,
)
from uvren.store.types import new_ulid

MOST_TOLD = 500

Progress = Callable[[str, float], None]


class NotAllGood(Exception):
    """The file cannot come in as a whole; ``report`` says why."""

    def __init__(self, report: dict[str, Any]) -> None:
        super().__init__("not all of the file can come in")
        self.report = report


def bring_in(
    db: DbSession,
    squad: Squad,
    path: Path,
    name: str,
    spec: Spec,
    *,
    import_id: str | None,
    stamp: Stamp,
    today: date,
    tell: Progress,
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Read, match and write a file; returns (report, what to undo). Does not commit.

    Raises NotAllGood where rows, names or sessions are not clear and the mapping does not say to take the good rows.
    """
    tell("Reading the file", 0.05)
    if spec.kind is FileKind.PACKAGE:
        whole = apart(READ_SECONDS, package.read, path)
        queries.squad.hold(db, squad.id)
        return {"package": package.bring_in(db, squad, whole, stamp=stamp, tell=tell)}, {}
    around = around_of(db, squad, name, today)
    content = apart(READ_SECONDS, read_file, path, spec, around)
    tell("Matching people and sessions", 0.3)
    queries.squad.hold(db, squad.id)
    matched = match(db, squad, content, spec, name)
    if spec.kind in TABLES:
        TABLES[spec.kind].check(db, squad, matched, spec, today)
    undo: dict[str, Any] = {"sessions": [], "entries": [], "works": []}
    report = _clear(db, squad, content, matched, spec, undo)
    tell("Working out what was recorded", 0.5)
    _move_first_days(db, squad, matched, undo, stamp)
    if spec.kind in TABLES:
        report |= TABLES[spec.kind].write(db, squad, matched, spec, undo, stamp=stamp, today=today)
    elif spec.kind is FileKind.SAMPLES:
        report |= _write_recordings(db, squad, matched, spec, import_id, undo, stamp=stamp, tell=tell)
    else:
        report |= _write_rows(db, squad, matched, undo, stamp=stamp, today=today)
    report["sessions"] = [said_of(session) for session in matched.sessions.values()]
    audit.note(db, "import", f"import:{import_id}", stamp=stamp, squad_id=squad.id, file=name,
               rows=content.rows_read)  # fmt: skip
    db.flush()
    return report, undo


def _clear(
    db: DbSession, squad: Squad, content: Content, matched: Matched, spec: Spec, undo: dict[str, Any]
) -> dict[str, Any]:
    """The report so far, once sessions are made that are not there. Raises NotAllGood for what is open or wrong."""
    _keep(matched)
    problems = [*content.problems, *matched.problems]
    report: dict[str, Any] = {
        "rows_read": content.rows_read,
        "dropped": content.dropped + len(matched.problems),
        "problems": [vars_of(problem) for problem in problems[:MOST_TOLD]],
        "problem_count": max(len(problems), content.dropped + len(matched.problems)),
        "unknown": [said for said, _, known in matched.people if not known],
        "left_out": [said for said, athlete, known in matched.people if known and athlete is None],
        "unplaced": matched.unplaced_said(spec),
        "notes": [*content.notes, *matched.notes],
    }
    questions = [*content.questions, *matched.questions]
    if questions:
        are = "question about this file is" if len(questions) == 1 else "questions about this file are"
        raise NotAllGood(report | {"wrong": f"Nothing came in: {len(questions)} {are} open. {questions[0].said}"})
    if report["unplaced"] and spec.make_sessions:
        undo["sessions"] = [session.id for session in make_sessions(db, squad, matched, spec)]
        report["unplaced"] = []
    if (problems or report["unknown"] or report["unplaced"]) and not spec.good_rows:
        raise NotAllGood(report | {"wrong": _why_not(report, matched)})
    placed = any(one.session_id for one in matched.placed) or any(session for _, _, session in matched.rows)
    if not matched.told and not placed:
        raise NotAllGood(report | {"wrong": _why_not(report, matched) or "Nothing in the file can come in."})
    return report


def _keep(matched: Matched) -> None:
    """Work out what is kept of each recording. Of what comes to nothing neither session nor entry is made."""
    for one in matched.placed:
        one.kept = keep(one.part.kind, one.part.columns)
        if one.kept is None:
            named = one.part.said or one.part.kind.replace("_", " ")
            why = "No sample of it can be: nothing is left to keep."
            matched.problems.append(Problem(None, "", named, why))
    matched.placed = [one for one in matched.placed if one.kept is not None]


def _move_first_days(db: DbSession, squad: Squad, matched: Matched, undo: dict[str, Any], stamp: Stamp) -> None:
    """Let people be in the squad from the first day on which the file has something of them."""
    spans: dict[int, list[Membership]] = defaultdict(list)
    for one in queries.squad.memberships_of(db, squad.id, None):
        spans[one.athlete_id].append(one)
    for athlete, day in matched.moves.items():
        span = min(spans[athlete], key=lambda one: one.from_day)
        undo.setdefault("members", []).append([span.id, span.from_day.isoformat(), day.isoformat()])
        audit.note(db, "member_corrected", f"athlete:{athlete}", stamp=stamp, squad_id=squad.id, athlete_id=athlete,
                   renamed=False, from_day=str(day), before=str(span.from_day))  # fmt: skip
        span.from_day = day
    db.flush()


def vars_of(problem: Problem) -> dict[str, Any]:
    return {"row": problem.row, "column": problem.column, "said": problem.said, "why": problem.why}


def _why_not(report: dict[str, Any], matched: Matched) -> str:
    parts = []
    if report["problem_count"]:
        parts.append(f"{say.count(report['problem_count'], 'row')} cannot be read")
    if report["unknown"]:
        names = ", ".join(said or "the athlete of the file" for said in report["unknown"][:3])
        parts.append(f"it is not known who is meant by {names}")
    if report["unplaced"]:
        parts.append(f"there is no session for {', '.join(report['unplaced'][:3])}")
    return f"Nothing came in: {'; '.join(parts)}." if parts else ""


def _write_recordings(
    db: DbSession, squad: Squad, matched: Matched, spec: Spec, import_id: str | None, undo: dict[str, Any], *,
    stamp: Stamp, tell: Progress
) -> dict[str, Any]:  # fmt: skip
    placed = [one for one in matched.placed if one.session_id is not None]
    sessions = matched.sessions
    there = _counting(db, {one.session_id or "" for one in placed})
    pairs = [(one.session_id or "", one.athlete) for one in placed]
    undo["entries"] = _absent(db, pairs)
    touched = ensure_entries(db, sessions, pairs, stamp=stamp)
    made: list[dict[str, Any]] = []
    for i, one in enumerate(placed):
        tell("Working out what was recorded", 0.5 + 0.4 * i / len(placed))
        kept = one.kept
        if kept is None:
            continue
        session_id = one.session_id or ""
        other = there.get((session_id, one.athlete, one.part.kind), [])
        overlap = [key for key, begins, ends in other if begins < one.ends and one.begins < ends]
        recording = _recording(squad, one, kept, spec, import_id, counts=not overlap)
        db.add(recording)
        touched.add((one.athlete, sessions[session_id].day))
        made.append(
            {
                "athlete_id": one.athlete,
                "session_id": session_id,
                "recording_id": recording.id,
                "kind": one.part.kind,
                "minutes": round(kept.seconds / 60, 1),
                "samples": kept.samples,
                "dropped": kept.dropped,
                "coverage": None if kept.coverage is None else round(kept.coverage, 3),
                "beside": overlap,
            }
        )
    # Told before the recordings are written: from then on the import's own row is locked by them.
    tell("Working out the loads", 0.92)
    db.flush()
    refresh_daily_loads(db, squad.id, touched)
    return {"recordings": made, "overlaps": sum(1 for one in made if one["beside"])}


def _recording(squad: Squad, one: Placed, kept: Kept, spec: Spec, import_id: str | None, *, counts: bool) -> Recording:
    return Recording(
        id=new_ulid(),
        squad_id=squad.id,
        athlete_id=one.athlete,
        session_id=one.session_id,
        import_id=import_id,
        kind=one.part.kind,
        device=spec.device,
        starts_at=datetime.fromtimestamp(kept.shift, UTC),
        seconds=kept.seconds,
        offset_seconds=spec.offset_seconds,
        samples=kept.samples,
        dropped=kept.dropped,
        coverage=kept.coverage,
        counts=counts,
        summary=kept.summary,
        data=kept.data,
    )


def _counting(
    db: DbSession, sessions: set[str]
) -> dict[tuple[str, int, RecordingKind], list[tuple[str, float, float]]]:
    """(recording, begin, end) of those that count, by session, athlete and kind."""
    found: dict[tuple[str, int, RecordingKind], list[tuple[str, float, float]]] = defaultdict(list)
    for session, athlete, kind, key, starts_at, seconds in queries.session.recording_spans(db, sessions):
        begins = starts_at.timestamp()
        found[session or "", athlete, kind].append((key, begins, begins + seconds))
    return found


def _absent(db: DbSession, pairs: Sequence[tuple[str, int]]) -> list[list[Any]]:
    """Of these (session, athlete) those that have no entry yet: what undoing has to take away again."""
    there = queries.session.there_already(db, sorted(set(pairs)))
    return [[session, athlete, None, None, None] for session, athlete in sorted(set(pairs) - there)]


def _write_rows(
    db: DbSession, squad: Squad, matched: Matched, undo: dict[str, Any], *, stamp: Stamp, today: date
) -> dict[str, Any]:
    rows = [(row, athlete, session) for row, athlete, session in matched.rows if session is not None]
    twice: dict[tuple[str, int], Row] = {}
    for row, athlete, session in rows:
        other = twice.setdefault((session, athlete), row)
        if other is not row:
            raise Invalid(
                f"Rows {other.row} and {row.row} are both of one athlete in one session; which of them counts?",
                field="file",
            )
    sessions = {session for _, _, session in rows}
    entries = {(entry.session_id, entry.athlete_id): entry for entry in queries.session.entries_of(db, sessions)}
    works = {(work.session_id, work.athlete_id, work.what): work for work in queries.session.works_of(db, sessions)}
    changes: list[EntryChange] = []
    documents: list[WorkChange] = []
    for row, athlete, session in rows:
        entry = entries.get((session, athlete))
        minutes = row.minutes if row.minutes is not None else entry.minutes if entry else None
        effort = row.effort if row.effort is not None else entry.effort if entry else None
        words = row.words if row.words is not None else entry.words if entry else None
        before = None if entry is None else (entry.minutes, entry.effort, entry.words)
        # What stands as the file has it is not the file's to take back.
        if before != (minutes, effort, words):
            undo["entries"].append([session, athlete, *(before or [None] * 3), entry is not None])
        version = entry.version if entry else None
        # Loads that are given as they are begin an entry of their own; they are no minutes and no effort.
        if (minutes, effort, words) != (None, None, None):
            changes.append(EntryChange(session, athlete, minutes, effort, words, version, source=Source.IMPORT))
        given: list[tuple[str, dict[str, Any]]] = [(GIVEN + code, {"value": load}) for code, load in row.loads.items()]
        if row.zones:
            given.append(("zones", {"minutes": row.zones}))
        for what, data in given:
            work = works.get((session, athlete, what))
            undo["works"].append([session, athlete, what, work.data if work else None])
            seen = work.version if work else None
            documents.append(WorkChange(session, athlete, what, data, seen, Source.IMPORT))
    record_entries(db, squad.id, changes, stamp=stamp, today=today)
    if documents:
        record_work(db, squad.id, documents, stamp=stamp, today=today)
    return {"entries": len(changes), "works": len(documents)}
