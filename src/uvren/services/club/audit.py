"""Who saw or changed what. Rows are only ever added; the database refuses anything else."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.database import insert_many
from uvren.store.models import Athlete, Audit, Squad, User

# Looking at the same page again within this time is the same look.
ONE_LOOK = timedelta(minutes=30)


def note(
    db: DbSession,
    action: str,
    subject: str,
    *,
    by: int | None,
    now: datetime,
    squad_id: int | None = None,
    athlete_id: int | None = None,
    **details: Any,
) -> None:
    """Add a row: who did what to which subject, such as ``report:01J…``. Does not commit."""
    db.add(
        Audit(
            at=now, user_id=by, squad_id=squad_id, athlete_id=athlete_id, action=action, subject=subject,
            details=details,
        )
    )  # fmt: skip


def saw(db: DbSession, what: str, athletes: Collection[int], *, by: int, squad_id: int, now: datetime) -> None:
    """Note that clinical data or own limits of these athletes were looked at, once a look. Does not commit."""
    if not athletes:
        return
    recent = set(
        db.scalars(
            select(Audit.athlete_id).where(
                Audit.squad_id == squad_id, Audit.user_id == by, Audit.action == what, Audit.at > now - ONE_LOOK
            )
        )
    )
    rows = [
        {"at": now, "user_id": by, "squad_id": squad_id, "athlete_id": athlete, "action": what,
         "subject": f"athlete:{athlete}", "details": {}}
        for athlete in sorted(athletes) if athlete not in recent
    ]  # fmt: skip
    if rows:
        insert_many(db, Audit, rows)


def read(
    db: DbSession,
    squad: Squad,
    *,
    first: date | None = None,
    last: date | None = None,
    athlete_id: int | None = None,
    user_id: int | None = None,
    action: str = "",
    before: int | None = None,
    most: int = 200,
) -> Sequence[Any]:
    """Rows of a squad, newest first: id, moment, name of who, athlete's name, action, subject, details.

    ``action`` is a beginning, such as ``clinical``. ``before`` continues after the row of that id.
    """
    query = (
        select(
            Audit.id, Audit.at, User.name.label("who"), Athlete.name.label("athlete"), Audit.action, Audit.subject,
            Audit.details,
        )
        .outerjoin(User, User.id == Audit.user_id)
        .outerjoin(Athlete, Athlete.id == Audit.athlete_id)
        .where(Audit.squad_id == squad.id)
        .order_by(Audit.id.desc())
        .limit(most)
    )  # fmt: skip
    if first is not None:
        query = query.where(func.date(Audit.at) >= first)
    if last is not None:
        query = query.where(func.date(Audit.at) <= last)
    if athlete_id is not None:
        query = query.where(Audit.athlete_id == athlete_id)
    if user_id is not None:
        query = query.where(Audit.user_id == user_id)
    if action:
        query = query.where(Audit.action.startswith(action, autoescape=True))
    if before is not None:
        query = query.where(Audit.id < before)
    return db.execute(query).all()
