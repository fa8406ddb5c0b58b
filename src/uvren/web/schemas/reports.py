"""Reports and what asks for them, complaints, and what a clinician allows."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from uvren.core.body import Side, Site
from uvren.core.day import Stands
from uvren.core.reports import Good, ReportKind, Timing
from uvren.store.models import Availability, ComplaintKind, SessionKind
from uvren.web.schemas.base import In, Number, Out, Ulid

Words = Annotated[str, Field(max_length=2000)]
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
    kind: ReportKind
    asked: list[AskedOut]
    days: list[int]
    from_day: date | None


class FormsOut(Out):
    forms: list[FormOut]
    items: dict[ReportKind, list[AskedOut]]


class ItemWordsIn(In):
    question: Annotated[str, Field(max_length=120)] = ""
    low: Annotated[str, Field(max_length=120)] = ""
    high: Annotated[str, Field(max_length=120)] = ""


class FormIn(In):
    kind: ReportKind
    items: Annotated[list[Code], Field(max_length=40)]
    days: Annotated[list[int], Field(max_length=7)]
    words: Annotated[dict[Code, ItemWordsIn], Field(default_factory=dict, max_length=40)]
    from_day: date


class PainIn(In):
    site: Site
    side: Side | None = None
    severity: Number


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


class ToldReportIn(ReportIn):
    """A report that staff enter for an athlete; ``told_by`` is how they know."""

    athlete_id: int
    told_by: Annotated[str, Field(min_length=1, max_length=120)]


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


class OwnComplaintOut(Out):
    id: str
    kind: ComplaintKind
    day: date
    site: Site | None
    side: Side | None
    severity: float | None
    said: str


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


class OwnPlanOut(Out):
    title: str
    starts_at: datetime
    minutes: float
    effort: float
    stands: float
    stands_effort: float


class OwnWeekOut(Out):
    ends: date
    load: float


class OwnTodayOut(Out):
    """An athlete's own day and climb; nobody else's is part of it."""

    stands: Stands
    plan: list[OwnPlanOut]
    called: str
    gate: str
    room: str
    weeks: list[OwnWeekOut]


class ConsentIn(In):
    given: bool
    text: Annotated[str, Field(max_length=20000)]


# What staff see --------------------------------------------------------------------------------------------


class UnratedOut(Out):
    id: str
    title: str
    day: date


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


class SquadReportOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    state: Literal["in", "missing", "not asked", "hidden"]
    daily: ReportOut | None
    weekly: ReportOut | None
    week_of: date | None
    rivals: int
    missing_since: date | None
    unrated: list[UnratedOut]
    reminder: str | None
    availability: AvailabilityOut | None
    stands: Stands
    said: str


class DisagreementOut(Out):
    athlete_id: int
    name: str
    session: str
    session_id: str
    athlete_minutes: float | None
    athlete_effort: float | None
    staff_minutes: float | None
    staff_effort: float | None
    report_id: str


class ReferralOut(Out):
    """A call that refers someone, with the clinician's reply."""

    id: str
    athlete_id: int
    name: str
    day: date
    reason: str
    made_by: str
    reply: str | None


class ReportsOut(Out):
    day: date
    form: FormOut | None
    rows: list[SquadReportOut]
    disagreements: list[DisagreementOut]
    complaints: list[ComplaintOut] | None
    unseen: int | None
    referrals: list[ReferralOut]


class AllowedIn(In):
    """What a clinician allows; the share of the planned minutes goes from 0 to 1."""

    availability: Availability
    change: Annotated[str, Field(max_length=400)] = ""
    reason: Annotated[str, Field(max_length=400)] = ""
    minutes_share: Number | None = None
    effort_cap: Number | None = None
    to_day: date | None = None


class ComplaintAnswerIn(In):
    """What a clinician says of a complaint; ``allowed`` is how much may be trained from today on."""

    answer: Words | None = None
    closed: bool = False
    again_on: date | None = None
    allowed: AllowedIn | None = None


class InjuryIn(In):
    athlete_id: int
    pain: PainIn
    words: Words | None = None


class RestrictionIn(AllowedIn):
    athlete_id: int
    from_day: date


class SettleIn(In):
    """Whether the athlete's own rating is to stand, or the one in the grid."""

    athletes_own: bool
