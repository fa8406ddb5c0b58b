"""What comes in and goes out: reports."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from uvren.core.day import Stands
from uvren.core.reports import ReportKind
from uvren.web.reports.own_schemas import AskedOut, Code, FormOut, ReportIn, ReportOut
from uvren.web.schemas import AvailabilityOut, ComplaintOut, In, Out, Ulid


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
    replaces: Ulid | None = None


class ToldReportIn(ReportIn):
    """A report that staff enter for an athlete; ``told_by`` is how they know."""

    athlete_id: int
    told_by: Annotated[str, Field(min_length=1, max_length=120)]


class UnratedOut(Out):
    id: str
    title: str
    day: date


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


class SettleIn(In):
    """Whether the athlete's own rating is to stand, or the one in the grid."""

    athletes_own: bool
