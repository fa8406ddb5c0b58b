"""People who sign in, what they may do, their links and sign-ins, consent and the audit."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from datetime import UTC, date, datetime, time
from typing import Any

from sqlalchemy import Row, Table, delete, func, or_, select, update
from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.store.models import (
    Alias,
    Athlete,
    Base,
    BeginLink,
    Call,
    Club,
    Complaint,
    Consent,
    Earlier,
    Entry,
    Invitation,
    Membership,
    Note,
    Report,
    Restriction,
    RestTrial,
    ReturnEvent,
    ReturnPlan,
    Role,
    RoleGrant,
    SignIn,
    Squad,
    User,
)

# People ---------------------------------------------------------------------------------------------------


def user_named(db: DbSession, login: str) -> User | None:
    return db.scalar(select(User).where(User.login == login))


def club_there(db: DbSession) -> bool:
    """Whether there is any club."""
    return db.scalar(select(Club.id).limit(1)) is not None


def club_for_update(db: DbSession, club_id: int) -> Club:
    """The club, of which nobody else makes a squad meanwhile."""
    return db.scalars(select(Club).where(Club.id == club_id).with_for_update()).one()


def begin_link_for_update(db: DbSession, digest: str) -> BeginLink | None:
    """The link with this token. Meanwhile nobody uses any of them: by two links there would be two clubs."""
    links = db.scalars(select(BeginLink).order_by(BeginLink.id).with_for_update())
    return next((link for link in links if link.token_digest == digest), None)


def drop_old_begin_links(db: DbSession, now: datetime) -> None:
    """Forget links that begin a club and are too old to."""
    db.execute(delete(BeginLink).where(BeginLink.expires_at <= now))


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


def roles_in(db: DbSession, user_id: int, squad_id: int) -> set[Role]:
    """Everything that a user is in a squad."""
    query = select(RoleGrant.role).where(RoleGrant.user_id == user_id, RoleGrant.squad_id == squad_id)
    return set(db.scalars(query))


def drop_role(db: DbSession, user_id: int, squad_id: int, role: Role) -> bool:
    """Take a role away; whether there was one."""
    found = db.scalar(
        select(RoleGrant).where(RoleGrant.user_id == user_id, RoleGrant.squad_id == squad_id, RoleGrant.role == role)
    )
    if found is not None:
        db.delete(found)
    return found is not None


def only_club(db: DbSession) -> Club | None:
    """The club of the installation, None while there is none."""
    return db.scalar(select(Club).order_by(Club.id).limit(1))


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
    return db.scalar(select(Squad).where(Squad.slug == slug, Squad.gone_at.is_(None)))


def squads(db: DbSession, ids: Collection[int] | None = None, club_id: int | None = None) -> list[Squad]:
    """Squads by name: those of these ids, of a club, or all."""
    query = select(Squad).where(Squad.gone_at.is_(None)).order_by(Squad.name)
    if ids is not None:
        query = query.where(Squad.id.in_(ids))
    if club_id is not None:
        query = query.where(Squad.club_id == club_id)
    return list(db.scalars(query))


def clubs(db: DbSession) -> list[Club]:
    return list(db.scalars(select(Club)))


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


_HEALTH_DAYS = ((Complaint, Complaint.closed_on), (Report, Report.day), (Restriction, Restriction.to_day),
                (ReturnPlan, ReturnPlan.ended_on))  # fmt: skip


def health_before(db: DbSession, club_id: int, last: date) -> int:
    """How many reports, complaints, restrictions and plans to come back were over before a day."""
    squads = select(Squad.id).where(Squad.club_id == club_id)
    return sum(
        db.scalar(select(func.count()).where(model.squad_id.in_(squads), day < last)) or 0
        for model, day in _HEALTH_DAYS
    )


def delete_health_before(db: DbSession, club_id: int, last: date) -> int:
    """Delete reports, complaints, restrictions and plans that were over before a day. Returns how many rows went."""
    squads = select(Squad.id).where(Squad.club_id == club_id)
    # A complaint that is open outlives the report it was told with.
    db.execute(update(Complaint).where(Complaint.squad_id.in_(squads), Complaint.day < last).values(report_id=None))
    over = select(ReturnPlan.id).where(ReturnPlan.squad_id.in_(squads), ReturnPlan.ended_on < last)
    db.execute(delete(ReturnEvent).where(ReturnEvent.plan_id.in_(over)))
    gone = 0
    for model, day in _HEALTH_DAYS:
        result = db.execute(delete(model).where(model.squad_id.in_(squads), day < last))
        gone += result.rowcount  # type: ignore[attr-defined]
    said = Earlier.until < datetime.combine(last, time(), UTC)
    db.execute(delete(Earlier).where(Earlier.squad_id.in_(squads), Earlier.athlete_id.is_not(None), said))
    return gone


def first_admin(db: DbSession, club_id: int) -> int | None:
    """Who acts for the club, the first of them: in whose name is done what nobody signed in does."""
    query = select(User.id).where(User.club_id == club_id, User.club_admin, User.active).order_by(User.id).limit(1)
    return db.scalar(query)
