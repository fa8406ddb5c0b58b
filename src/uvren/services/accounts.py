"""Signing in and out, and who is who."""

from __future__ import annotations

import hashlib
import secrets
from collections import defaultdict
from datetime import datetime, timedelta
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import delete, func, or_, select
from sqlalchemy.orm import Session as DbSession

from uvren.services.errors import Invalid, NotSignedIn, TooMany
from uvren.services.permissions import Person
from uvren.store.models import Audit, Role, RoleGrant, SignIn, SignInTry, User

STAYS_SIGNED_IN = timedelta(hours=14)
TRIES_FOR_LOGIN = 5
TRIES_FOR_ADDRESS = 30
TRIES_WINDOW = timedelta(minutes=15)

_hasher = PasswordHasher()


@cache
def _decoy() -> str:
    """Checked against when the login is unknown, so that the answer takes as long as for a known one."""
    return _hasher.hash(secrets.token_urlsafe(16))


def hash_password(password: str) -> str:
    if len(password) < 10:
        raise Invalid("A password has at least 10 characters.", field="password")
    return _hasher.hash(password)


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def sign_in(db: DbSession, login: str, password: str, address: str, now: datetime) -> str:
    """Check the password and open a sign-in. Returns its token.

    Raises TooMany after 5 failed tries for a login or 30 from an address within 15 minutes, whichever worker
    they came to; Invalid for a wrong pair, without saying which half was wrong.
    """
    login = login.strip().lower()
    since = now - TRIES_WINDOW
    for column, value, most in (
        (SignInTry.login, login, TRIES_FOR_LOGIN),
        (SignInTry.address, address, TRIES_FOR_ADDRESS),
    ):
        failed = db.scalar(select(func.count()).where(column == value, SignInTry.at > since)) or 0
        if failed >= most:
            raise TooMany("Too many failed tries. Wait 15 minutes and try again.", field="password")
    user = db.scalar(select(User).where(User.login == login, User.active))
    try:
        _hasher.verify(user.password_hash if user else _decoy(), password)
    except (VerificationError, InvalidHashError):
        user = None
    if user is None:
        db.add(SignInTry(login=login[:80], address=address[:64], at=now))
        db.commit()
        raise Invalid("Name or password is wrong.", field="password")
    token = secrets.token_urlsafe(32)
    db.execute(delete(SignInTry).where(or_(SignInTry.login == login, SignInTry.at < since)))
    db.execute(delete(SignIn).where(SignIn.expires_at < now))
    db.add(SignIn(token_digest=_digest(token), user_id=user.id, created_at=now, expires_at=now + STAYS_SIGNED_IN))
    db.add(Audit(at=now, user_id=user.id, action="sign_in", subject=f"user:{user.id}", details={}))
    db.commit()
    return token


def sign_out(db: DbSession, token: str) -> None:
    db.execute(delete(SignIn).where(SignIn.token_digest == _digest(token)))
    db.commit()


def person_of(db: DbSession, token: str, now: datetime) -> Person:
    """The person a token belongs to. Raises NotSignedIn when it has run out or was revoked."""
    rows = db.execute(
        select(User.id, User.name, RoleGrant.squad_id, RoleGrant.role)
        .join(SignIn, SignIn.user_id == User.id)
        .outerjoin(RoleGrant, RoleGrant.user_id == User.id)
        .where(SignIn.token_digest == _digest(token), SignIn.expires_at > now, User.active)
    ).all()
    if not rows:
        raise NotSignedIn("Sign in to go on; what you typed is kept on this screen.")
    roles: dict[int, set[Role]] = defaultdict(set)
    for row in rows:
        if row.squad_id is not None:
            roles[row.squad_id].add(row.role)
    return Person(rows[0].id, rows[0].name, {squad: frozenset(have) for squad, have in roles.items()})


def user_names(db: DbSession, club_id: int) -> dict[int, str]:
    """Names of the club's users, by id."""
    rows = db.execute(select(User.id, User.name).where(User.club_id == club_id))
    return {row[0]: row[1] for row in rows}
