"""What was done and seen: of a squad, and what is the club's to know."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, Select, and_, func, or_, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import (
    Athlete,
    Audit,
    Squad,
    User,
)

# (id, at, who, athlete, action, subject, details)
AuditedRow = Row[int, datetime, str | None, str | None, str, str, dict[str, Any]]

# What is done about accounts in a squad and is the club's to know.
CLUB_ACTIONS = (
    "invited", "invitation_used", "invitation_withdrawn", "password_link", "account_on", "account_off",
    "athlete_copied", "athlete_erased", "athlete_anonymised",
)  # fmt: skip


def seen_since(db: DbSession, squad_id: int, by: int | None, what: str, since: datetime) -> set[int | None]:
    """Athletes of whom the audit says that someone saw this, after a moment."""
    return set(
        db.scalars(
            select(Audit.athlete_id).where(
                Audit.squad_id == squad_id, Audit.user_id == by, Audit.action == what, Audit.at > since
            )
        )
    )


def audited(
    db: DbSession,
    squad_id: int,
    *,
    first: date | None = None,
    last: date | None = None,
    athlete_id: int | None = None,
    user_id: int | None = None,
    action: str = "",
    before: int | None = None,
    most: int = 200,
) -> Sequence[AuditedRow]:
    """(id, at, who, athlete, action, subject, details) of a squad, newest first.

    ``action`` is a beginning, such as ``clinical``. ``before`` continues after the row of that id.
    """
    query = _audited(first, last, athlete_id, action, before, most).where(Audit.squad_id == squad_id)
    if user_id is not None:
        query = query.where(Audit.user_id == user_id)
    return db.execute(query).all()


def audited_of_club(
    db: DbSession,
    club_id: int,
    *,
    first: date | None = None,
    last: date | None = None,
    athlete_id: int | None = None,
    action: str = "",
    before: int | None = None,
    most: int = 200,
) -> Sequence[AuditedRow]:
    """The same of what is of no squad: sign-ins, passwords, second factors, links, accounts and the club's choices."""
    people = select(User.id).where(User.club_id == club_id)
    squads = select(Squad.id).where(Squad.club_id == club_id)
    of_people = and_(Audit.squad_id.is_(None), Audit.user_id.in_(people))
    of_accounts = and_(Audit.squad_id.in_(squads), Audit.action.in_(CLUB_ACTIONS))
    own = Audit.subject == f"club:{club_id}"
    query = _audited(first, last, athlete_id, action, before, most).where(or_(of_people, of_accounts, own))
    return db.execute(query).all()


def _audited(
    first: date | None, last: date | None, athlete_id: int | None, action: str, before: int | None, most: int
) -> Select[Any]:
    query = (
        select(
            Audit.id, Audit.at, User.name.label("who"), Athlete.name.label("athlete"), Audit.action, Audit.subject,
            Audit.details,
        )
        .outerjoin(User, User.id == Audit.user_id)
        .outerjoin(Athlete, Athlete.id == Audit.athlete_id)
        .order_by(Audit.id.desc())
        .limit(most)
    )  # fmt: skip
    if first is not None:
        query = query.where(func.date(Audit.at) >= first)
    if last is not None:
        query = query.where(func.date(Audit.at) <= last)
    if athlete_id is not None:
        query = query.where(Audit.athlete_id == athlete_id)
    if action:
        query = query.where(Audit.action.startswith(action, autoescape=True))
    return query if before is None else query.where(Audit.id < before)
