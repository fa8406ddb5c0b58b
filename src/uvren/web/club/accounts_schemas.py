"""What comes in and goes out: accounts."""

from __future__ import annotations

from datetime import date

from uvren.store.models import Role
from uvren.web.club.invitations_schemas import InvitationOut
from uvren.web.schemas import In, Out


class UserOut(Out):
    id: int
    name: str
    login: str
    role: Role
    active: bool
    athlete_id: int | None
    second_factor: bool


class MemberOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    from_day: date
    since: date
    to_day: date | None
    account: bool
    linkable: bool


class AccountsOut(Out):
    users: list[UserOut]
    invitations: list[InvitationOut]
    members: list[MemberOut]


class ActiveIn(In):
    active: bool
