"""What people report, one by one."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, select
from sqlalchemy.orm import Session as DbSession

from uvren.core.reports import ReportKind
from uvren.store.database import batches
from uvren.store.models import Complaint, Entry, Report, Session, Source


def _of_day(squad_id: int, athlete_id: int, kind: ReportKind, day: date, session_id: str | None) -> tuple[Any, ...]:
    return (
        Report.squad_id == squad_id,
        Report.athlete_id == athlete_id,
        Report.kind == kind,
        Report.day == day,
        Report.session_id == session_id if session_id else Report.session_id.is_(None),
    )


def standing_report(
    db: DbSession, squad_id: int, athlete_id: int, kind: ReportKind, day: date, session_id: str | None
) -> Report | None:
    """The report that counts, if there is one."""
    return db.scalar(select(Report).where(*_of_day(squad_id, athlete_id, kind, day, session_id), Report.counts))


def same_reports(db: DbSession, report: Report) -> list[Report]:
    """Every report of the same kind, day and session, whether it counts or not; itself too."""
    where = _of_day(report.squad_id, report.athlete_id, report.kind, report.day, report.session_id)
    return list(db.scalars(select(Report).where(*where)))


def days_reported(db: DbSession, squad_id: int, first: date, last: date) -> set[tuple[int, date]]:
    """(athlete, day) of which there is a daily report."""
    query = select(Report.athlete_id, Report.day).where(
        Report.squad_id == squad_id, Report.kind == ReportKind.DAILY, Report.counts, Report.day.between(first, last)
    )
    return {(athlete, day) for athlete, day in db.execute(query)}


def drop_reports(db: DbSession, squad_id: int, ids: Sequence[str]) -> None:
    """Delete reports that nobody has put another in the place of."""
    for batch in batches(list(ids)):
        replaced = set(db.scalars(select(Report.replaces).where(Report.replaces.in_(batch))))
        gone = [one for one in batch if one not in replaced]
        for report in db.scalars(select(Report).where(Report.squad_id == squad_id, Report.id.in_(gone))):
            db.delete(report)
    db.flush()


def reports_since(db: DbSession, squad_id: int, athlete_id: int, first: date) -> list[Report]:
    """All that an athlete reported for a day from ``first`` on, in order of entering."""
    query = select(Report).where(Report.squad_id == squad_id, Report.athlete_id == athlete_id, Report.day >= first)
    return list(db.scalars(query.order_by(Report.entered_at, Report.id)))


def squad_reports(db: DbSession, squad_id: int, first: date, last: date) -> list[Report]:
    """Daily and weekly reports of the squad, whether they count or not."""
    return list(
        db.scalars(
            select(Report).where(
                Report.squad_id == squad_id, Report.day.between(first, last), Report.kind != ReportKind.SESSION
            )
        )
    )


def complaints_with(db: DbSession, report_id: str) -> list[Complaint]:
    """Complaints that were told with a report."""
    return list(db.scalars(select(Complaint).where(Complaint.report_id == report_id)))


def open_complaints_of(db: DbSession, squad_id: int, athlete_id: int) -> list[Complaint]:
    """What an athlete told and no clinician closed, the newest first."""
    return list(
        db.scalars(
            select(Complaint)
            .where(Complaint.squad_id == squad_id, Complaint.athlete_id == athlete_id, Complaint.closed_on.is_(None))
            .order_by(Complaint.told_at.desc())
        )
    )


def own_sessions(
    db: DbSession, squad_id: int, athlete_id: int, first: date, now: datetime
) -> Sequence[Row[Session, Entry | None]]:
    """(session, the athlete's entry) of sessions begun since a day, the last one first."""
    return db.execute(
        select(Session, Entry)
        .outerjoin(Entry, (Entry.session_id == Session.id) & (Entry.athlete_id == athlete_id))
        .where(Session.squad_id == squad_id, Session.day >= first, Session.starts_at <= now)
        .order_by(Session.starts_at.desc())
    ).all()


def unrated_sessions(
    db: DbSession, squad_id: int, first: date, last: date, now: datetime
) -> Sequence[Row[int, Session]]:
    """(athlete, session) of begun sessions in which someone took part, or may have, and gave no rating."""
    return db.execute(
        select(Entry.athlete_id, Session)
        .join(Session, Session.id == Entry.session_id)
        .where(
            Session.squad_id == squad_id,
            Session.day.between(first, last),
            Session.starts_at <= now,
            Entry.effort.is_(None),
            (Entry.minutes.is_(None)) | (Entry.minutes > 0),
            (Entry.planned_minutes.is_(None)) | (Entry.planned_minutes > 0),
        )
        .order_by(Session.starts_at)
    ).all()


def reports_beside_staff(
    db: DbSession, squad_id: int, first: date, last: date
) -> Sequence[Row[Report, Entry, Session]]:
    """(report, entry, session) where an athlete reported a session that staff have rated for them."""
    return db.execute(
        select(Report, Entry, Session)
        .join(Session, Session.id == Report.session_id)
        .join(Entry, (Entry.session_id == Report.session_id) & (Entry.athlete_id == Report.athlete_id))
        .where(
            Report.squad_id == squad_id, Report.kind == ReportKind.SESSION, Report.counts,
            Report.day.between(first, last), Entry.source == Source.STAFF,
        )
    ).all()  # fmt: skip
