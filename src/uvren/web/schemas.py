"""What goes in and out: one definition validates, documents and types the client."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from uvren.core.notices import Severity, Shape
from uvren.core.workload import School
from uvren.services.permissions import Action
from uvren.store.models import CallKind, Scope, SessionKind, Source, Venue

Ulid = Annotated[str, Field(pattern=r"^[0-7][0-9A-HJKMNP-TV-Z]{25}$")]
Number = Annotated[float, Field(allow_inf_nan=False)]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


# Account ---------------------------------------------------------------------------------------------------


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
    csrf_token: str
    demo: bool
    squads: list[SquadOut]


class SignInIn(In):
    login: Annotated[str, Field(min_length=1, max_length=80)]
    password: Annotated[str, Field(min_length=1, max_length=200)]


# Days and sessions -----------------------------------------------------------------------------------------


class DayQuery(In):
    day: date


class SpineSessionOut(Out):
    id: str
    kind: SessionKind
    title: str
    starts_at: datetime
    minutes: float
    effort: float
    opponent: str | None
    venue: Venue | None
    done: bool
    unrated: int


class SpineDayOut(Out):
    day: date
    offset: int | None
    sessions: list[SpineSessionOut]


class SpineOut(Out):
    days: list[SpineDayOut]


class SegmentOut(Out):
    name: str
    minutes: float
    weight: float


class EstimateOut(Out):
    effort: float
    load: float


class GridRowOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    planned_minutes: float | None
    planned_effort: float | None
    minutes: float | None
    effort: float | None
    words: str | None
    version: int | None
    source: Source | None
    load: float | None
    state: Literal["measured", "estimated", "missing", "open"]
    estimate: EstimateOut | None
    how: str


class GridOut(Out):
    id: str
    day: date
    starts_at: datetime
    kind: SessionKind
    title: str
    opponent: str | None
    venue: Venue | None
    planned_minutes: float
    planned_effort: float
    done: bool
    segments: list[SegmentOut]
    rows: list[GridRowOut]


class EntryIn(In):
    athlete_id: int
    minutes: Number | None
    effort: Number | None
    words: Annotated[str, Field(max_length=2000)] | None = None
    version: int | None = None


class EntriesIn(In):
    changes: Annotated[list[EntryIn], Field(min_length=1, max_length=500)]


# Morning ---------------------------------------------------------------------------------------------------


class NoticeOut(Out):
    code: str
    shape: Shape
    severity: Severity
    title: str
    sentence: str
    clears: str
    provenance: str


class CallOut(Out):
    id: str
    kind: CallKind | Literal["unavailable"]
    reason: str
    review_on: date | None
    made_by: str
    made_at: datetime


class RoomOut(Out):
    load: float | None
    words: str
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    plan_words: str
    resting: str


class StripOut(Out):
    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[Literal["measured", "estimated", "missing", "rest", "planned", "before"]]
    side: list[Literal["over", "under", ""]]


class LaneOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    group: Literal["call", "watch", "plan"]
    effort: float
    room: RoomOut
    strip: StripOut
    notices: list[NoticeOut]
    call: CallOut | None


class MorningOut(Out):
    as_of: date
    channel: str
    unit: str
    days: list[date]
    lanes: list[LaneOut]


class FigureOut(Out):
    code: str
    name: str
    value: float | None
    text: str
    withheld: str


class LimitSaidOut(Out):
    key: str
    title: str
    hard: bool
    sentence: str
    provenance: str
    figure: float | None
    value: float
    silent: str


class OutcomeOut(Out):
    kind: CallKind
    load: float | None
    words: str
    over: float


class EvidenceOut(Out):
    lane: LaneOut
    with_plan: RoomOut
    figures: list[FigureOut]
    limits: list[LimitSaidOut]
    outcomes: list[OutcomeOut]


class CallIn(In):
    id: Ulid
    athlete_id: int
    day: date
    kind: CallKind
    reason: Annotated[str, Field(max_length=400)] = ""
    review_on: date | None = None


# Limits ----------------------------------------------------------------------------------------------------


class RuleOut(Out):
    code: str
    title: str
    unit: Literal["share", "ratio", "load", "days", "plain"]
    lowest: float
    highest: float
    source: str
    floor: bool
    has_school: bool


class LimitOut(Out):
    id: str
    rule: str
    key: str
    title: str
    value: float
    said: str
    school: School | None
    hard: bool
    scope: Scope
    position: str | None
    athlete_id: int | None
    whom: str
    from_day: date
    to_day: date | None
    source: str
    reason: str
    set_by: str
    set_at: datetime


class PersonOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str


class LimitsOut(Out):
    day: date
    rules: list[RuleOut]
    limits: list[LimitOut]
    athletes: list[PersonOut]


class LimitIn(In):
    id: Ulid
    rule: Annotated[str, Field(max_length=40)]
    value: Number
    school: School | None = None
    hard: bool
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""
    reason: Annotated[str, Field(max_length=400)]


class DoneOut(Out):
    done: bool = True
