"""People who sign in, what they may do, their links and sign-ins, consent and the audit."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, Select, Table, and_, delete, func, insert, or_, select, update
from sqlalchemy.dialects.mysql import insert as mysql_insert
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import aliased

from uvren.core.audience import Audience
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
    KnownDevice,
    Membership,
    Note,
    RecoveryCode,
    Report,
    Restriction,
    RestTrial,
    Role,
    RoleGrant,
    SignIn,
    SignInTry,
    Squad,
    UsedCode,
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


def athletes_of(db: DbSession, club_id: int) -> Sequence[Row[int, str, str]]:
    """(athlete, name, name of a squad) of everyone who belongs or belonged to a squad of the club, by name."""
    return db.execute(
        select(Athlete.id, Athlete.name, Squad.name)
        .distinct()
        .join(Membership, Membership.athlete_id == Athlete.id)
        .join(Squad, Squad.id == Membership.squad_id)
        .where(Athlete.club_id == club_id)
        .order_by(Athlete.name, Athlete.id, Squad.name)
    ).all()


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


def squads_with_rights(db: DbSession, user_id: int) -> set[int]:
    """Squads in which a user has a role."""
    return set(db.scalars(select(RoleGrant.squad_id).where(RoleGrant.user_id == user_id)))


def squads_of_athlete(db: DbSession, athlete_id: int, day: date | None = None) -> set[int]:
    """Squads that an athlete belongs to on a day or later; without a day, ever did."""
    query = select(Membership.squad_id).where(Membership.athlete_id == athlete_id)
    if day is not None:
        query = query.where(or_(Membership.to_day.is_(None), Membership.to_day >= day))
    return set(db.scalars(query))


def with_clinical(db: DbSession, athletes: Collection[int]) -> set[int]:
    """Athletes of whom anything clinical is kept: told, said or written."""
    found: set[int] = set()
    for model, more in (
        (Complaint, ()), (Restriction, ()), (RestTrial, ()), (Note, (Note.audience == Audience.CLINICAL,)),
    ):  # fmt: skip
        found |= set(db.scalars(select(model.athlete_id).where(model.athlete_id.in_(athletes), *more).distinct()))
    return found


def squads_of_athletes(db: DbSession, athletes: Collection[int], day: date) -> dict[int, set[int]]:
    """Squads that each of these athletes belongs to on a day or later."""
    rows = db.execute(
        select(Membership.athlete_id, Membership.squad_id).where(
            Membership.athlete_id.in_(athletes), or_(Membership.to_day.is_(None), Membership.to_day >= day)
        )
    )
    found: dict[int, set[int]] = {athlete: set() for athlete in athletes}
    for athlete, squad in rows:
        found[athlete].add(squad)
    return found


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


def squads(db: DbSession, ids: Collection[int] | None = None, club_id: int | None = None) -> list[Squad]:
    """Squads by name: those of these ids, of a club, or all."""
    query = select(Squad).order_by(Squad.name)
    if ids is not None:
        query = query.where(Squad.id.in_(ids))
    if club_id is not None:
        query = query.where(Squad.club_id == club_id)
    return list(db.scalars(query))


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


def tries_of(db: DbSession, login: str) -> list[SignInTry]:
    """Tries for a name that failed or are under way."""
    return list(db.scalars(select(SignInTry).where(SignInTry.login == login).order_by(SignInTry.id)))


def forget_tries(db: DbSession, login: str) -> None:
    """Forget the failed tries of a name."""
    db.execute(delete(SignInTry).where(SignInTry.login == login))


def drop_old(db: DbSession, now: datetime, tries_before: datetime) -> None:
    """Drop sign-ins that have run out, and tries from before a moment. Looks through both tables: not for a request."""
    db.execute(delete(SignIn).where(SignIn.expires_at < now))
    db.execute(delete(SignInTry).where(SignInTry.at < tries_before))


def sign_ins_of(db: DbSession, user_id: int, now: datetime) -> list[SignIn]:
    """Where a user is signed in, the latest first."""
    query = select(SignIn).where(SignIn.user_id == user_id, SignIn.expires_at > now)
    return list(db.scalars(query.order_by(SignIn.created_at.desc())))


def use_code(db: DbSession, user_id: int, step: int, forget_before: int) -> bool:
    """Take a one-time code. Returns whether it was still good: of two who take it at once one has it."""
    db.execute(delete(UsedCode).where(UsedCode.user_id == user_id, UsedCode.step < forget_before))
    taken = db.execute(insert(UsedCode).prefix_with("IGNORE").values(user_id=user_id, step=step))
    return bool(taken.rowcount)  # type: ignore[attr-defined]


def set_recovery_codes(db: DbSession, user_id: int, digests: Sequence[str]) -> None:
    """Put other recovery codes in place of a user's."""
    db.execute(delete(RecoveryCode).where(RecoveryCode.user_id == user_id))
    db.add_all(RecoveryCode(user_id=user_id, code_digest=digest, used_at=None) for digest in digests)


def use_recovery_code(db: DbSession, user_id: int, digest: str, now: datetime) -> bool:
    """Take a recovery code. Returns whether it was there and still good."""
    where = (RecoveryCode.user_id == user_id, RecoveryCode.code_digest == digest, RecoveryCode.used_at.is_(None))
    taken = db.execute(update(RecoveryCode).where(*where).values(used_at=now))
    return bool(taken.rowcount)  # type: ignore[attr-defined]


def begin_try(db: DbSession, login: str, address: str, now: datetime) -> int:
    """Note a try before it is looked at, and commit: whoever counts next counts it. Returns its id."""
    noted = SignInTry(login=login[:80], address=address[:64], at=now)
    db.add(noted)
    db.commit()
    return noted.id


def drop_try(db: DbSession, try_id: int) -> None:
    db.execute(delete(SignInTry).where(SignInTry.id == try_id))


def knows_device(db: DbSession, user_id: int, digest: str) -> bool:
    """Whether a user has signed in from this browser before."""
    where = (KnownDevice.user_id == user_id, KnownDevice.device_digest == digest)
    return db.scalar(select(KnownDevice.user_id).where(*where)) is not None


def know_device(db: DbSession, user_id: int, digest: str, now: datetime) -> None:
    statement = mysql_insert(KnownDevice).values(user_id=user_id, device_digest=digest, seen_at=now)
    db.execute(statement.on_duplicate_key_update(seen_at=now))


def forget_devices(db: DbSession, user_id: int) -> None:
    db.execute(delete(KnownDevice).where(KnownDevice.user_id == user_id))


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
) -> Sequence[Row[int, str, int, int | None, bool, bool, int | None, Role | None]]:
    """(id, name, club_id, athlete_id, club_admin, performance_reads_clinical, squad_id, role), a row a role."""
    return db.execute(
        select(
            User.id,
            User.name,
            User.club_id,
            User.athlete_id,
            User.club_admin,
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


def open_links_of(
    db: DbSession, now: datetime, *, user_id: int | None = None, athlete_id: int | None = None
) -> list[Invitation]:
    """Links of a user, or of an athlete who has no account yet, that can still be used; in whatever squad."""
    who = Invitation.user_id == user_id if user_id is not None else Invitation.athlete_id == athlete_id
    where = (who, Invitation.used_at.is_(None), Invitation.withdrawn_at.is_(None), Invitation.expires_at > now)
    return list(db.scalars(select(Invitation).where(*where).with_for_update()))


def links_used(db: DbSession, user_id: int, since: datetime) -> Sequence[Row[datetime | None, str | None, str]]:
    """(moment, from where, who made it) of a user's links that were used after a moment, the last one first."""
    maker = aliased(User)
    return db.execute(
        select(Invitation.used_at, Invitation.used_from, maker.name)
        .outerjoin(maker, maker.id == Invitation.made_by)
        .where(Invitation.user_id == user_id, Invitation.used_at > since)
        .order_by(Invitation.used_at.desc())
    ).all()


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


# (id, at, who, athlete, action, subject, details)
AuditedRow = Row[int, datetime, str | None, str | None, str, str, dict[str, Any]]

# What is done about accounts in a squad and is the club's to know.
CLUB_ACTIONS = (
    "invited", "invitation_used", "invitation_withdrawn", "password_link", "account_on", "account_off",
    "athlete_copied", "athlete_erased", "athlete_anonymised",
)  # fmt: skip

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
) -> Sequence[AuditedRow]:
    """(id, at, who, athlete, action, subject, details) of a squad, newest first.

    ``action`` is a beginning, such as ``clinical``. ``before`` continues after the row of that id.
    """
    query = _audited(action, before, most).where(Audit.squad_id == squad_id)
    if first is not None:
        query = query.where(func.date(Audit.at) >= first)
    if last is not None:
        query = query.where(func.date(Audit.at) <= last)
    if athlete_id is not None:
        query = query.where(Audit.athlete_id == athlete_id)
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
    query = _audited(action, before, most).where(or_(of_people, of_accounts, own))
    if first is not None:
        query = query.where(func.date(Audit.at) >= first)
    if last is not None:
        query = query.where(func.date(Audit.at) <= last)
    if athlete_id is not None:
        query = query.where(Audit.athlete_id == athlete_id)
    return db.execute(query).all()


def _audited(action: str, before: int | None, most: int) -> Select[Any]:
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
    if action:
        query = query.where(Audit.action.startswith(action, autoescape=True))
    return query if before is None else query.where(Audit.id < before)


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


_HEALTH_DAYS = ((Complaint, Complaint.closed_on), (Report, Report.day), (Restriction, Restriction.to_day))


def health_before(db: DbSession, club_id: int, last: date) -> int:
    """How many reports, complaints and restrictions were over before a day."""
    squads = select(Squad.id).where(Squad.club_id == club_id)
    return sum(
        db.scalar(select(func.count()).where(model.squad_id.in_(squads), day < last)) or 0
        for model, day in _HEALTH_DAYS
    )


def delete_health_before(db: DbSession, club_id: int, last: date) -> int:
    """Delete reports, complaints and restrictions that were over before a day. Returns how many rows went."""
    squads = select(Squad.id).where(Squad.club_id == club_id)
    # A complaint that is open outlives the report it was told with.
    db.execute(update(Complaint).where(Complaint.squad_id.in_(squads), Complaint.day < last).values(report_id=None))
    gone = 0
    for model, day in _HEALTH_DAYS:
        result = db.execute(delete(model).where(model.squad_id.in_(squads), day < last))
        gone += result.rowcount  # type: ignore[attr-defined]
    return gone
