"""Sessions, what was done in them, and what was recorded."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

import numpy as np
from sqlalchemy import Row, and_, case, delete, func, or_, select, tuple_
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import undefer

from uvren.store.changes import whole_squads
from uvren.store.database import batches
from uvren.store.models import (
    ALSO_CALLED_OFF,
    STANDING_MARKS,
    Besides,
    DayMark,
    Entry,
    FieldEvent,
    LiveChunk,
    Recording,
    RecordingKind,
    Report,
    Segment,
    Session,
    SessionKind,
    Work,
)

# Kinds of session as whole numbers, for arrays.
KIND_CODES = {kind: code for code, kind in enumerate(SessionKind)}


# Minutes that somebody did. Who was planned for none of a session, and of whom nobody has said anything else, did none.
MINUTES_DONE = func.coalesce(Entry.minutes, case((and_(Entry.planned_minutes == 0, Entry.effort.is_(None)), 0.0)))


def entries_between(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, int, float | None, float | None]]:
    """(session_id, athlete, minutes, effort) of done sessions."""
    return db.execute(
        select(Entry.session_id, Entry.athlete_id.label("athlete"), MINUTES_DONE.label("minutes"), Entry.effort)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
    ).all()


@dataclass(frozen=True)
class EntryColumns:
    """Done entries of a squad, a column each; numbers as arrays, nan for null."""

    session_id: list[str]
    athlete: np.ndarray
    kind: np.ndarray
    place: list[str | None]
    day: np.ndarray
    minutes: np.ndarray
    effort: np.ndarray


def done_entries(db: DbSession, squad_id: int, first: date, last: date) -> EntryColumns:
    """Entries of done sessions with a day from ``first`` through ``last``; ``day`` as ordinals."""
    rows = db.execute(
        select(
            Entry.session_id,
            Entry.athlete_id,
            Session.kind,
            Session.place,
            Session.day,
            MINUTES_DONE,
            Entry.effort,
        )
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.done, Session.day.between(first, last))
    ).all()
    columns = list(zip(*rows, strict=True)) if rows else [()] * 7
    return EntryColumns(
        session_id=list(columns[0]),
        athlete=np.array(columns[1], dtype=np.int64),
        kind=np.array([KIND_CODES[kind] for kind in columns[2]], dtype=np.int64),
        place=list(columns[3]),
        day=np.array([day.toordinal() for day in columns[4]], dtype=np.int64),
        minutes=np.array(columns[5], dtype=np.float64),
        effort=np.array(columns[6], dtype=np.float64),
    )


def planned_between(db: DbSession, squad_id: int, first: date, last: date) -> list[Session]:
    """Sessions of the squad in order of time, also those that are called off: for who plans."""
    wanted = select(Session).where(Session.squad_id == squad_id, Session.day.between(first, last))
    return list(db.scalars(wanted.order_by(Session.starts_at), execution_options=ALSO_CALLED_OFF))


def any_session(db: DbSession, session_id: str) -> Session | None:
    """A session, also one that is called off."""
    return db.get(Session, session_id, populate_existing=True, execution_options=ALSO_CALLED_OFF)


def of_calendar(db: DbSession, squad_id: int, uids: Collection[str]) -> dict[str, Session]:
    """Sessions that come from these events of a calendar's file, also those that are called off."""
    return {
        session.calendar_uid or "": session
        for batch in batches(list(uids))
        for session in db.scalars(
            select(Session).where(Session.squad_id == squad_id, Session.calendar_uid.in_(batch)),
            execution_options=ALSO_CALLED_OFF,
        )
    }


def day_marks(db: DbSession, squad_id: int, first: date, last: date) -> dict[date, DayMark]:
    """What is said of days without a session."""
    query = select(DayMark).where(DayMark.squad_id == squad_id, DayMark.day.between(first, last), STANDING_MARKS)
    return {one.day: one for one in db.scalars(query)}


@whole_squads
def sessions_between(
    db: DbSession, squad_id: int, first: date, last: date, kind: SessionKind | None = None
) -> list[Session]:
    """Sessions of the squad in order of time; of one kind only, where it is given."""
    wanted = select(Session).where(Session.squad_id == squad_id, Session.day.between(first, last))
    if kind is not None:
        wanted = wanted.where(Session.kind == kind)
    return list(db.scalars(wanted.order_by(Session.starts_at)))


def unrated_counts(db: DbSession, session_ids: Collection[str]) -> dict[str, int]:
    """How many who took part, or may have, gave no rating, by session; only sessions that have any."""
    if not session_ids:
        return {}
    rows = db.execute(
        select(Entry.session_id, func.count())
        .where(
            Entry.session_id.in_(session_ids),
            Entry.effort.is_(None),
            or_(MINUTES_DONE.is_(None), MINUTES_DONE > 0),
        )
        .group_by(Entry.session_id)
    )
    return {row[0]: row[1] for row in rows}


def first_day(db: DbSession, squad_id: int) -> date | None:
    return db.execute(select(func.min(Session.day)).where(Session.squad_id == squad_id)).scalar()


def last_day(db: DbSession, squad_id: int) -> date | None:
    return db.execute(select(func.max(Session.day)).where(Session.squad_id == squad_id)).scalar()


def works_between(
    db: DbSession, squad_id: int, whats: Collection[str], first: date, last: date
) -> Sequence[Row[str, int, str, dict[str, Any]]]:
    """(session, athlete, what, data) of the squad's done sessions."""
    return db.execute(
        select(Work.session_id, Work.athlete_id, Work.what, Work.data)
        .join(Session, Session.id == Work.session_id)
        .where(Session.squad_id == squad_id, Session.done, Session.day.between(first, last), Work.what.in_(whats))
    ).all()


@whole_squads
def recordings_between(
    db: DbSession, squad_id: int, kinds: Collection[RecordingKind], first: date, last: date
) -> Sequence[Row[str, str, int, RecordingKind, dict[str, Any]]]:
    """(recording, session, athlete, kind, summary) of those that count."""
    return db.execute(
        select(Recording.id, Recording.session_id, Recording.athlete_id, Recording.kind, Recording.summary)
        .join(Session, Session.id == Recording.session_id)
        .where(
            Session.squad_id == squad_id,
            Session.day.between(first, last),
            Recording.counts,
            Recording.kind.in_(kinds),
        )
        .order_by(Recording.starts_at)
    ).all()


def segment_weights(db: DbSession, squad_id: int, first: date, last: date) -> dict[tuple[str, int], float]:
    """Weight by (session, place of the segment)."""
    rows = db.execute(
        select(Segment.session_id, Segment.place, Segment.weight)
        .join(Session, Session.id == Segment.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last))
    )
    return {(session, place): weight for session, place, weight in rows}


@whole_squads
def recording_qualities(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, int, RecordingKind, float | None, int, int, date]]:
    """(recording, athlete, kind, coverage, values dropped, values kept, day) of those that count."""
    return db.execute(
        select(
            Recording.id, Recording.athlete_id, Recording.kind, Recording.coverage, Recording.dropped,
            Recording.samples, Session.day,
        )
        .join(Session, Session.id == Recording.session_id)
        .where(Recording.squad_id == squad_id, Recording.counts, Session.day.between(first, last))
    ).all()  # fmt: skip


def entry_of(db: DbSession, session_id: str, athlete_id: int) -> Entry | None:
    """An athlete's entry in a session as the database has it now."""
    return db.scalar(
        select(Entry)
        .where(Entry.session_id == session_id, Entry.athlete_id == athlete_id)
        .execution_options(populate_existing=True)
    )


def entries_of(db: DbSession, sessions: Collection[str]) -> list[Entry]:
    return list(db.scalars(select(Entry).where(Entry.session_id.in_(sessions))))


def beside_of(db: DbSession, sessions: Collection[str]) -> dict[tuple[str, int], Besides]:
    """How people take part in these sessions without load, by (session, athlete)."""
    wanted = select(Entry.session_id, Entry.athlete_id, Entry.beside).where(
        Entry.session_id.in_(sessions), Entry.beside.is_not(None)
    )
    return {(session, athlete): how for session, athlete, how in db.execute(wanted) if how is not None}


def minutes_of(db: DbSession, athlete_id: int, sessions: Collection[str]) -> dict[str, float]:
    """Minutes that somebody did of these sessions, by session."""
    wanted = select(Entry.session_id, Entry.minutes).where(
        Entry.athlete_id == athlete_id, Entry.session_id.in_(sessions), Entry.minutes > 0
    )
    return {session: minutes for session, minutes in db.execute(wanted) if minutes is not None}


def entries_for_update(db: DbSession, pairs: Sequence[tuple[str, int]]) -> list[Entry]:
    """Entries of these (session, athlete), locked."""
    return [
        entry
        for batch in batches(pairs)
        for entry in db.scalars(
            select(Entry).where(tuple_(Entry.session_id, Entry.athlete_id).in_(batch)).with_for_update()
        )
    ]


def there_already(db: DbSession, pairs: Sequence[tuple[str, int]]) -> set[tuple[str, int]]:
    """Of these (session, athlete) those that have an entry."""
    there: set[tuple[str, int]] = set()
    for batch in batches(pairs):
        wanted = tuple_(Entry.session_id, Entry.athlete_id).in_(batch)
        there |= set(db.execute(select(Entry.session_id, Entry.athlete_id).where(wanted)))
    return there


def first_day_of(db: DbSession, squad_id: int, athlete_id: int, first: date) -> date | None:
    """The first day from one on, on which an athlete took part in a session of the squad."""
    query = select(func.min(Session.day)).join(Entry, Entry.session_id == Session.id)
    took_part = (Entry.athlete_id == athlete_id, or_(Entry.minutes > 0, Entry.effort.is_not(None)))
    return db.scalar(query.where(Session.squad_id == squad_id, Session.day >= first, *took_part))


def is_written_in(db: DbSession, session_id: str) -> bool:
    """Whether anything was entered in a session, or came in for it, beside what is planned."""
    said = or_(Entry.minutes.is_not(None), Entry.effort.is_not(None), Entry.words.is_not(None))
    kept = (
        select(Entry.id).where(Entry.session_id == session_id, said),
        select(Work.id).where(Work.session_id == session_id),
        select(Recording.id).where(Recording.session_id == session_id),
        select(Report.id).where(Report.session_id == session_id),
        select(FieldEvent.id).where(FieldEvent.session_id == session_id),
        select(LiveChunk.id).where(LiveChunk.session_id == session_id),
    )
    return any(db.scalar(one.limit(1)) is not None for one in kept)


def drop_session(db: DbSession, session: Session) -> None:
    """Delete a session with its parts and with what was planned in it."""
    for entry in entries_of(db, [session.id]):
        db.delete(entry)
    db.flush()
    db.delete(session)
    db.flush()


def drop_sessions(db: DbSession, ids: Sequence[str]) -> None:
    """Delete sessions of which there is nothing but their parts."""
    for batch in batches(ids):
        db.execute(delete(Segment).where(Segment.session_id.in_(batch)))
        db.execute(delete(Session).where(Session.id.in_(batch)))


def drop_entries(db: DbSession, ids: Sequence[str]) -> None:
    for batch in batches(ids):
        db.execute(delete(Entry).where(Entry.id.in_(batch)))


def people_in(db: DbSession, session_id: str) -> list[int]:
    """Athletes with an entry in a session."""
    return list(db.scalars(select(Entry.athlete_id).where(Entry.session_id == session_id)))


def days_trained(db: DbSession, squad_id: int, first: date, last: date) -> set[tuple[int, date]]:
    """(athlete, day) of everyone with an entry in a done session."""
    rows = db.execute(
        select(Entry.athlete_id, Session.day)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.done, Session.day.between(first, last))
        .distinct()
    )
    return set(rows)


def sessions_of(db: DbSession, squad_id: int, ids: Sequence[str]) -> dict[str, Session]:
    """Sessions of the squad among these ids."""
    return {
        session.id: session
        for batch in batches(ids)
        for session in db.scalars(select(Session).where(Session.id.in_(batch), Session.squad_id == squad_id))
    }


def last_begun(db: DbSession, squad_id: int, last: date, now: datetime) -> Session | None:
    """The session that began last by a day and a moment."""
    return db.scalars(
        select(Session)
        .where(Session.squad_id == squad_id, Session.day <= last, Session.starts_at <= now)
        .order_by(Session.starts_at.desc())
        .limit(1)
    ).first()


def in_use(db: DbSession, session_id: str) -> bool:
    """Whether anything was said or recorded of a session."""
    return any(
        db.scalar(select(table.id).where(table.session_id == session_id).limit(1)) is not None
        for table in (Entry, Work, Recording, FieldEvent, LiveChunk)
    )


def used_of(db: DbSession, sessions: Collection[str]) -> set[str]:
    """Those of these sessions of which anything was said or recorded."""
    return {
        session
        for batch in batches(list(sessions))
        for table in (Entry, Work, Recording, FieldEvent, LiveChunk)
        for session in db.scalars(select(table.session_id).where(table.session_id.in_(batch)).distinct())
        if session is not None
    }


def with_more_than_entry(db: DbSession, sessions: Collection[str]) -> set[tuple[str, int]]:
    """(session, athlete) of which there is work or a recording."""
    return {
        (session, athlete)
        for batch in batches(list(sessions))
        for table in (Work, Recording)
        for session, athlete in db.execute(
            select(table.session_id, table.athlete_id).where(table.session_id.in_(batch))
        )
        if session is not None
    }


# Work -----------------------------------------------------------------------------------------------------


def works_of(db: DbSession, sessions: Collection[str]) -> list[Work]:
    return list(db.scalars(select(Work).where(Work.session_id.in_(sessions))))


def works_for_update(db: DbSession, keys: Sequence[tuple[str, int, str]]) -> list[Work]:
    """Work of these (session, athlete, what), locked."""
    return [
        work
        for batch in batches(keys)
        for work in db.scalars(
            select(Work).where(tuple_(Work.session_id, Work.athlete_id, Work.what).in_(batch)).with_for_update()
        )
    ]


def work_of(db: DbSession, session_id: str, athlete_id: int, what: str) -> Work | None:
    return db.scalar(
        select(Work).where(Work.session_id == session_id, Work.athlete_id == athlete_id, Work.what == what)
    )


# Recordings -----------------------------------------------------------------------------------------------


def recordings_of(db: DbSession, session_id: str) -> list[Recording]:
    """Every recording of a session, by athlete and kind."""
    query = select(Recording).where(Recording.session_id == session_id)
    return list(db.scalars(query.order_by(Recording.athlete_id, Recording.kind)))


def counted_recordings(db: DbSession, session_id: str, athlete_id: int) -> list[Recording]:
    """An athlete's recordings of a session that count, by their beginning."""
    where = (Recording.session_id == session_id, Recording.athlete_id == athlete_id, Recording.counts)
    return list(db.scalars(select(Recording).where(*where).order_by(Recording.starts_at)))


def rival_recordings(db: DbSession, chosen: Recording) -> list[Recording]:
    """Other recordings of the same session, athlete and kind."""
    return list(
        db.scalars(
            select(Recording).where(
                Recording.session_id == chosen.session_id,
                Recording.athlete_id == chosen.athlete_id,
                Recording.kind == chosen.kind,
                Recording.id != chosen.id,
            )
        )
    )


def recording_spans(
    db: DbSession, sessions: Collection[str]
) -> Sequence[Row[str | None, int, RecordingKind, str, datetime, float]]:
    """(session, athlete, kind, recording, starts_at, seconds) of those that count."""
    return db.execute(
        select(
            Recording.session_id, Recording.athlete_id, Recording.kind, Recording.id, Recording.starts_at,
            Recording.seconds,
        ).where(Recording.session_id.in_(sessions), Recording.counts)
    ).all()  # fmt: skip


def last_positions(db: DbSession, squad_id: int, last: date, most: int, matches: bool) -> list[Recording]:
    """The last recordings of position that count, of matches or of other sessions, up to a day."""
    is_match = Session.kind == SessionKind.MATCH
    return list(
        db.scalars(
            select(Recording)
            .join(Session, Session.id == Recording.session_id)
            .where(
                Recording.squad_id == squad_id,
                Recording.kind == RecordingKind.POSITION,
                Recording.counts,
                Session.day <= last,
                is_match if matches else ~is_match,
            )
            .order_by(Recording.starts_at.desc(), Recording.id)
            .limit(most)
        )
    )


def raw_of_squad(db: DbSession, squad_id: int) -> Iterator[Recording]:
    """Every recording of the squad with its samples, one at a time."""
    ids = db.scalars(select(Recording.id).where(Recording.squad_id == squad_id).order_by(Recording.id)).all()
    for one in ids:
        recording = db.get_one(Recording, one, options=[undefer(Recording.data)])
        yield recording
        db.expire(recording, ["data"])


def raw_of(db: DbSession, ids: Collection[str]) -> Sequence[Row[str, RecordingKind, bytes]]:
    """(recording, kind, packed samples)."""
    return db.execute(select(Recording.id, Recording.kind, Recording.data).where(Recording.id.in_(ids))).all()
