"""People who sign in, what they may do, their links and sign-ins, consent and the audit."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, Table, delete, func, or_, select, update
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import (
    Alias,
    Athlete,
    Audit,
    Base,
    Call,
    Club,
    Complaint,
    Consent,
    Entry,
    Invitation,
    Membership,
    Report,
    Restriction,
    Role,
    RoleGrant,
    SignIn,
    SignInTry,
    Squad,
    User,
)

# People ---------------------------------------------------------------------------------------------------


def user_named(db: DbSession, login: str) -> User | None:
    return db.scalar(select(User).where(User.login == login))


def user_names(db: DbSession, club_id: int) -> dict[int, str]:
    """Names of the club's users, by id."""
    rows = db.execute(select(User.id, User.name).where(User.club_id == club_id))
    return {row[0]: row[1] for row in rows}


def athlete_names(db: DbSession, club_id: int) -> dict[int, str]:
    """Names of the club's athletes, by id."""
    rows = db.execute(select(Athlete.id, Athlete.name).where(Athlete.club_id == club_id))
    return {row[0]: row[1] for row in rows}


def users_of(db: DbSession, athletes: Collection[int]) -> dict[int, int]:
    """The user's id of each of these athletes who can sign in."""
    rows = db.execute(select(User.athlete_id, User.id).where(User.athlete_id.in_(athletes)))
    return {athlete: user for athlete, user in rows if athlete is not None}


def staff_roles(db: DbSession, squad_id: int) -> Sequence[Row[str, Role]]:
    """(name, role) of everyone who works with a squad, by name; athletes and switched-off accounts left out."""
    return db.execute(
        select(User.name, RoleGrant.role)
        .join(RoleGrant, RoleGrant.user_id == User.id)
        .where(RoleGrant.squad_id == squad_id, RoleGrant.role != Role.ATHLETE, User.active)
        .order_by(User.name)
    ).all()


def is_staff(db: DbSession, user_id: int) -> bool:
    """Whether someone has a role other than an athlete's in any squad."""
    return db.scalar(_staff_grants(user_id)) is not None


def _staff_grants(user_id: int) -> Any:
    return select(RoleGrant.id).where(RoleGrant.user_id == user_id, RoleGrant.role != Role.ATHLETE).limit(1)


def grant_of(db: DbSession, user_id: int, squad_id: int) -> RoleGrant | None:
    return db.scalar(select(RoleGrant).where(RoleGrant.user_id == user_id, RoleGrant.squad_id == squad_id))


def grants(db: DbSession, squad_id: int) -> Sequence[Row[User, Role, int]]:
    """(user, role, id of the grant) of everyone with a role in a squad, by name."""
    return db.execute(
        select(User, RoleGrant.role, RoleGrant.id)
        .join(RoleGrant, RoleGrant.user_id == User.id)
        .where(RoleGrant.squad_id == squad_id)
        .order_by(User.name)
    ).all()


def squad_named(db: DbSession, slug: str) -> Squad | None:
    return db.scalar(select(Squad).where(Squad.slug == slug))


def squads(db: DbSession, ids: Collection[int] | None = None) -> list[Squad]:
    """Squads by name: those of these ids, or all."""
    query = select(Squad).order_by(Squad.name)
    return list(db.scalars(query if ids is None else query.where(Squad.id.in_(ids))))


def clubs(db: DbSession) -> list[Club]:
    return list(db.scalars(select(Club)))


# Signing in -----------------------------------------------------------------------------------------------


def failed_tries(db: DbSession, since: datetime, *, login: str | None = None, address: str | None = None) -> int:
    """Tries to sign in that failed since a moment: for a name, or from an address."""
    query = select(func.count()).where(SignInTry.at > since)
    if login is not None:
        query = query.where(SignInTry.login == login)
    if address is not None:
        query = query.where(SignInTry.address == address)
    return db.scalar(query) or 0


def forget_tries(db: DbSession, login: str, before: datetime) -> None:
    """Forget failed tries of a name, and everyone's from before a moment."""
    db.execute(delete(SignInTry).where(or_(SignInTry.login == login, SignInTry.at < before)))


def sign_ins_of(db: DbSession, user_id: int, now: datetime) -> list[SignIn]:
    """Where a user is signed in, the latest first."""
    query = select(SignIn).where(SignIn.user_id == user_id, SignIn.expires_at > now)
    return list(db.scalars(query.order_by(SignIn.created_at.desc())))


def signed_in_since(db: DbSession, user_id: int, since: datetime) -> list[datetime]:
    """When a user signed in, after a moment."""
    return list(db.scalars(select(SignIn.created_at).where(SignIn.user_id == user_id, SignIn.created_at > since)))


def drop_expired_sign_ins(db: DbSession, now: datetime) -> None:
    db.execute(delete(SignIn).where(SignIn.expires_at < now))


def end_sign_in(db: DbSession, digest: str) -> None:
    db.execute(delete(SignIn).where(SignIn.token_digest == digest))


def end_one_sign_in(db: DbSession, user_id: int, sign_in_id: str) -> bool:
    """End one sign-in of a user. Returns whether there was one."""
    gone = db.execute(delete(SignIn).where(SignIn.user_id == user_id, SignIn.id == sign_in_id))
    return bool(gone.rowcount)  # type: ignore[attr-defined]


def end_sign_ins(db: DbSession, user_id: int, keep: str | None = None) -> None:
    """End every sign-in of a user, but that of the digest to keep."""
    query = delete(SignIn).where(SignIn.user_id == user_id)
    db.execute(query if keep is None else query.where(SignIn.token_digest != keep))


def saw_sign_in(db: DbSession, digest: str, now: datetime, before: datetime) -> None:
    """Note that a sign-in is in use, where that was last noted before a moment."""
    db.execute(
        update(SignIn)
        .where(SignIn.token_digest == digest, SignIn.seen_at < before)
        .values(seen_at=now)
        .execution_options(synchronize_session=False)
    )


def signed_in(
    db: DbSession, digest: str, now: datetime
) -> Sequence[Row[int, str, int, int | None, bool, int | None, Role | None]]:
    """(id, name, club_id, athlete_id, performance_reads_clinical, squad_id, role) of a token's user, a row a role."""
    return db.execute(
        select(
            User.id,
            User.name,
            User.club_id,
            User.athlete_id,
            Club.performance_reads_clinical,
            RoleGrant.squad_id,
            RoleGrant.role,
        )
        .join(SignIn, SignIn.user_id == User.id)
        .join(Club, Club.id == User.club_id)
        .outerjoin(RoleGrant, RoleGrant.user_id == User.id)
        .where(SignIn.token_digest == digest, SignIn.expires_at > now, User.active)
    ).all()


# Links ----------------------------------------------------------------------------------------------------


def invitation_for_update(db: DbSession, digest: str) -> Invitation | None:
    """The link of a token, locked: of two who use it at once the second waits."""
    return db.scalar(select(Invitation).where(Invitation.token_digest == digest).with_for_update())


def open_invitations(db: DbSession, squad_id: int, now: datetime) -> list[Invitation]:
    """Links that can still be used, in order of making."""
    return list(
        db.scalars(
            select(Invitation)
            .where(
                Invitation.squad_id == squad_id,
                Invitation.used_at.is_(None),
                Invitation.withdrawn_at.is_(None),
                Invitation.expires_at > now,
            )
            .order_by(Invitation.made_at)
        )
    )


# Audit ----------------------------------------------------------------------------------------------------


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
) -> Sequence[Row[int, datetime, str | None, str | None, str, str, dict[str, Any]]]:
    """(id, at, who, athlete, action, subject, details) of a squad, newest first.

    ``action`` is a beginning, such as ``clinical``. ``before`` continues after the row of that id.
    """
    query = (
        select(
            Audit.id, Audit.at, User.name.label("who"), Athlete.name.label("athlete"), Audit.action, Audit.subject,
            Audit.details,
        )
        .outerjoin(User, User.id == Audit.user_id)
        .outerjoin(Athlete, Athlete.id == Audit.athlete_id)
        .where(Audit.squad_id == squad_id)
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


# Consent and forgetting -----------------------------------------------------------------------------------


def consent_of(db: DbSession, athlete_id: int) -> Consent | None:
    """The consent that stands."""
    query = select(Consent).where(Consent.athlete_id == athlete_id, Consent.withdrawn_at.is_(None))
    return db.scalars(query.order_by(Consent.given_at.desc()).limit(1)).first()


def rows_of_athlete(db: DbSession, table: Table, columns: Sequence[str], athlete_id: int) -> Iterator[Row[Any]]:
    """An athlete's rows of a table, some of its columns."""
    yield from db.execute(select(*(table.c[name] for name in columns)).where(table.c.athlete_id == athlete_id))


def delete_of_athlete(db: DbSession, models: Sequence[type[Base]], athlete_id: int) -> None:
    """Delete an athlete's rows of tables that have an ``athlete_id``."""
    for model in models:
        db.execute(delete(model).where(model.athlete_id == athlete_id))  # type: ignore[attr-defined]


def clear_words_of(db: DbSession, athlete_id: int, today: date) -> None:
    """Take away what was said by an athlete or about one, other names for them, and their standing memberships."""
    db.execute(delete(Alias).where(Alias.athlete_id == athlete_id))
    db.execute(update(Entry).where(Entry.athlete_id == athlete_id).values(words=None))
    db.execute(
        update(Call)
        .where(Call.athlete_id == athlete_id)
        .values(reason="", review_on=None, content=None, reply=None, about={})
    )
    db.execute(
        update(Membership)
        .where(Membership.athlete_id == athlete_id, Membership.to_day.is_(None))
        .values(to_day=today, number=None)
    )


def clear_users_of(db: DbSession, athlete_id: int, name: str, login: str, now: datetime) -> None:
    """Leave nothing of an athlete's account but a switched-off shell; their links end."""
    users = list(db.scalars(select(User.id).where(User.athlete_id == athlete_id)))
    db.execute(delete(SignIn).where(SignIn.user_id.in_(users)))
    db.execute(delete(RoleGrant).where(RoleGrant.user_id.in_(users)))
    db.execute(
        update(User)
        .where(User.id.in_(users))
        .values(active=False, athlete_id=None, name=name, password_hash="", totp_secret=None, login=login)
    )
    db.execute(
        update(Invitation).where(Invitation.athlete_id == athlete_id).values(name="", withdrawn_at=now, athlete_id=None)
    )


def delete_health_before(db: DbSession, club_id: int, last: date) -> int:
    """Delete reports, complaints and restrictions that were over before a day. Returns how many rows went."""
    squads = select(Squad.id).where(Squad.club_id == club_id)
    gone = 0
    for statement in (
        delete(Complaint).where(Complaint.squad_id.in_(squads), Complaint.closed_on < last),
        update(Complaint).where(Complaint.squad_id.in_(squads), Complaint.day < last).values(report_id=None),
        delete(Report).where(Report.squad_id.in_(squads), Report.day < last),
        delete(Restriction).where(Restriction.squad_id.in_(squads), Restriction.to_day < last),
    ):
        result = db.execute(statement)
        if statement.is_delete:
            gone += result.rowcount  # type: ignore[attr-defined]
    return gone
