"""What clinicians have said, complaints that are open, and trials of rest."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, datetime
from typing import Any

from sqlalchemy import and_, delete, func, or_, select
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import joinedload

from uvren.core.reports import ReportKind
from uvren.store.models import (
    Complaint,
    ComplaintKind,
    Entry,
    Report,
    Restriction,
    RestTrial,
    ReturnEvent,
    ReturnKind,
    ReturnPlan,
    ReturnStep,
    Session,
    SessionKind,
    SideCheck,
    Source,
)


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


def restrictions_on(db: DbSession, squad_id: int, day: date) -> list[Restriction]:
    """What clinicians have said of training and stands on a day, what was said last coming last."""
    return [one for one in restrictions_until(db, squad_id, day) if one.to_day is None or one.to_day >= day]


def unseen(db: DbSession, squad_id: int, today: date) -> int:
    """How many complaints no clinician has looked at yet, or are to be looked at again."""
    waits = or_(Complaint.seen_at.is_(None), and_(Complaint.again_on <= today, Complaint.closed_on.is_(None)))
    return db.scalar(select(func.count()).where(Complaint.squad_id == squad_id, waits)) or 0


def complaints_until(db: DbSession, squad_id: int, day: date, closed_after: date) -> list[Complaint]:
    """Complaints told up to a day that are open, or were closed after another; newest first."""
    return list(
        db.scalars(
            select(Complaint)
            .where(
                Complaint.squad_id == squad_id,
                Complaint.day <= day,
                or_(Complaint.closed_on.is_(None), Complaint.closed_on > closed_after),
            )
            .order_by(Complaint.told_at.desc())
        )
    )


def pains_between(
    db: DbSession, squad_id: int, athletes: Collection[int], first: date, last: date
) -> list[tuple[int, ReportKind | None, date, str | None, str | None, float | None]]:
    """(athlete, kind of report, day, site, side, severity) of what was told to hurt, closed since or not."""
    rows = db.execute(
        select(Complaint.athlete_id, Report.kind, Complaint.day, Complaint.site, Complaint.side, Complaint.severity)
        .outerjoin(Report, Report.id == Complaint.report_id)
        .where(
            Complaint.squad_id == squad_id,
            Complaint.athlete_id.in_(athletes),
            Complaint.kind == ComplaintKind.PAIN,
            Complaint.day.between(first, last),
        )
    )
    return [(athlete, kind, day, site, side, severity) for athlete, kind, day, site, side, severity in rows]


def rated_by_themselves(
    db: DbSession, squad_id: int, athletes: Collection[int], first: date, last: date
) -> set[tuple[int, date]]:
    """(athlete, day) of sessions that were rated by who was in them: what hurt was asked with it."""
    rows = db.execute(
        select(Entry.athlete_id, Session.day)
        .join(Session, Session.id == Entry.session_id)
        .where(
            Session.squad_id == squad_id,
            Session.day.between(first, last),
            Entry.athlete_id.in_(athletes),
            Entry.source == Source.ATHLETE,
            Entry.effort.is_not(None),
        )
    )
    return {(athlete, day) for athlete, day in rows}


def side_checks(db: DbSession, squad_id: int, as_of: date) -> list[SideCheck]:
    """Checks of sides that had begun by a day and were not over on it."""
    wanted = select(SideCheck).where(
        SideCheck.squad_id == squad_id,
        SideCheck.from_day <= as_of,
        or_(SideCheck.ended_on.is_(None), SideCheck.ended_on > as_of),
    )
    return list(db.scalars(wanted.order_by(SideCheck.from_day, SideCheck.id)))


def open_trial(db: DbSession, squad_id: int, athlete_id: int) -> RestTrial | None:
    """The trial of rest that is under way, locked."""
    return db.scalar(
        select(RestTrial)
        .where(
            RestTrial.squad_id == squad_id,
            RestTrial.athlete_id == athlete_id,
            RestTrial.judged_on.is_(None),
            RestTrial.withdrawn_at.is_(None),
        )
        .with_for_update()
    )


def same_complaint(db: DbSession, squad_id: int, what: dict[str, Any]) -> Complaint | None:
    """A complaint that is open and says just this."""
    where = [getattr(Complaint, name) == value for name, value in what.items()]
    where += [Complaint.squad_id == squad_id, Complaint.closed_on.is_(None)]
    return db.scalar(select(Complaint).where(*where).limit(1))


def return_plans(db: DbSession, squad_id: int, first: date, last: date) -> list[ReturnPlan]:
    """Plans to come back that begin by ``last`` with the break, and had not ended before ``first``; oldest first."""
    begins = func.coalesce(ReturnPlan.first_off, ReturnPlan.first_day)
    return list(
        db.scalars(
            select(ReturnPlan)
            .where(
                ReturnPlan.squad_id == squad_id,
                begins <= last,
                or_(ReturnPlan.ended_on.is_(None), ReturnPlan.ended_on >= first),
            )
            .order_by(ReturnPlan.made_at, ReturnPlan.id)
            .options(joinedload(ReturnPlan.maker))
        )
    )


def cases_between(db: DbSession, squad_id: int, first: date, last: date) -> list[ReturnPlan]:
    """Plans after an injury or an illness whose break began within some days, the newest first."""
    wanted = select(ReturnPlan).where(
        ReturnPlan.squad_id == squad_id,
        ReturnPlan.kind.in_((ReturnKind.INJURY, ReturnKind.ILLNESS)),
        ReturnPlan.first_off.between(first, last),
    )
    return list(db.scalars(wanted.order_by(ReturnPlan.first_off.desc(), ReturnPlan.id)))


def minutes_between(db: DbSession, squad_id: int, first: date, last: date) -> dict[bool, float]:
    """Minutes that everybody together was in sessions of some days: of matches (True), and of all else."""
    is_match = Session.kind == SessionKind.MATCH
    rows = db.execute(
        select(is_match, func.sum(Entry.minutes))
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad_id, Session.day.between(first, last), Session.done)
        .group_by(is_match)
    )
    return {bool(match): float(minutes or 0.0) for match, minutes in rows}


def return_plan(db: DbSession, squad_id: int, name: str) -> ReturnPlan | None:
    """One plan of a squad, locked."""
    wanted = select(ReturnPlan).where(ReturnPlan.squad_id == squad_id, ReturnPlan.id == name)
    return db.scalars(wanted.with_for_update().execution_options(populate_existing=True)).one_or_none()


def return_events(db: DbSession, plans: Collection[str]) -> list[ReturnEvent]:
    """What happened to plans, in order, what was taken back left out."""
    if not plans:
        return []
    return list(
        db.scalars(
            select(ReturnEvent)
            .where(ReturnEvent.plan_id.in_(plans), ReturnEvent.withdrawn_at.is_(None))
            .order_by(ReturnEvent.said_at, ReturnEvent.id)
        )
    )


def return_event(db: DbSession, plan_id: str, name: str) -> ReturnEvent | None:
    """One thing that happened to a plan."""
    return db.scalar(select(ReturnEvent).where(ReturnEvent.plan_id == plan_id, ReturnEvent.id == name))


def ended_at(db: DbSession, squad_id: int, athlete_id: int, moment: datetime) -> ReturnEvent | None:
    """The end of a plan of an athlete that was said at a moment, and holds."""
    wanted = select(ReturnEvent).where(
        ReturnEvent.squad_id == squad_id,
        ReturnEvent.athlete_id == athlete_id,
        ReturnEvent.step == ReturnStep.ENDED,
        ReturnEvent.said_at == moment,
        ReturnEvent.withdrawn_at.is_(None),
    )
    return db.scalars(wanted).first()


def drop_plan(db: DbSession, plan: ReturnPlan) -> None:
    """Delete a plan with all that happened to it."""
    db.execute(delete(ReturnEvent).where(ReturnEvent.plan_id == plan.id))
    db.delete(plan)
    db.flush()
