"""One-time codes as a second factor (RFC 6238), for who wants them."""

from __future__ import annotations

from datetime import datetime, timedelta

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


def new_secret() -> str:
    return pyotp.random_base32()


def address(secret: str, login: str) -> str:
    """What an authenticator app reads from a QR code."""
    return pyotp.TOTP(secret).provisioning_uri(name=login, issuer_name="Uvren")


def right(db: DbSession, user: User, code: str, now: datetime) -> bool:
    """Whether this is the user's code now. A code that has opened a sign-in within its time does not open another."""
    assert user.totp_secret is not None
    if not pyotp.TOTP(user.totp_secret).verify(_plain(code), for_time=now, valid_window=STEPS_AROUND):
        return False
    since = now - timedelta(seconds=STEP_SECONDS * (2 * STEPS_AROUND + 1))
    used = queries.club.signed_in_since(db, user.id, since)
    totp = pyotp.TOTP(user.totp_secret)
    return not any(totp.verify(_plain(code), for_time=moment, valid_window=STEPS_AROUND) for moment in used)


def switch_on(db: DbSession, user_id: int, secret: str, code: str, now: datetime) -> None:
    """Use codes from now on, once one of them was given back rightly. Does not commit. Raises Invalid."""
    try:
        fits = len(secret) >= LEAST_SECRET and pyotp.TOTP(secret).verify(
            _plain(code), for_time=now, valid_window=STEPS_AROUND
        )
    except ValueError as error:
        raise Invalid("This is no secret as it was told.", field="secret") from error
    if not fits:
        raise Invalid("This is not the code that belongs to it now.", field="code")
    db.get_one(User, user_id).totp_secret = secret
    audit.note(db, "second_factor_on", f"user:{user_id}", stamp=Stamp(user_id, now))


def switch_off(db: DbSession, user_id: int, *, stamp: Stamp) -> None:
    """Go back to the password alone; every sign-in of the user ends unless they did it themselves. Does not commit."""
    db.get_one(User, user_id).totp_secret = None
    if stamp.by != user_id:
        queries.club.end_sign_ins(db, user_id)
    audit.note(db, "second_factor_off", f"user:{user_id}", stamp=stamp)


def _plain(code: str) -> str:
    return code.replace(" ", "")
