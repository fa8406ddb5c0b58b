"""What comes in and goes out: recordings."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from uvren.services.session.traces import Figures
from uvren.store.models import RecordingKind
from uvren.web.schemas import In, Number, Out


class RecordingOut(Out):
    id: str
    athlete_id: int
    kind: RecordingKind
    device: str
    starts_at: datetime
    seconds: float
    offset_seconds: float
    samples: int
    dropped: int
    coverage: float | None
    counts: bool
    metrics: Figures


class SegmentSpanOut(Out):
    place: int
    name: str
    begins: float
    minutes: float
    weight: float
    grade: int | None


class RecordingsOut(Out):
    session_id: str
    starts_at: datetime
    segments: list[SegmentSpanOut]
    version: int
    recordings: list[RecordingOut]


class TraceOut(Out):
    """Seconds from the start of the session, with the least, mean and greatest value of each step."""

    t: list[float]
    low: list[float | None]
    mean: list[float | None]
    high: list[float | None]


class ImpactTraceOut(Out):
    t: list[float]
    g: list[float]
    right: list[bool]


class SegmentMetricsOut(Out):
    name: str
    metrics: Figures


class TracesOut(Out):
    athlete_id: int
    heart_rate: TraceOut | None
    speed: TraceOut | None
    impacts: ImpactTraceOut | None
    segments: list[SegmentMetricsOut]


class SegmentSpanIn(In):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    begins: Annotated[Number, Field(ge=-120, le=600)]
    minutes: Annotated[Number, Field(gt=0, le=600)]
    weight: Annotated[Number, Field(ge=1, le=4)]
    grade: Annotated[int, Field(ge=1, le=5)] | None = None


class SegmentsIn(In):
    segments: Annotated[list[SegmentSpanIn], Field(max_length=30)]
    version: int | None = None
