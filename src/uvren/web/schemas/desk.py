"""What stands beside the lanes: the coach's sheet, settings of notices, saved views, rest trials, the method."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.core.audience import Audience
from uvren.core.notices import Cause, Severity
from uvren.store.models import Scope
from uvren.web.schemas.base import In, Number, Out


class LineOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    how: str
    open: bool


class GroupOut(Out):
    code: str
    name: str
    lines: list[LineOut]


class SheetOut(Out):
    """A day's sheet; ``version`` is the last that was given out, 0 for none; ``changes`` are those since."""

    day: date
    sessions: list[str]
    groups: list[GroupOut]
    version: int
    made_by: str
    made_at: datetime | None
    changes: list[str]
    text: str


class SheetIn(In):
    day: date


class SettingOut(Out):
    key: str
    name: str
    default: float
    low: float
    high: float
    unit: str


class KindOut(Out):
    """A kind of notice as the settings and the method page show it."""

    code: str
    name: str
    rule: str
    cleared: str
    source: str
    cause: Cause
    severities: list[Severity]
    audience: Audience
    settings: list[SettingOut]


class TunedOut(Out):
    id: str
    code: str
    scope: Scope
    whom: str
    off: bool
    values: dict[str, float]
    said: str
    reason: str
    from_day: date
    set_by: str


class NoticesOut(Out):
    kinds: list[KindOut]
    tuned: list[TunedOut]


class TuneIn(In):
    code: Annotated[str, Field(max_length=40)]
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    off: bool = False
    values: dict[str, Number] = Field(default_factory=dict, max_length=8)
    reason: Annotated[str, Field(max_length=400)] = ""


class ViewOut(Out):
    id: str
    name: str
    query: str


class ViewsOut(Out):
    views: list[ViewOut]


class ViewIn(In):
    name: Annotated[str, Field(max_length=60)]
    query: Annotated[str, Field(max_length=400)]


class TrialIn(In):
    athlete_id: int
    from_day: date
    days: int


class JudgeIn(In):
    athlete_id: int
    better: bool


class SectionOut(Out):
    """A part of the method page: paragraphs, and rows of term and meaning."""

    code: str
    title: str
    paragraphs: list[str]
    terms: list[tuple[str, str, str]]


class MethodOut(Out):
    sections: list[SectionOut]
    notices: list[KindOut]
