"""What comes in and goes out: members."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.recordings import Side
from uvren.services.club.accounts import Staff
from uvren.services.squad.members import KnownPerson
from uvren.web.schemas import In, Out


class PersonOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str


class SquadPeopleOut(Out):
    """Who is in a squad: names and what they are in it, nothing of anybody's load or health."""

    athletes: list[PersonOut]
    staff: list[Staff]


class MemberIn(In):
    name: Annotated[str, Field(max_length=120)]
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date
    namesake: bool = False


class PastedIn(In):
    text: Annotated[str, Field(max_length=200_000)]


class PastedPersonOut(Out):
    line: int
    name: str
    number: int | None
    position: str
    from_day: date | None
    side: Side | None
    birth_year: int | None
    unread: str
    there: bool
    repeated: bool


class PastedOut(Out):
    people: list[PastedPersonOut]


class ComerIn(In):
    name: Annotated[str, Field(max_length=120)]
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date
    side: Side | None = None
    namesake: bool = False
    birth_year: Annotated[int, Field(ge=1930, le=2030)] | None = None


class ManyIn(In):
    people: Annotated[list[ComerIn], Field(max_length=500)]


class ManyOut(Out):
    count: int


class KnownMemberIn(In):
    athlete_id: int
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date


class KnownPeopleOut(Out):
    people: list[KnownPerson]


class PositionIn(In):
    number: Annotated[int, Field(ge=0, le=999)] | None = None
    position: Annotated[str, Field(max_length=40)]
    from_day: date


class CorrectIn(In):
    name: Annotated[str, Field(max_length=120)]
    from_day: date


class LeaveIn(In):
    to_day: date


class ForgetIn(In):
    """``name`` is the athlete's name typed once more, so that it is the right one."""

    everything: bool
    name: Annotated[str, Field(max_length=120)]


class NewAthleteOut(Out):
    athlete_id: int
