"""What comes in and goes out: the beginning of a squad."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from uvren.store.models import Role, SessionKind
from uvren.web.schemas import In, Out


class StartLimitOut(Out):
    said: str
    hard: bool
    source: str


class WorkKindOut(Out):
    code: str
    name: str
    such_as: str
    sessions: list[SessionKind]
    units: list[str]
    limits: list[StartLimitOut]
    places: list[str]


class BeginSquadOut(Out):
    """What squads can begin with, and what the club and the person usually have."""

    kinds: list[WorkKindOut]
    squads: list[str]
    time_zone: str
    roles: list[Role]


class NewSquadIn(In):
    name: Annotated[str, Field(max_length=200)]
    time_zone: Annotated[str, Field(max_length=60)]
    work: Annotated[str, Field(max_length=16)] | None = None
    copy_of: Annotated[str, Field(max_length=60)] | None = None
    roles: Annotated[list[Role], Field(max_length=8)]


class NewSquadOut(Out):
    slug: str
