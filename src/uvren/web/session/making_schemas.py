"""What comes in and goes out: sessions as they are planned. Times of day are the squad's own, as 18:30."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.store.models import DayMarkKind, SessionKind, Venue
from uvren.web.schemas import Clock, DayQuery, In, Number, Out


class SessionIn(In):
    kind: SessionKind
    title: Annotated[str, Field(max_length=120)] = ""
    day: date
    at: Clock
    minutes: Number
    effort: Number
    place: Annotated[str, Field(max_length=60)] | None = None
    opponent: Annotated[str, Field(max_length=100)] | None = None
    venue: Venue | None = None


class NewSessionIn(SessionIn):
    until: date | None = None


class CopyWeekIn(In):
    """Any day of the week that is copied, and of the one that it is copied into."""

    of: date
    into: date


class ChangedSessionIn(SessionIn):
    version: int | None


class VersionIn(In):
    version: int


class VersionQuery(In):
    version: int | None = None


class SessionPlanOut(Out):
    id: str
    kind: SessionKind
    title: str
    day: date
    at: str
    minutes: float
    effort: float
    place: str | None
    opponent: str | None
    venue: Venue | None
    version: int


class SpanQuery(DayQuery):
    """So many days from one on."""

    days: Annotated[int, Field(ge=1, le=92)] = 42


class CallOffIn(VersionIn):
    why: Annotated[str, Field(max_length=200)]


class DayMarkIn(In):
    """What is said of a day without a session; null takes it back."""

    day: date
    mark: DayMarkKind | None


class DayMarkOut(Out):
    day: date
    mark: DayMarkKind


class PlannedSessionOut(SessionPlanOut):
    done: bool
    called_off: str | None


class PlannedOut(Out):
    """Sessions, with the kinds that the squad has and its places, for another one.

    ``place_factors`` are what the same minutes come to in each place.
    """

    sessions: list[PlannedSessionOut]
    marks: list[DayMarkOut]
    kinds: list[SessionKind]
    places: list[str]
    place_factors: dict[str, float]


class MadeOut(Out):
    sessions: list[SessionPlanOut]
