"""What comes in and goes out: the day after a match."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.plan.topup import Form
from uvren.services.week.topups import AfterMatch
from uvren.web.schemas import Answer, Clock, In, Out, Ulid


class AfterMatchOut(Answer[AfterMatch | None]):
    """Who recovers and who tops up; null where no match was played up to three days before."""


class PlanAfterIn(In):
    day: date
    at: Clock
    athletes: Annotated[list[int], Field(max_length=200)]


class PlannedAfterOut(Out):
    """The sessions that were made, to take back."""

    sessions: list[str]
    on: date


class TakeAfterIn(In):
    sessions: Annotated[list[Ulid], Field(min_length=1, max_length=2)]


class TopUpFormIn(In):
    position: Annotated[str, Field(min_length=1, max_length=40)]
    form: Form
