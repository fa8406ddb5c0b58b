"""Links that work once: into a squad, or to a new password. No mail is sent: they are shown, copied or printed."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit, second_factor
from uvren.services.club.accounts import Whence, counted, digest, hash_password, name_taken, sign_in_name
from uvren.services.club.permissions import Action, Person
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Athlete, Invitation, Role, RoleGrant, Squad, User
from uvren.store.types import new_ulid

HOLDS = timedelta(days=14)
RESET_HOLDS = timedelta(days=2)


@dataclass(frozen=True)
class Invited:
    """An invitation with its token, which is told only once."""

    invitation: Invitation
    token: str


def _make(
    db: DbSession, squad: Squad, role: Role, name: str, *, stamp: Stamp, holds: timedelta,
    athlete_id: int | None = None, user_id: int | None = None,
) -> Invited:  # fmt: skip
    # A newer link takes the place of those before it.
    if athlete_id is not None or user_id is not None:
        for old in queries.accounts.open_links_of(db, stamp.now, user_id=user_id, athlete_id=athlete_id):
            old.withdrawn_at = stamp.now
    token = secrets.token_urlsafe(24)
    invitation = Invitation(
        id=new_ulid(),
        token_digest=digest(token),
        squad_id=squad.id,
        role=role,
        name=name,
        athlete_id=athlete_id,
        user_id=user_id,
        made_by=stamp.by,
        made_at=stamp.now,
        expires_at=stamp.now + holds,
        used_at=None,
        withdrawn_at=None,
    )
    db.add(invitation)
    audit.note(
        db, "password_link" if user_id else "invited", f"invitation:{invitation.id}", stamp=stamp,
        squad_id=squad.id, athlete_id=athlete_id, role=role, name=name,
    )  # fmt: skip
    db.flush()
    return Invited(invitation, token)


def invite_athletes(
    db: DbSession, squad: Squad, athletes: Sequence[int], *, person: Person, now: datetime
) -> list[Invited]:
    """A link for each of these athletes; links made for them before work no more. Does not commit.

    Where anything clinical is kept of someone, only who may read it, or the club, lets them in. Raises NotFound for who
    is not in the squad, Invalid for who has an account already, NotAllowed.
    """
    today = now.date()
    names = {member.athlete_id: member.name for member in queries.squad.members(db, squad.id, today)}
    has = queries.club.users_of(db, athletes)
    may = linkable(db, squad, athletes, person, today)
    out = []
    for i, athlete in enumerate(athletes):
        if athlete not in names:
            raise NotFound("This athlete is not in the squad.", field=f"athletes.{i}")
        if athlete in has:
            raise Invalid(f"{names[athlete]} can sign in already; give them a new password instead.",
                          field=f"athletes.{i}")  # fmt: skip
        if athlete not in may:
            raise NotAllowed(
                f"A clinician of the squad or an administrator of the club makes the link for {names[athlete]}.",
                field=f"athletes.{i}",
            )
        stamp = Stamp(person.user_id, now)
        out.append(_make(db, squad, Role.ATHLETE, names[athlete], stamp=stamp, holds=HOLDS, athlete_id=athlete))
    return out


def linkable(db: DbSession, squad: Squad, athletes: Collection[int], person: Person, today: date) -> set[int]:
    """Of these athletes those whose first link the person may make.

    Whoever makes a link could use it: nobody reads by it what they may not read otherwise.
    """
    if person.club_admin or person.may(Action.RELINK_ATHLETES, squad.id):
        return set(athletes)
    clinical = queries.club.with_clinical(db, athletes)
    return {
        athlete
        for athlete, squads in queries.club.squads_of_athletes(db, athletes, today).items()
        if athlete not in clinical and all(person.may(Action.LINK_ATHLETES, one) for one in squads)
    }


def invite_staff(db: DbSession, squad: Squad, role: Role, name: str, *, person: Person, now: datetime) -> Invited:
    """A link for a member of staff. Does not commit. Only who manages people may give these roles away."""
    if role is Role.ATHLETE:
        raise Invalid("Athletes are invited from the list of athletes.", field="role")
    person.must(Action.MANAGE_PEOPLE, squad.id)
    if not name.strip():
        raise Invalid("Say who it is for.", field="name")
    return _make(db, squad, role, name.strip(), stamp=Stamp(person.user_id, now), holds=HOLDS)


def new_password_link(db: DbSession, squad: Squad, user_id: int, *, person: Person, now: datetime) -> Invited:
    """A link with which a user chooses a new password. Does not commit. Raises NotFound, NotAllowed.

    Whoever makes it could use it: for an athlete a clinician of the squad makes it, for staff who manages people in
    every squad of theirs, and for either an administrator of the club.
    """
    grant = queries.club.grant_of(db, user_id, squad.id)
    user = db.get(User, user_id)
    if grant is None or user is None:
        raise NotFound("There is no such person in this squad.")
    if not user.active:
        raise NotAllowed(f"The account of {user.name} is switched off.")
    squads = queries.club.squads_with_rights(db, user_id)
    if queries.club.is_staff(db, user_id) or user.club_admin:
        must_over(person, user, squads)
    elif not person.club_admin:
        person.must(Action.RELINK_ATHLETES, squad.id)
    return _make(db, squad, grant.role, user.name, stamp=Stamp(person.user_id, now), holds=RESET_HOLDS,
                 athlete_id=user.athlete_id, user_id=user.id)  # fmt: skip


def must_over(person: Person, user: User, squads: Collection[int]) -> None:
    """For what takes over or shuts out an account. Raises NotAllowed for who does not manage all of its squads."""
    if user.club_admin:
        person.must_for_club()
    person.must_everywhere(Action.MANAGE_PEOPLE, squads)


def open_invitations(db: DbSession, squad: Squad, now: datetime) -> list[Invitation]:
    """Links of a squad that still work."""
    return queries.accounts.open_invitations(db, squad.id, now)


def withdraw(db: DbSession, squad: Squad, invitation_id: str, *, stamp: Stamp) -> None:
    """Let a link work no more. Does not commit. Raises NotFound."""
    found = db.get(Invitation, invitation_id)
    if found is None or found.squad_id != squad.id:
        raise NotFound("There is no such invitation.")
    if found.withdrawn_at is None and found.used_at is None:
        found.withdrawn_at = stamp.now
        audit.note(db, "invitation_withdrawn", f"invitation:{found.id}", stamp=stamp, squad_id=squad.id)


def look(db: DbSession, token: str, now: datetime) -> tuple[Invitation, Squad, User | None]:
    """What a link is for. Raises NotFound, alike for a wrong, used, withdrawn or old one."""
    found = queries.accounts.invitation_for_update(db, digest(token))
    if found is None or found.used_at or found.withdrawn_at or found.expires_at <= now:
        raise NotFound("This link works no more. Ask for a new one.")
    user = db.get(User, found.user_id) if found.user_id else None
    if user is not None and not user.active:
        raise NotFound("This link works no more. Ask for a new one.")
    return found, db.get_one(Squad, found.squad_id), user


def accept(db: DbSession, token: str, login: str, password: str, whence: Whence, now: datetime) -> User:
    """Use a link: make the account, or give it a new password. Does not commit. Raises Invalid, NotFound, TooMany."""
    with counted(db, None, whence.address, now):
        invitation, squad, user = look(db, token, now)
    if user is None:
        user = _new_user(db, invitation, squad, login, password)
    else:
        user.password_hash = hash_password(password)
        queries.accounts.end_sign_ins(db, user.id)
        queries.accounts.forget_devices(db, user.id)
    invitation.used_at = now
    invitation.user_id = user.id
    invitation.used_from = f"{whence.browser}, {whence.address}"[:200]
    audit.note(db, "invitation_used", f"invitation:{invitation.id}", stamp=Stamp(user.id, now), squad_id=squad.id,
               athlete_id=invitation.athlete_id, used_from=invitation.used_from,
               made_by=invitation.made_by)  # fmt: skip
    db.flush()
    return user


def _new_user(db: DbSession, invitation: Invitation, squad: Squad, login: str, password: str) -> User:
    login = sign_in_name(db, login)
    name = db.get_one(Athlete, invitation.athlete_id).name if invitation.athlete_id else invitation.name
    user = User(
        club_id=squad.club_id, login=login, name=name, password_hash=hash_password(password),
        athlete_id=invitation.athlete_id,
    )  # fmt: skip
    try:
        with db.begin_nested():
            db.add(user)
    except IntegrityError:
        # Somebody took it just now.
        raise name_taken() from None
    db.add(RoleGrant(user_id=user.id, squad_id=squad.id, role=invitation.role))
    return user


@dataclass(frozen=True)
class Account:
    """Someone who can sign in, with what they are in a squad."""

    user: User
    role: Role
    grant_id: int


def accounts_of(db: DbSession, squad: Squad) -> list[Account]:
    return [Account(*row) for row in queries.club.grants(db, squad.id)]


def set_active(db: DbSession, squad: Squad, user_id: int, active: bool, *, person: Person, now: datetime) -> None:
    """Let someone sign in, or no more; who may no more is signed out everywhere, and their links end. Does not commit.

    Raises NotFound, NotAllowed.
    """
    if user_id == person.user_id:
        raise NotAllowed("You cannot switch off your own account.")
    user = _user_in(db, squad, user_id)
    must_over(person, user, queries.club.squads_with_rights(db, user_id))
    user.active = active
    if not active:
        queries.accounts.end_sign_ins(db, user_id)
        for link in queries.accounts.open_links_of(db, now, user_id=user_id):
            link.withdrawn_at = now
    audit.note(db, "account_on" if active else "account_off", f"user:{user_id}", stamp=Stamp(person.user_id, now),
               squad_id=squad.id)  # fmt: skip


def reset_second_factor(db: DbSession, squad: Squad, user_id: int, *, person: Person, now: datetime) -> None:
    """For who has lost their authenticator and their recovery codes. Does not commit. Raises NotFound, NotAllowed."""
    user = _user_in(db, squad, user_id)
    must_over(person, user, queries.club.squads_with_rights(db, user_id))
    second_factor.switch_off(db, user_id, stamp=Stamp(person.user_id, now))


def _user_in(db: DbSession, squad: Squad, user_id: int) -> User:
    user = db.get(User, user_id)
    if user is None or user_id not in {account.user.id for account in accounts_of(db, squad)}:
        raise NotFound("There is no such person in this squad.")
    return user
