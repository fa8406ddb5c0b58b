"""What comes in and goes out: work."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.services.day.desk import ChannelName
from uvren.services.session.work_grid import ChannelLoad, Countable, SetEstimate
from uvren.store.models import Source
from uvren.web.schemas import In, Number, Out, Settings
from uvren.web.session.sessions_schemas import SegmentOut


class WorkOut(Out):
    what: str
    data: Settings
    version: int
    source: Source


class MaximumOut(Out):
    exercise: str
    kg: float


class WorkRowOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    minutes: float | None
    works: list[WorkOut]
    loads: list[ChannelLoad]
    maxima: list[MaximumOut]


class SessionWorkOut(Out):
    id: str
    day: date
    title: str
    channels: list[ChannelName]
    classes: list[Countable]
    surfaces: list[Countable]
    postures: list[Countable]
    exercises: list[str]
    lifting: bool
    by_segment: bool
    zones: int
    segments: list[SegmentOut]
    rows: list[WorkRowOut]


class WorkIn(In):
    athlete_id: int
    what: Annotated[str, Field(max_length=60)]
    data: Settings | None
    version: int | None = None


class WorksIn(In):
    changes: Annotated[list[WorkIn], Field(min_length=1, max_length=500)]


class LiftIn(In):
    exercise: Annotated[str, Field(max_length=60)]
    sets: Number
    reps: Number
    kg: Number
    reserve: Number | None = None
    rest_seconds: Number | None = None
    bar_speed: Number | None = None


class LiftsIn(In):
    items: Annotated[list[LiftIn], Field(max_length=60)]


class EstimatesOut(Out):
    items: list[SetEstimate]
