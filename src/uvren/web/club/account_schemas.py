"""What comes in and goes out: account."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.services.club.permissions import Action
from uvren.web.schemas import In, Out


class SquadOut(Out):
    slug: str
    name: str
    time_zone: str
    today: date
    first_day: date | None
    last_day: date | None
    may: list[Action]


class MeOut(Out):
    signed_in: bool
    name: str
    user_id: int | None
    club_admin: bool
    #: Whether there is a club at all.
    begun: bool
    csrf_token: str
    now: datetime
    demo: bool
    squads: list[SquadOut]


class SignInIn(In):
    login: Annotated[str, Field(min_length=1, max_length=80)]
    password: Annotated[str, Field(min_length=1, max_length=200)]
    code: Annotated[str, Field(max_length=20)] = ""
