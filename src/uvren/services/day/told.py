"""What may be told of calls, by who reads: one place for lanes, evidence, the athlete's page and the review."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from uvren.core.audience import Audience
from uvren.core.day import CallKind
from uvren.store.models import Call


@dataclass(frozen=True)
class CallSaid:
    """A call as someone may read it. ``kind`` is unavailable where a person is away for reasons not theirs to read."""

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


def call_said(call: Call, made_by: str, audiences: Set[Audience]) -> CallSaid:
    """A call for these audiences: without reports, one learns that someone is out, not why."""
    reasons = Audience.REPORTS in audiences
    return CallSaid(
        id=call.id,
        kind="unavailable" if call.kind is CallKind.REFER and not reasons else call.kind,
        reason=call.reason if reasons else "",
        review_on=call.review_on,
        minutes=call.minutes,
        effort_cap=call.effort_cap,
        content=call.content,
        above_room=call.above_room,
        reply=call.reply if Audience.CLINICAL in audiences else None,
        made_by=made_by,
        made_at=call.made_at,
    )
