"""What clinicians have said, complaints that are open, and trials of rest."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import and_, func, or_, select
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import joinedload

from uvren.store.models import (
    Complaint,
    Restriction,
    RestTrial,
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
