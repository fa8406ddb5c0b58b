"""What comes in and goes out: spine."""

from __future__ import annotations

from datetime import date, datetime

from uvren.store.models import SessionKind, Venue
from uvren.web.schemas import Out


class SpineSessionOut(Out):
    id: str
    kind: SessionKind
    title: str
    starts_at: datetime
    minutes: float
    effort: float
    opponent: str | None
    venue: Venue | None
    done: bool
    unrated: int


class SpineDayOut(Out):
    day: date
    offset: int | None
    sessions: list[SpineSessionOut]


class SpineOut(Out):
    days: list[SpineDayOut]
