"""What comes in and goes out: the session as it runs."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.core.field import FieldKind
from uvren.services.field.places import Places
from uvren.store.models import SessionKind
from uvren.web.schemas import DayQuery, In, Number, Out, Ulid


class FieldQuery(DayQuery):
    session: Ulid | None = None


class EventIn(In):
    id: Ulid
    kind: FieldKind
    at: datetime
    athlete_id: int | None = None
    part: Annotated[int, Field(ge=0, le=100)] | None = None
    amount: Number = 0.0
    what: Annotated[str, Field(max_length=60)] = ""
    words: Annotated[str, Field(max_length=400)] = ""


class EventsIn(In):
    events: Annotated[list[EventIn], Field(min_length=1, max_length=200)]


class EventOut(Out):
    id: str
    kind: FieldKind
    at: datetime
    athlete_id: int | None
    part: int | None
    amount: float
    what: str
    words: str
    by: str


class PartOut(Out):
    place: int
    name: str
    minutes: float
    weight: float


class ShortSessionOut(Out):
    id: str
    title: str
    kind: SessionKind
    starts_at: datetime


class SpellOut(Out):
    id: str
    athlete_id: int | None
    what: str
    most: int
    break_minutes: float


class CountableOut(Out):
    code: str
    name: str


class RuleOut(Out):
    """At most so many of something, then a break of so many seconds."""

    what: str
    most: int
    seconds: float


class FieldRowOut(Out):
    """Somebody in the session. ``room_minutes`` are what room leaves at the usual effort, None without a figure.

    ``plan_minutes`` are theirs of this session, ``minimum_minutes`` those of a minimum dose; ``to_call`` says why
    somebody has to say something first; ``spells`` are what holds for them.
    """

    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    how: str
    room_minutes: float | None
    plan_minutes: float
    minimum_minutes: float
    spells: list[RuleOut]
    to_call: str
    owed: str
    called: str | None


class FieldGroupOut(Out):
    code: str
    name: str


class FieldOut(Out):
    day: date
    session: ShortSessionOut
    planned_minutes: float
    planned_effort: float
    offset: int | None
    sessions: list[ShortSessionOut]
    parts: list[PartOut]
    events: list[EventOut]
    spells: list[SpellOut]
    countables: list[CountableOut]
    places: Places
    groups: list[FieldGroupOut]
    rows: list[FieldRowOut]


class NotedOut(Out):
    events: list[EventOut]


class SpellIn(In):
    athlete_id: int | None = None
    what: Annotated[str, Field(min_length=1, max_length=60)]
    most: Annotated[int, Field(ge=1, le=1000)]
    break_minutes: Annotated[Number, Field(ge=0.5, le=120)]


class FinishedOut(Out):
    """``kept`` says in words what went into the session, ``left`` what stands there already and was not touched."""

    session_id: str
    kept: list[str]
    left: list[str]
