"""Signing in and out, and who is who."""

from __future__ import annotations

import hashlib
import secrets
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy.orm import Session as DbSession

from uvren.services.club import second_factor
from uvren.services.club.permissions import Person
from uvren.services.errors import Invalid, NotFound, NotSignedIn, TooMany
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, Role, SignIn, Squad, User

STAYS_SIGNED_IN = timedelta(hours=14)
SEEN_AGAIN = timedelta(hours=1)
ATHLETE_STAYS = timedelta(days=180)
TRIES_FOR_LOGIN = 5
TRIES_FOR_ADDRESS = 30
TRIES_WINDOW = timedelta(minutes=15)
# How long a link that was used is shown to whose account it opened.
LINKS_SHOWN = timedelta(days=90)

_hasher = PasswordHasher()


@cache
def _decoy() -> str:
    """Checked against when the login is unknown, so that the answer takes as long as for a known one."""
    return _hasher.hash(secrets.token_urlsafe(16))


@dataclass(frozen=True)
class Staff:
    """Somebody who works with a squad, with what they are in it."""

    name: str
    roles: list[Role]


def staff_of(db: DbSession, squad: Squad) -> list[Staff]:
    """Who works with the squad, by name; athletes and switched-off accounts left out."""
    roles: dict[str, list[Role]] = defaultdict(list)
    for name, role in queries.club.staff_roles(db, squad.id):
        roles[name].append(role)
    return [Staff(name, found) for name, found in roles.items()]


def clinicians_of(db: DbSession, squad: Squad) -> list[str]:
    """Names of the squad's clinicians."""
    return [one.name for one in staff_of(db, squad) if Role.CLINICIAN in one.roles]


def hash_password(password: str) -> str:
    if len(password) < 10:
        raise Invalid("A password has at least 10 characters.", field="password")
    return _hasher.hash(password)


def name_taken() -> Invalid:
    return Invalid("This sign-in name is taken; choose another.", field="login")


def sign_in_name(db: DbSession, login: str) -> str:
    """A name to sign in with that nobody has. Raises Invalid."""
    login = login.strip().lower()
    if not 3 <= len(login) <= 80 or any(c.isspace() for c in login):
        raise Invalid("A sign-in name has 3 to 80 characters and no spaces.", field="login")
    if queries.club.user_named(db, login) is not None:
        raise name_taken()
    return login


def digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@dataclass(frozen=True)
class Whence:
    """From where someone comes: an address, a browser by its name, and what marks it as one that was here before."""

    address: str = ""
    browser: str = ""
    device: str = ""


@contextmanager
def counted(db: DbSession, name: str | None, address: str, now: datetime) -> Iterator[None]:
    """Count a try before it is looked at, so that of many at once no more are looked at than one after the other.

    Without a name only the address counts. What goes through is no try; what fails stays one. Commits. Raises TooMany,
    which counts for nothing: a name is not kept locked by knocking.
    """
    since = now - TRIES_WINDOW
    noted = queries.accounts.begin_try(db, name or "", address, now)
    if (
        name is not None and queries.accounts.failed_tries(db, since, login=name) > TRIES_FOR_LOGIN
    ) or queries.accounts.failed_tries(db, since, address=address) > TRIES_FOR_ADDRESS:
        queries.accounts.drop_try(db, noted)
        db.commit()
        raise TooMany("Too many failed tries. Wait 15 minutes and try again.", field="password")
    yield
    queries.accounts.drop_try(db, noted)


def sign_in(db: DbSession, login: str, password: str, whence: Whence, now: datetime, *, code: str = "") -> str:
    """Check the password, and the one-time code of who uses one, and open a sign-in. Returns its token.

    Raises TooMany after 5 failed tries for a login or 30 from an address within 15 minutes, whichever worker they came
    to; a browser that the user signed in from before has tries of its own. Raises Invalid for a wrong pair, without
    saying which half was wrong, and for a missing or wrong code.
    """
    login = login.strip().lower()
    user = queries.club.user_named(db, login)
    if user is not None and not user.active:
        user = None
    name = login
    if user is not None and whence.device and queries.accounts.knows_device(db, user.id, digest(whence.device)):
        name = digest(f"{login} {whence.device}")
    with counted(db, name, whence.address, now):
        try:
            _hasher.verify(user.password_hash if user else _decoy(), password)
        except (VerificationError, InvalidHashError):
            user = None
        if user is None:
            raise Invalid("Name or password is wrong.", field="password")
        if user.totp_secret and code and not second_factor.right(db, user, code, now):
            raise Invalid("This code is wrong or was used already.", field="code")
    if user.totp_secret and not code:
        # Not a failed try: the password was right, and the next step asks for the code.
        db.commit()
        raise Invalid("Give the code that your app shows now.", field="code")
    queries.accounts.forget_tries(db, name)
    return open_sign_in(db, user, now, whence)


def open_sign_in(db: DbSession, user: User, now: datetime, whence: Whence) -> str:
    """Open a sign-in for a user who has shown who they are, and commit. Returns its token."""
    token = secrets.token_urlsafe(32)
    if whence.device:
        queries.accounts.know_device(db, user.id, digest(whence.device), now)
    db.add(
        SignIn(
            token_digest=digest(token), user_id=user.id, device=whence.browser[:120], created_at=now, seen_at=now,
            expires_at=now + stays(db, user.id),
        )
    )  # fmt: skip
    db.add(Audit(at=now, user_id=user.id, action="sign_in", subject=f"user:{user.id}", details={}))
    db.commit()
    return token


@dataclass(frozen=True)
class LinkUsed:
    """A link to somebody's account that was used: by whom it was made, when and from where it was used."""

    at: datetime
    used_from: str
    made_by: str


def links_used(db: DbSession, user_id: int, now: datetime) -> list[LinkUsed]:
    """Links of a user's that were used of late, the last one first."""
    rows = queries.accounts.links_used(db, user_id, now - LINKS_SHOWN)
    return [LinkUsed(at, used_from or "", made_by or "") for at, used_from, made_by in rows if at is not None]


def stays(db: DbSession, user_id: int) -> timedelta:
    """How long a sign-in holds: athletes stay signed in on their own phone, staff sign in each day."""
    return STAYS_SIGNED_IN if queries.club.is_staff(db, user_id) else ATHLETE_STAYS


def sign_out(db: DbSession, token: str) -> None:
    queries.accounts.end_sign_in(db, digest(token))
    db.commit()


def person_of(db: DbSession, token: str, now: datetime) -> Person:
    """The person a token belongs to. Raises NotSignedIn when it has run out or was revoked."""
    rows = queries.accounts.signed_in(db, digest(token), now)
    if not rows:
        raise NotSignedIn("Sign in to go on; what you typed is kept on this screen.")
    roles: dict[int, set[Role]] = defaultdict(set)
    for row in rows:
        if row.squad_id is not None:
            roles[row.squad_id].add(row.role)
    first = rows[0]
    queries.accounts.saw_sign_in(db, digest(token), now, before=now - SEEN_AGAIN)
    return Person(
        user_id=first.id,
        name=first.name,
        roles={squad: frozenset(have) for squad, have in roles.items()},
        club_id=first.club_id,
        athlete_id=first.athlete_id,
        clinical_by_setting=first.performance_reads_clinical,
        club_admin=first.club_admin,
    )


def revoke(db: DbSession, user_id: int, sign_in_id: str) -> None:
    """End one sign-in of a user. Does not commit. Raises NotFound."""
    if not queries.accounts.end_one_sign_in(db, user_id, sign_in_id):
        raise NotFound("This sign-in has ended already.")


def prove(db: DbSession, user_id: int, password: str, address: str, now: datetime, field: str = "password") -> User:
    """Let the signed-in person show who they are once more. Tries are counted. Raises Invalid, TooMany."""
    user = db.get_one(User, user_id)
    with counted(db, f"user:{user_id}", address, now):
        try:
            _hasher.verify(user.password_hash, password)
        except (VerificationError, InvalidHashError):
            raise Invalid("The present password is wrong.", field=field) from None
    return user


def change_password(db: DbSession, user_id: int, old: str, new: str, keep: str, address: str, now: datetime) -> None:
    """Give oneself another password; every other sign-in ends. Does not commit. Raises Invalid, TooMany."""
    user = prove(db, user_id, old, address, now, "old")
    try:
        user.password_hash = hash_password(new)
    except Invalid as error:
        raise Invalid(error.detail, field="new") from error
    queries.accounts.end_sign_ins(db, user_id, keep=digest(keep))
    db.add(Audit(at=now, user_id=user_id, action="password_changed", subject=f"user:{user_id}", details={}))


def drop_second_factor(db: DbSession, user_id: int, password: str, code: str, address: str, now: datetime) -> None:
    """Take one's own second factor away: with the password, and a code or a recovery code. Does not commit.

    Raises Invalid, TooMany.
    """
    user = prove(db, user_id, password, address, now)
    if user.totp_secret is None:
        return
    with counted(db, f"user:{user_id}", address, now):
        if not second_factor.right(db, user, code, now):
            raise Invalid("This code is wrong or was used already.", field="code")
    second_factor.switch_off(db, user_id, stamp=Stamp(user_id, now))
