"""What comes in and goes out: athlete."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.core.audience import Audience
from uvren.core.notices import Cause, Severity, Shape
from uvren.core.recovery import System
from uvren.web.schemas import ChannelNameOut, In, Out, StripOut, TestLineOut, TurnedOut, Ulid


class ChannelLineOut(Out):
    channel: ChannelNameOut
    strip: StripOut


class ItemLineOut(Out):
    item: str
    name: str
    value: list[float | None]
    z: list[float | None]


class BreakOut(Out):
    first: date
    last: date
    why: str


class SchoolOut(Out):
    code: str
    words: str
    ratio: list[float | None]


class ZonesOut(Out):
    """Minutes in zones of heart rate by day, the lowest zone first."""

    names: list[str]
    minutes: list[list[float]]


class OpenWindowOut(Out):
    system: System
    because: str
    begins: datetime
    early: datetime
    late: datetime


class NoticeRunOut(Out):
    """Mornings running on which the same was noticed."""

    first: date
    last: date
    code: str
    name: str
    cause: Cause
    shape: Shape
    severity: Severity
    channel: str
    sentence: str


class NoticedOut(Out):
    runs: list[NoticeRunOut]


class CompetitionOut(Out):
    day: date
    name: str
    match: bool


class TimelineOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    as_of: date
    days: list[date]
    channels: list[ChannelLineOut]
    minutes: dict[str, list[float]]
    competitions: list[CompetitionOut]
    base: list[float | None]
    zones: ZonesOut | None
    windows: list[OpenWindowOut]
    items: list[ItemLineOut]
    tests: list[TestLineOut]
    schools: list[SchoolOut]
    calls: list[TurnedOut]
    breaks: list[BreakOut]


class PositionOut(Out):
    """Mean week load of the others of the position, on the days of the athlete's timeline."""

    week: list[float | None]


class FigureQuery(In):
    day: date
    figure: Annotated[str, Field(max_length=40)] = "week_load"
    channel: Annotated[str, Field(max_length=40)] | None = None


class DayInOut(Out):
    day: date
    load: float | None
    weight: float


class ArithmeticOut(Out):
    code: str
    name: str
    formula: str
    source: str
    value: float | None
    withheld: str
    steps: list[str]
    days: list[DayInOut]


class NoteOut(Out):
    id: str
    day: date
    audience: Audience
    words: str
    made_by: str
    own: bool


class NotesOut(Out):
    notes: list[NoteOut]
    audiences: list[Audience]


class NoteIn(In):
    id: Ulid
    day: date
    audience: Audience
    words: Annotated[str, Field(max_length=2000)]
