"""What comes in and goes out: limits."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from uvren.core.workload import School
from uvren.services.day.desk import ChannelName
from uvren.store.models import Scope
from uvren.web.schemas import In, Number, Out, Ulid


class RuleOut(Out):
    code: str
    title: str
    unit: Literal["share", "ratio", "load", "days", "plain"]
    lowest: float
    highest: float
    source: str
    floor: bool
    has_school: bool
    has_over: bool


class LimitOut(Out):
    id: str
    channel: str
    rule: str
    key: str
    title: str
    value: float
    said: str
    school: School | None
    over: float | None
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


class LimitsOut(Out):
    day: date
    rules: list[RuleOut]
    limits: list[LimitOut]
    channels: list[ChannelName]


class LimitIn(In):
    id: Ulid
    channel: Annotated[str, Field(max_length=40)] | None = None
    rule: Annotated[str, Field(max_length=40)]
    value: Number
    school: School | None = None
    over: Annotated[int, Field(ge=0, le=7)] | None = None
    hard: bool
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""
    reason: Annotated[str, Field(max_length=400)]
    replaces: Ulid | None = None
