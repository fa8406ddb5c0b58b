"""What comes in and goes out: calls."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.day import CallKind
from uvren.services.day.told import CallSaid
from uvren.web.schemas import Answer, In, Number, Out, Ulid


class CallOut(Answer[CallSaid]):
    pass


class CallsOut(Out):
    calls: list[CallSaid]


class CallIn(In):
    id: Ulid
    athlete_id: int
    day: date
    kind: CallKind
    reason: Annotated[str, Field(max_length=400)] = ""
    review_on: date | None = None
    minutes: Number | None = None
    effort_cap: Number | None = None
    content: Annotated[str, Field(max_length=200)] | None = None
    replaces: Ulid | None = None
    sure: bool = False


class CallsIn(In):
    calls: Annotated[list[CallIn], Field(min_length=1, max_length=100)]


class ReplyIn(In):
    reply: Annotated[str, Field(max_length=2000)]
