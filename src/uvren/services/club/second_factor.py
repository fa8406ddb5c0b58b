"""One-time codes as a second factor (RFC 6238), for who wants them."""

from __future__ import annotations

import hashlib
import hmac
import secrets
from datetime import datetime

import pyotp
from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import User

STEP_SECONDS = 30
# One step of either side, for clocks that are not quite right.
STEPS_AROUND = 1
# 160 bits, as RFC 4226 recommends.
LEAST_SECRET = 32
# 60 bits each; without letters that are taken for one another.
RECOVERY_CODES, RECOVERY_LETTERS = 8, 12
RECOVERY_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"


def new_secret() -> str:
    return pyotp.random_base32()


def address(secret: str, login: str) -> str:
    """What an authenticator app reads from a QR code."""
    return pyotp.TOTP(secret).provisioning_uri(name=login, issuer_name="Uvren")


def right(db: DbSession, user: User, code: str, now: datetime) -> bool:
    """Whether this is the user's code now, or a recovery code that was kept. Either is good once, over all sign-ins."""
    assert user.totp_secret is not None
    plain = _plain(code)
    if len(plain) == RECOVERY_LETTERS:
        return queries.accounts.use_recovery_code(db, user.id, _digest(user.id, plain), now)
    step = _step(user.totp_secret, plain, now)
    return step is not None and queries.accounts.use_code(db, user.id, step, _now(now) - STEPS_AROUND - 1)


def _now(now: datetime) -> int:
    return int(now.timestamp()) // STEP_SECONDS


def _step(secret: str, code: str, now: datetime) -> int | None:
    """The time step that a code is of, if it is one of those around now."""
    steps = range(_now(now) - STEPS_AROUND, _now(now) + STEPS_AROUND + 1)
    totp = pyotp.TOTP(secret)
    return next((step for step in steps if hmac.compare_digest(totp.generate_otp(step), code)), None)


def switch_on(db: DbSession, user_id: int, secret: str, code: str, now: datetime) -> list[str]:
    """Use codes from now on, once one of them was given back rightly. Does not commit. Raises Invalid.

    Returns the recovery codes, which are told this once.
    """
    user = db.get_one(User, user_id)
    if user.totp_secret is not None:
        raise Invalid("There is a second factor already; take that one away first.", field="secret")
    try:
        step = _step(secret, _plain(code), now) if len(secret) >= LEAST_SECRET else None
    except ValueError as error:
        raise Invalid("This is no secret as it was told.", field="secret") from error
    if step is None:
        raise Invalid("This is not the code that belongs to it now.", field="code")
    user.totp_secret = secret
    queries.accounts.use_code(db, user_id, step, step - STEPS_AROUND - 1)
    codes = [_new_recovery_code() for _ in range(RECOVERY_CODES)]
    queries.accounts.set_recovery_codes(db, user_id, [_digest(user_id, _plain(code)) for code in codes])
    audit.note(db, "second_factor_on", f"user:{user_id}", stamp=Stamp(user_id, now))
    return codes


def switch_off(db: DbSession, user_id: int, *, stamp: Stamp) -> None:
    """Go back to the password alone; every sign-in of the user ends unless they did it themselves. Does not commit."""
    db.get_one(User, user_id).totp_secret = None
    queries.accounts.set_recovery_codes(db, user_id, [])
    if stamp.by != user_id:
        queries.accounts.end_sign_ins(db, user_id)
    audit.note(db, "second_factor_off", f"user:{user_id}", stamp=stamp)


def _new_recovery_code() -> str:
    letters = "".join(secrets.choice(RECOVERY_ALPHABET) for _ in range(RECOVERY_LETTERS))
    return f"{letters[:4]}-{letters[4:8]}-{letters[8:]}"


def _digest(user_id: int, plain: str) -> str:
    return hashlib.sha256(f"{user_id} {plain}".encode()).hexdigest()


def _plain(code: str) -> str:
    return code.replace(" ", "").replace("-", "").lower()
