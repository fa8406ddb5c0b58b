"""How a club begins: an empty installation prints a link, and whoever opens it is the first person."""

from __future__ import annotations

import secrets
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import available_timezones

from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit
from uvren.services.club.accounts import Whence, counted, digest, hash_password, sign_in_name
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import BeginLink, Club, Role, User
from uvren.store.types import new_ulid

HOLDS = timedelta(days=7)
# What somebody may be in squads of their own making; an athlete comes in as everybody does.
OWN_ROLES = (Role.PERFORMANCE, Role.COACH, Role.CLINICIAN)
LONGEST_NAME = 80


@dataclass(frozen=True)
class First:
    """The club and its first person, as they want them. ``roles`` are theirs in the squads that they make."""

    club: str
    time_zone: str
    name: str
    login: str
    password: str
    roles: Collection[Role]


def make_link(db: DbSession, now: datetime) -> str:
    """A token that begins the club. Does not commit.

    Those made before still work until they are too old: whoever is in the middle when Uvren is started again goes on.
    With the first club that is begun none of them does.
    """
    queries.club.drop_old_begin_links(db, now)
    token = secrets.token_urlsafe(24)
    link = BeginLink(id=new_ulid(), token_digest=digest(token), made_at=now, expires_at=now + HOLDS, used_at=None)
    db.add(link)
    db.flush()
    return token


def look(db: DbSession, token: str, now: datetime) -> BeginLink:
    """The link, held until the end of what is done with it. Raises NotFound, alike for a wrong, used or old one."""
    link = queries.club.begin_link_for_update(db, digest(token))
    if link is None or link.used_at is not None or link.expires_at <= now or queries.club.club_there(db):
        raise NotFound("This link works no more. Uvren prints another when it is started, as long as no club is there.")
    return link


def begin(db: DbSession, token: str, first: First, whence: Whence, now: datetime) -> User:
    """Make the club and who acts for it. Does not commit. Raises NotFound, TooMany, and Invalid with the field."""
    with counted(db, None, whence.address, now):
        link = look(db, token, now)
    user = make_club(db, first, now)
    link.used_at = now
    db.flush()
    return user


def make_club(db: DbSession, first: First, now: datetime) -> User:
    """The club with its first person, an administrator of all of it. Does not commit. Raises Invalid."""
    _check(first)
    club = Club(name=first.club.strip(), time_zone=first.time_zone)
    db.add(club)
    db.flush()
    user = User(
        club_id=club.id, login=sign_in_name(db, first.login), name=first.name.strip(),
        password_hash=hash_password(first.password), club_admin=True, begins_as=own_roles(first.roles),
    )  # fmt: skip
    db.add(user)
    db.flush()
    audit.note(db, "club_begun", f"club:{club.id}", stamp=Stamp(user.id, now), name=club.name)
    return user


def own_roles(roles: Collection[Role]) -> list[str]:
    """Raises Invalid for what nobody makes themselves."""
    if not set(roles) <= set(OWN_ROLES):
        raise Invalid("Choose among performance staff, coach and clinician.", field="roles")
    return [role.value for role in OWN_ROLES if role in roles]


def check_zone(time_zone: str) -> None:
    """Raises Invalid."""
    if time_zone not in available_timezones():
        raise Invalid("Choose a time zone such as Europe/Vienna.", field="time_zone")


def _check(first: First) -> None:
    for words, field, what in ((first.club, "club", "club"), (first.name, "name", "person")):
        if not words.strip() or len(words.strip()) > LONGEST_NAME:
            raise Invalid(f"A {what} has a name of up to {LONGEST_NAME} characters.", field=field)
    check_zone(first.time_zone)
