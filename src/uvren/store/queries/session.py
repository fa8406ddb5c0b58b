"""Sessions, what was done in them, and what was recorded."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from sqlalchemy import Row, func, or_, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.changes import whole_squads
from uvren.store.models import (
    Entry,
    Recording,
    RecordingKind,
    Segment,
    Session,
    SessionKind,
    Work,
)

# Kinds of session as whole numbers, for arrays.
KIND_CODES = {kind: code for code, kind in enumerate(SessionKind)}


def entries_between(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, int, float | None, float | None]]:
    """(session_id, athlete, minutes, effort) of done sessions."""
    return db.execute(
        select(Entry.session_id, Entry.athlete_id.label("athlete"), Entry.minutes, Entry.effort)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
    ).all()


def rated_of_kind(
    db: DbSession, squad_id: int, kind: SessionKind, first: date, last: date
) -> list[tuple[float, float, float]]:
    """(minutes, effort, minutes of the session) of everyone who rated a session of a kind."""
    rows = db.execute(
        select(Entry.minutes, Entry.effort, Session.planned_minutes)
        .join(Session, Session.id == Entry.session_id)
        .where(
            Session.squad_id == squad_id,
            Session.kind == kind,
            Session.done,
            Session.day.between(first, last),
            Entry.minutes.is_not(None),
            Entry.effort.is_not(None),
        )
    )
    return [(float(minutes or 0), float(effort or 0), planned) for minutes, effort, planned in rows]


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
            Entry.minutes,
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
            or_(Entry.minutes.is_(None), Entry.minutes > 0),
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
