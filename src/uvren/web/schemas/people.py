"""Accounts, invitations, the athletes of a squad, and who saw what."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

from pydantic import Field

from uvren.store.models import Role
from uvren.web.schemas.base import In, Out

Password = Annotated[str, Field(max_length=200)]
Token = Annotated[str, Field(min_length=10, max_length=80)]


class PersonOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str


class StaffOut(Out):
    name: str
    roles: list[Role]


class SquadPeopleOut(Out):
    """Who is in a squad: names and what they are in it, nothing of anybody's load or health."""

    athletes: list[PersonOut]
    staff: list[StaffOut]


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


class LookIn(In):
    token: Token


class LookOut(Out):
    """What a link is for; ``login`` where it gives a new password."""

    squad: str
    name: str
    role: Role
    login: str | None


class AcceptIn(In):
    token: Token
    login: Annotated[str, Field(max_length=80)] = ""
    password: Password


class UserOut(Out):
    id: int
    name: str
    login: str
    role: Role
    active: bool
    athlete_id: int | None
    second_factor: bool


class InvitationOut(Out):
    id: str
    name: str
    role: Role
    athlete_id: int | None
    new_password: bool
    made_at: datetime
    expires_at: datetime


class InvitedOut(InvitationOut):
    """An invitation when it is made: its address is told this once, as text and as a QR code."""

    address: str
    picture: str


class InvitedListOut(Out):
    invited: list[InvitedOut]


class MemberOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    from_day: date
    to_day: date | None
    account: bool


class SquadCodeOut(Out):
    address: str
    picture: str


class AccountsOut(Out):
    users: list[UserOut]
    invitations: list[InvitationOut]
    members: list[MemberOut]


class InviteAthletesIn(In):
    athletes: Annotated[list[int], Field(min_length=1, max_length=100)]


class InviteStaffIn(In):
    role: Role
    name: Annotated[str, Field(max_length=120)]


class ActiveIn(In):
    active: bool


class MemberIn(In):
    name: Annotated[str, Field(max_length=120)]
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date


class PositionIn(In):
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date


class LeaveIn(In):
    to_day: date


class ForgetIn(In):
    """``name`` is the athlete's name typed once more, so that it is the right one."""

    everything: bool
    name: Annotated[str, Field(max_length=120)]


class ClubOut(Out):
    name: str
    performance_reads_clinical: bool
    retention_days: int | None
    consent_text: str | None


class ClubIn(In):
    performance_reads_clinical: bool
    retention_days: Annotated[int, Field(ge=30, le=36500)] | None
    consent_text: Annotated[str, Field(max_length=20000)] | None


class AuditQuery(In):
    first: date | None = None
    last: date | None = None
    athlete_id: int | None = None
    action: Annotated[str, Field(max_length=40)] = ""
    before: int | None = None


class AuditRowOut(Out):
    id: int
    at: datetime
    who: str | None
    athlete: str | None
    action: str
    subject: str
    details: dict[str, Any]


class AuditOut(Out):
    rows: list[AuditRowOut]


class NewAthleteOut(Out):
    athlete_id: int
