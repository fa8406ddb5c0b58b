"""What comes in and goes out: sessions."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from uvren.services.session.sessions import Estimate
from uvren.store.models import SessionKind, Source, Venue
from uvren.web.schemas import In, Number, Out


class SegmentOut(Out):
    name: str
    minutes: float
    weight: float
    grade: int | None


class GridRowOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    planned_minutes: float | None
    planned_effort: float | None
    minutes: float | None
    effort: float | None
    words: str | None
    version: int | None
    source: Source | None
    load: float | None
    state: Literal["measured", "given", "estimated", "missing", "open"]
    estimate: Estimate | None
    how: str
    called: str
    beside: str


class GridOut(Out):
    id: str
    day: date
    starts_at: datetime
    kind: SessionKind
    title: str
    opponent: str | None
    venue: Venue | None
    place: str | None
    planned_minutes: float
    planned_effort: float
    done: bool
    segments: list[SegmentOut]
    mix_aim: float
    factor: float | None
    version: int
    rows: list[GridRowOut]


class EntryIn(In):
    athlete_id: int
    minutes: Number | None
    effort: Number | None
    words: Annotated[str, Field(max_length=2000)] | None = None
    version: int | None = None


class EntriesIn(In):
    changes: Annotated[list[EntryIn], Field(min_length=1, max_length=500)]
