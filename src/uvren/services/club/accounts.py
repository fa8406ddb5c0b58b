"""Signing in and out, and who is who."""

from __future__ import annotations

import hashlib
import secrets
from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy.orm import Session as DbSession

from uvren.services.club import second_factor
from uvren.services.club.permissions import Person
from uvren.services.errors import Invalid, NotFound, NotSignedIn, TooMany
from uvren.store import queries
from uvren.store.models import Audit, Role, SignIn, SignInTry, Squad, User

STAYS_SIGNED_IN = timedelta(hours=14)
SEEN_AGAIN = timedelta(hours=1)
ATHLETE_STAYS = timedelta(days=180)
TRIES_FOR_LOGIN = 5
TRIES_FOR_ADDRESS = 30
TRIES_WINDOW = timedelta(minutes=15)

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


def digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def sign_in(
    db: DbSession, login: str, password: str, address: str, now: datetime, *, code: str = "", device: str = ""
) -> str:
    """Check the password, and the one-time code of who uses one, and open a sign-in. Returns its token.

    Raises TooMany after 5 failed tries for a login or 30 from an address within 15 minutes, whichever worker
    they came to; Invalid for a wrong pair, without saying which half was wrong, and for a missing or wrong code.
    """
    login = login.strip().lower()
    since = now - TRIES_WINDOW
    for column, value, most in (
        ("login", login, TRIES_FOR_LOGIN),
        ("address", address, TRIES_FOR_ADDRESS),
    ):
        if queries.club.failed_tries(db, since, **{column: value}) >= most:
            raise TooMany("Too many failed tries. Wait 15 minutes and try again.", field="password")
    user = queries.club.user_named(db, login)
    if user is not None and not user.active:
        user = None
    try:
        _hasher.verify(user.password_hash if user else _decoy(), password)
    except (VerificationError, InvalidHashError):
        user = None
    wrong = None
    if user is None:
        wrong = Invalid("Name or password is wrong.", field="password")
    elif user.totp_secret and not code:
        # Not a failed try: the password was right, and the next step asks for the code.
        raise Invalid("Give the code that your app shows now.", field="code")
    elif user.totp_secret and not second_factor.right(db, user, code, now):
        wrong = Invalid("This code is wrong or was used already.", field="code")
    if wrong is not None or user is None:
        db.add(SignInTry(login=login[:80], address=address[:64], at=now))
        db.commit()
        raise wrong or Invalid("Name or password is wrong.", field="password")
    return open_sign_in(db, user, login, now, device)


def open_sign_in(db: DbSession, user: User, login: str, now: datetime, device: str) -> str:
    """Open a sign-in for a user who has shown who they are, and commit. Returns its token."""
    since = now - TRIES_WINDOW
    token = secrets.token_urlsafe(32)
    # Athletes stay signed in on their own phone; staff sign in each day.
    stays = STAYS_SIGNED_IN if queries.club.is_staff(db, user.id) else ATHLETE_STAYS
    queries.club.forget_tries(db, login, since)
    queries.club.drop_expired_sign_ins(db, now)
    db.add(
        SignIn(
            token_digest=digest(token), user_id=user.id, device=device[:120], created_at=now, seen_at=now,
            expires_at=now + stays,
        )
    )  # fmt: skip
    db.add(Audit(at=now, user_id=user.id, action="sign_in", subject=f"user:{user.id}", details={}))
    db.commit()
    return token


def sign_out(db: DbSession, token: str) -> None:
    queries.club.end_sign_in(db, digest(token))
    db.commit()


def person_of(db: DbSession, token: str, now: datetime) -> Person:
    """The person a token belongs to. Raises NotSignedIn when it has run out or was revoked."""
    rows = queries.club.signed_in(db, digest(token), now)
    if not rows:
        raise NotSignedIn("Sign in to go on; what you typed is kept on this screen.")
    roles: dict[int, set[Role]] = defaultdict(set)
    for row in rows:
        if row.squad_id is not None:
            roles[row.squad_id].add(row.role)
    first = rows[0]
    queries.club.saw_sign_in(db, digest(token), now, before=now - SEEN_AGAIN)
    return Person(
        user_id=first.id,
        name=first.name,
        roles={squad: frozenset(have) for squad, have in roles.items()},
        club_id=first.club_id,
        athlete_id=first.athlete_id,
        clinical_by_setting=first.performance_reads_clinical,
    )


def revoke(db: DbSession, user_id: int, sign_in_id: str) -> None:
    """End one sign-in of a user. Does not commit. Raises NotFound."""
    if not queries.club.end_one_sign_in(db, user_id, sign_in_id):
        raise NotFound("This sign-in has ended already.")


def change_password(db: DbSession, user_id: int, old: str, new: str, keep: str, now: datetime) -> None:
    """Give oneself another password; every other sign-in ends. Does not commit. Raises Invalid."""
    user = db.get_one(User, user_id)
    try:
        _hasher.verify(user.password_hash, old)
    except (VerificationError, InvalidHashError):
        raise Invalid("The present password is wrong.", field="old") from None
    try:
        user.password_hash = hash_password(new)
    except Invalid as error:
        raise Invalid(error.detail, field="new") from error
    queries.club.end_sign_ins(db, user_id, keep=digest(keep))
    db.add(Audit(at=now, user_id=user_id, action="password_changed", subject=f"user:{user_id}", details={}))
