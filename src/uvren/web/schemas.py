"""What every schema builds on, and what many share."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field, RootModel

from uvren.core.body import Side, Site
from uvren.store.models import Availability, ComplaintKind

ULID = r"^[0-7][0-9A-HJKMNP-TV-Z]{25}$"
Ulid = Annotated[str, Field(pattern=ULID)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Clock = Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
Password = Annotated[str, Field(max_length=200)]
Token = Annotated[str, Field(min_length=10, max_length=80)]
Words = Annotated[str, Field(max_length=2000)]
Settings = dict[str, Any]


class Out(BaseModel):
    """What goes out. Frozen values of the services stand in it as they are, and are validated as they stand."""

    model_config = ConfigDict(from_attributes=True, revalidate_instances="always")


Frozen = TypeVar("Frozen")


class Answer(RootModel[Frozen]):
    """A frozen value of the services that goes out as a whole."""

    model_config = ConfigDict(revalidate_instances="always")


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class DoneOut(Out):
    done: bool = True


class DayQuery(In):
    day: date


class ChannelQuery(DayQuery):
    channel: Annotated[str, Field(max_length=40)] | None = None
    known: bool = False


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
    version: int
    unseen: bool
