"""What comes in and goes out: invitations."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from uvren.store.models import Role
from uvren.web.schemas import In, Out, Password, Token


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


class SquadCodeOut(Out):
    address: str
    picture: str


class InviteAthletesIn(In):
    athletes: Annotated[list[int], Field(min_length=1, max_length=100)]


class InviteStaffIn(In):
    role: Role
    name: Annotated[str, Field(max_length=120)]
