"""What comes in and goes out: own."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.core.body import Site
from uvren.core.reports import Good, ReportKind, Timing
from uvren.services.club.accounts import LinkUsed
from uvren.services.morning.own_today import OwnToday
from uvren.store.models import SessionKind
from uvren.web.schemas import Answer, In, Number, Out, OwnComplaintOut, PainIn, Ulid, Words

Code = Annotated[str, Field(max_length=40)]


Answers = Annotated[dict[Code, Number], Field(max_length=40)]


class AskedOut(Out):
    """A question with its scale; ``choices`` names the steps where each has a word."""

    code: str
    question: str
    low: str
    high: str
    least: float
    most: float
    step: float
    unit: str
    good: Good
    choices: list[str]


class FormOut(Out):
    id: str | None
    kind: ReportKind
    asked: list[AskedOut]
    days: list[int]
    from_day: date | None


class ReportIn(In):
    """``made_at`` is when it was filled in; ``replaces`` the report that was seen when it was changed."""

    kind: ReportKind
    day: date
    session_id: Ulid | None = None
    answers: Answers
    words: Words | None = None
    pains: Annotated[list[PainIn], Field(max_length=10, default_factory=list)]
    ill: bool = False
    clinical_words: Words | None = None
    made_at: datetime
    replaces: Ulid | None = None


class ReportOut(Out):
    id: str
    kind: ReportKind
    day: date
    session_id: str | None
    answers: dict[str, float]
    words: str | None
    made_at: datetime
    entered_at: datetime
    timing: Timing
    told_by: str | None


class GivenOut(Out):
    """``rival`` says that another report for the same thing counts until someone chooses."""

    report: ReportOut
    rival: bool
    disagrees: bool


class DueSessionOut(Out):
    id: str
    title: str
    kind: SessionKind
    starts_at: datetime
    planned_minutes: float | None


class DueOut(Out):
    kind: ReportKind
    day: date
    session: DueSessionOut | None
    form: FormOut
    given: ReportOut | None
    rivals: list[ReportOut]


class OwnOut(Out):
    name: str
    squad: str
    slug: str
    time_zone: str
    today: date
    dues: list[DueOut]
    complaints: list[OwnComplaintOut]
    sites: list[Site]
    paired: list[Site]
    consent_text: str | None
    consent_given: datetime | None
    links_used: list[LinkUsed]


class OwnTodayOut(Answer[OwnToday]):
    pass


class ConsentIn(In):
    given: bool
    text: Annotated[str, Field(max_length=20000)]
