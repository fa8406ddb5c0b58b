"""Reads that return plain rows for the arithmetic: no objects are built on the way."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

import numpy as np
from sqlalchemy import Row, Text, func, or_, select, type_coerce
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import joinedload, selectinload

from uvren.core.reports import ReportKind
from uvren.core.windows import Floats
from uvren.store.changes import whole_squads
from uvren.store.models import (
    Anchor,
    AnchorKind,
    Athlete,
    Call,
    Channel,
    Complaint,
    DailyLoad,
    Entry,
    FitnessResult,
    FitnessTest,
    Limit,
    Membership,
    NoticeSetting,
    Recording,
    RecordingKind,
    Report,
    ReportForm,
    Restriction,
    RestTrial,
    Segment,
    Session,
    SessionKind,
    User,
    Work,
)

# Kinds of session as whole numbers, for arrays.
KIND_CODES = {kind: code for code, kind in enumerate(SessionKind)}


@dataclass(frozen=True, slots=True)
class Member:
    """An athlete of a squad on a day."""

    athlete_id: int
    name: str
    number: int | None
    position: str
    from_day: date


@whole_squads
def members(db: DbSession, squad_id: int, day: date) -> list[Member]:
    """Who belongs to the squad on the day, by name."""
    rows = db.execute(
        select(Athlete.id, Athlete.name, Membership.number, Membership.position, Membership.from_day)
        .join(Membership, Membership.athlete_id == Athlete.id)
        .where(
            Membership.squad_id == squad_id,
            Membership.from_day <= day,
            or_(Membership.to_day.is_(None), Membership.to_day >= day),
        )
        .order_by(Athlete.name)
    )
    return [Member(*row) for row in rows]


def main_channel(db: DbSession, squad_id: int) -> Channel:
    return db.execute(select(Channel).where(Channel.squad_id == squad_id, Channel.is_main)).scalar_one()


@whole_squads
def channels(db: DbSession, squad_id: int) -> list[Channel]:
    """The squad's channels, the main one first, each with its definitions."""
    return list(
        db.scalars(
            select(Channel)
            .where(Channel.squad_id == squad_id)
            .options(selectinload(Channel.definitions))
            .order_by(Channel.is_main.desc(), Channel.rank, Channel.id)
        )
    )


def daily_loads(
    db: DbSession, channel_ids: Collection[int], athletes: Collection[int], until: date, since: date | None = None
) -> Floats:
    """Rows of channel, athlete, day (an ordinal), load (nan: missing) and estimate, shape (n, 5).

    From ``since``, or the first day, through ``until``.
    """
    # The server counts from a day 365 earlier than Python does.
    ordinal = (func.to_days(DailyLoad.day) - 365).label("ordinal")
    statement = select(DailyLoad.channel_id, DailyLoad.athlete_id, ordinal, DailyLoad.load, DailyLoad.estimated).where(
        DailyLoad.channel_id.in_(channel_ids), DailyLoad.athlete_id.in_(athletes), DailyLoad.day <= until
    )
    if since is not None:
        statement = statement.where(DailyLoad.day >= since)
    # Tens of thousands of rows are taken as the driver has them, without an object for each.
    cursor = db.connection().execute(statement).cursor
    assert cursor is not None
    return np.array(cursor.fetchall(), dtype=np.float64).reshape(-1, 5)


@whole_squads
def plan(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, date, SessionKind, float, float, str | None, bool]]:
    """(session, day, kind, minutes, effort, place, done) of the squad's sessions."""
    return db.execute(
        select(
            Session.id,
            Session.day,
            Session.kind,
            Session.planned_minutes,
            Session.planned_effort,
            Session.place,
            Session.done,
        ).where(Session.squad_id == squad_id, Session.day.between(first, last))
    ).all()


def own_plans(
    db: DbSession, session_ids: Collection[str]
) -> Sequence[Row[str, int, float | None, float | None, float | None]]:
    """(session, athlete, planned minutes, planned effort, minutes) where an athlete has an entry."""
    if not session_ids:
        return []
    return db.execute(
        select(Entry.session_id, Entry.athlete_id, Entry.planned_minutes, Entry.planned_effort, Entry.minutes).where(
            Entry.session_id.in_(session_ids)
        )
    ).all()


def _of(statement: Any, column: Any, athletes: Collection[int] | None) -> Any:
    """A query of some athletes only; of everybody where they are not given."""
    return statement if athletes is None else statement.where(column.in_(athletes))


def done_minutes(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int] | None = None
) -> Sequence[Row[int, date, SessionKind, float | None, float | None, str | None]]:
    """(athlete, day, kind, minutes, effort, place) of what was done in the squad's sessions."""
    wanted = (
        select(Entry.athlete_id, Session.day, Session.kind, Entry.minutes, Entry.effort, Session.place)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
    )
    return db.execute(_of(wanted, Entry.athlete_id, athletes)).all()


def unrated_between(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int]
) -> Sequence[Row[int, date, SessionKind, float, float | None, str | None]]:
    """(athlete, day, kind, minutes, effort, place) of everyone who took part, or may have, in what was done.

    Minutes are those planned where nobody has said how many it were.
    """
    minutes = func.coalesce(Entry.minutes, Entry.planned_minutes, Session.planned_minutes)
    return db.execute(
        select(Entry.athlete_id, Session.day, Session.kind, minutes, Entry.effort, Session.place)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done, minutes > 0)
        .where(Entry.athlete_id.in_(athletes))
    ).all()


@whole_squads
def hours_between(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[date, SessionKind, datetime, float]]:
    """(day, kind, start, planned minutes) of the squad's sessions."""
    return db.execute(
        select(Session.day, Session.kind, Session.starts_at, Session.planned_minutes).where(
            Session.squad_id == squad_id, Session.day.between(first, last)
        )
    ).all()


def entries_between(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[str, int, float | None, float | None]]:
    """(session_id, athlete, minutes, effort) of done sessions."""
    return db.execute(
        select(Entry.session_id, Entry.athlete_id.label("athlete"), Entry.minutes, Entry.effort)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
    ).all()


def efforts_between(
    db: DbSession, squad_id: int, first: date, last: date, athletes: Collection[int]
) -> Sequence[Row[int, date, SessionKind, float, float | None, float | None]]:
    """(athlete, day, kind, planned effort, effort, minutes) of what was done, in order of time."""
    return db.execute(
        select(
            Entry.athlete_id,
            Session.day,
            Session.kind,
            func.coalesce(Entry.planned_effort, Session.planned_effort),
            Entry.effort,
            Entry.minutes,
        )
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
        .where(Entry.athlete_id.in_(athletes))
        .order_by(Session.starts_at)
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
def limits_until(db: DbSession, squad_id: int, last: date) -> list[tuple[Limit, str]]:
    """Every limit of the squad that begins by ``last``, oldest first, with the name of who set it."""
    rows = db.execute(
        select(Limit, User.name)
        .join(User, User.id == Limit.set_by)
        .where(
            Limit.squad_id == squad_id,
            Limit.from_day <= last,
            Limit.withdrawn_at.is_(None),
        )
        .order_by(Limit.set_at, Limit.id)
    )
    return [(limit, name) for limit, name in rows]


def calls_on(db: DbSession, squad_id: int, day: date) -> dict[int, tuple[Call, str]]:
    """The call that stands for each athlete on the day, with its maker's name."""
    rows = db.execute(
        select(Call, User.name)
        .join(User, User.id == Call.made_by)
        .where(Call.squad_id == squad_id, Call.day == day, Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {call.athlete_id: (call, name) for call, name in rows}


def words_of(db: DbSession, squad_id: int, athlete_id: int, first: date, last: date) -> list[tuple[date, str]]:
    """(day, words) that an athlete gave with reports that count, or with ratings, newest first."""
    reports = db.execute(
        select(Report.day, Report.words).where(
            Report.squad_id == squad_id, Report.athlete_id == athlete_id, Report.day.between(first, last),
            Report.counts, Report.words.is_not(None),
        )
    )  # fmt: skip
    ratings = db.execute(
        select(Session.day, Entry.words)
        .join(Session, Session.id == Entry.session_id)
        .where(
            Session.squad_id == squad_id, Entry.athlete_id == athlete_id, Session.day.between(first, last),
            Entry.words.is_not(None), Entry.words != "",
        )
    )  # fmt: skip
    found = {(day, words) for day, words in (*reports, *ratings) if words}
    return sorted(found, reverse=True)


def calls_between(db: DbSession, squad_id: int, first: date, last: date) -> dict[tuple[int, date], Call]:
    """The call that stands for each (athlete, day)."""
    rows = db.scalars(
        select(Call)
        .where(Call.squad_id == squad_id, Call.day.between(first, last), Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {(call.athlete_id, call.day): call for call in rows}


def restrictions_until(db: DbSession, squad_id: int, last: date) -> list[Restriction]:
    """What clinicians have said of training up to a day, and did not withdraw; what was said last comes last."""
    return list(
        db.scalars(
            select(Restriction)
            .where(Restriction.squad_id == squad_id, Restriction.from_day <= last, Restriction.withdrawn_at.is_(None))
            .order_by(Restriction.set_at, Restriction.id)
            .options(joinedload(Restriction.setter))
        )
    )


def rest_trials_until(db: DbSession, squad_id: int, last: date) -> list[RestTrial]:
    """Rest trials that begin by a day, the last one of each athlete last."""
    return list(
        db.scalars(
            select(RestTrial)
            .where(RestTrial.squad_id == squad_id, RestTrial.from_day <= last, RestTrial.withdrawn_at.is_(None))
            .order_by(RestTrial.from_day, RestTrial.id)
        )
    )


def open_complaints(db: DbSession, squad_id: int, day: date) -> list[Complaint]:
    """Complaints that were open at the end of a day, oldest first."""
    return list(
        db.scalars(
            select(Complaint)
            .where(
                Complaint.squad_id == squad_id,
                Complaint.day <= day,
                or_(Complaint.closed_on.is_(None), Complaint.closed_on > day),
            )
            .order_by(Complaint.day, Complaint.told_at)
        )
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


def members_ever(db: DbSession, squad_id: int) -> set[int]:
    """Athletes that are or were in the squad."""
    return set(db.scalars(select(Membership.athlete_id).where(Membership.squad_id == squad_id)))


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
def anchors_until(
    db: DbSession, athletes: Collection[int], last: date, only: AnchorKind | None = None
) -> Sequence[Row[int, AnchorKind, date, float | None, str | None]]:
    """(athlete, kind, from day, value, word), the oldest first; of one day the one set last comes last."""
    statement = (
        select(Anchor.athlete_id, Anchor.kind, Anchor.from_day, Anchor.value, Anchor.word)
        .where(Anchor.athlete_id.in_(athletes), Anchor.from_day <= last, Anchor.withdrawn_at.is_(None))
        .order_by(Anchor.from_day, Anchor.set_at, Anchor.id)
    )
    return db.execute(statement if only is None else statement.where(Anchor.kind == only)).all()


@whole_squads
def notice_settings_until(db: DbSession, squad_id: int, day: date) -> list[NoticeSetting]:
    """Settings of notices that begin by a day, the one set last coming last."""
    return list(
        db.scalars(
            select(NoticeSetting)
            .where(
                NoticeSetting.squad_id == squad_id, NoticeSetting.from_day <= day, NoticeSetting.withdrawn_at.is_(None)
            )
            .order_by(NoticeSetting.from_day, NoticeSetting.set_at, NoticeSetting.id)
        )
    )


@whole_squads
def report_forms(db: DbSession, squad_id: int) -> list[ReportForm]:
    """Every form of the squad, by its first day."""
    query = select(ReportForm).where(ReportForm.squad_id == squad_id)
    return list(db.scalars(query.order_by(ReportForm.from_day, ReportForm.id)))


@whole_squads
def tests_of(db: DbSession, squad_id: int) -> list[FitnessTest]:
    """The fitness tests that the squad uses, in its order."""
    query = select(FitnessTest).where(FitnessTest.squad_id == squad_id, FitnessTest.withdrawn_at.is_(None))
    return list(db.scalars(query.order_by(FitnessTest.rank, FitnessTest.id)))


@whole_squads
def test_results_between(
    db: DbSession, test_ids: list[int], first: date, last: date, entered_before: datetime
) -> list[FitnessResult]:
    """Results of tests, oldest first, as far as they had been entered by a moment."""
    return list(
        db.scalars(
            select(FitnessResult)
            .where(
                FitnessResult.test_id.in_(test_ids),
                FitnessResult.day.between(first, last),
                FitnessResult.entered_at < entered_before,
            )
            .order_by(FitnessResult.day, FitnessResult.id)
        )
    )


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


def reports_between(
    db: DbSession, squad_id: int, kinds: Collection[ReportKind], first: date, last: date, athletes: Collection[int]
) -> list[tuple[int, ReportKind, date, dict[str, Any]]]:
    """(athlete, kind, day, answers) of the reports that count."""
    rows = db.execute(
        select(Report.athlete_id, Report.kind, Report.day, type_coerce(Report.answers, Text)).where(
            Report.squad_id == squad_id,
            Report.athlete_id.in_(athletes),
            Report.kind.in_(kinds),
            Report.day.between(first, last),
            Report.counts,
        )
    ).all()
    # Thousands of small documents are read as one.
    documents = json.loads(f"[{','.join(text for *_, text in rows)}]")
    return [(athlete, kind, day, answers) for (athlete, kind, day, _), answers in zip(rows, documents, strict=True)]


def last_calls(db: DbSession, squad_id: int, day: date) -> dict[int, Call]:
    """The last call of each athlete up to a day."""
    newest = (
        select(Call.athlete_id, func.max(Call.day).label("day"))
        .where(Call.squad_id == squad_id, Call.withdrawn_at.is_(None), Call.day <= day)
        .group_by(Call.athlete_id)
        .subquery()
    )
    found = db.scalars(
        select(Call)
        .join(newest, (newest.c.athlete_id == Call.athlete_id) & (newest.c.day == Call.day))
        .where(Call.squad_id == squad_id, Call.withdrawn_at.is_(None))
        .order_by(Call.made_at, Call.id)
    )
    return {call.athlete_id: call for call in found}


def restrictions_on(db: DbSession, squad_id: int, day: date) -> list[Restriction]:
    """What clinicians have said of training and stands on a day, what was said last coming last."""
    return [one for one in restrictions_until(db, squad_id, day) if one.to_day is None or one.to_day >= day]
