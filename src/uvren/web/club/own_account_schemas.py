"""What comes in and goes out: own account."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from uvren.services.club.accounts import LinkUsed
from uvren.web.schemas import In, Out, Password


class SignInItemOut(Out):
    id: str
    device: str
    created_at: datetime
    seen_at: datetime
    this: bool


class AccountOut(Out):
    name: str
    login: str
    second_factor: bool
    sign_ins: list[SignInItemOut]
    links_used: list[LinkUsed]


class PasswordIn(In):
    old: Password
    new: Password


class SecondFactorOut(Out):
    """A new secret, with the QR code that an authenticator app reads, as an SVG picture."""

    secret: str
    picture: str


class SecondFactorIn(In):
    secret: Annotated[str, Field(max_length=64)]
    code: Annotated[str, Field(max_length=10)]


class RecoveryCodesOut(Out):
    """Told this once: each opens one door in place of a one-time code."""

    recovery_codes: list[str]


class DropSecondFactorIn(In):
    password: Password
    code: Annotated[str, Field(max_length=20)]
