"""What every schema builds on, and what many share."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from uvren.core.body import Side, Site
from uvren.core.day import CallKind
from uvren.store.models import Availability, ComplaintKind

ULID = r"^[0-7][0-9A-HJKMNP-TV-Z]{25}$"
Ulid = Annotated[str, Field(pattern=ULID)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Password = Annotated[str, Field(max_length=200)]
Token = Annotated[str, Field(min_length=10, max_length=80)]
Words = Annotated[str, Field(max_length=2000)]
Settings = dict[str, Any]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class StripOut(Out):
    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[Literal["measured", "estimated", "missing", "rest", "planned", "before"]]
    side: list[Literal["over", "under", ""]]
    torn: str


class ChannelNameOut(Out):
    code: str
    name: str
    mark: str
    unit: str


class TestLineOut(Out):
    code: str
    name: str
    unit: str
    error: float | None
    days: list[date]
    values: list[float]


class DoneOut(Out):
    done: bool = True


class DayQuery(In):
    day: date


class ChannelQuery(DayQuery):
    channel: Annotated[str, Field(max_length=40)] | None = None
    known: bool = False


class CallOut(Out):
    id: str
    kind: CallKind | Literal["unavailable"]
    reason: str
    review_on: date | None
    minutes: float | None
    effort_cap: float | None
    content: str | None
    above_room: bool
    reply: str | None
    made_by: str
    made_at: datetime


class TurnedOut(Out):
    """A call and what came of it."""

    athlete_id: int
    name: str
    day: date
    call: CallOut
    called: float | None
    done: float | None
    kept: Literal["kept", "more", "less", "harder", ""]
    after: str


class PainIn(In):
    site: Site
    side: Side | None = None
    severity: Number


class OwnComplaintOut(Out):
    id: str
    kind: ComplaintKind
    day: date
    site: Site | None
    side: Side | None
    severity: float | None
    said: str


class AvailabilityOut(Out):
    """What the coach may know; ``reason`` only for who may read clinical detail."""

    id: str
    availability: Availability
    change: str
    minutes_share: float | None
    effort_cap: float | None
    said: str
    from_day: date
    to_day: date | None
    set_by: str
    reason: str | None


class ComplaintOut(OwnComplaintOut):
    athlete_id: int
    words: str | None
    told_at: datetime
    seen_at: datetime | None
    seen_by: str | None
    answer: str | None
    again_on: date | None
    closed_on: date | None
    unseen: bool
