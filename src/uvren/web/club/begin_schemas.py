"""What comes in and goes out: the beginning of a club."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from uvren.store.models import Role
from uvren.web.schemas import In, Password, Token


class BeginLookIn(In):
    token: Token


class BeginIn(In):
    token: Token
    club: Annotated[str, Field(max_length=200)]
    time_zone: Annotated[str, Field(max_length=60)]
    name: Annotated[str, Field(max_length=200)]
    login: Annotated[str, Field(max_length=200)]
    password: Password
    roles: Annotated[list[Role], Field(max_length=8)]
