"""Units of work, anchors and work of a session."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import Field

from uvren.core.units import Level, Region
from uvren.store.models import AnchorKind, SessionKind, Source
from uvren.web.schemas.base import In, Number, Out
from uvren.web.schemas.morning import ChannelNameOut
from uvren.web.schemas.people import PersonOut
from uvren.web.schemas.sessions import SegmentOut

Settings = dict[str, Any]


class DefinitionOut(Out):
    id: str
    form: str
    settings: Settings
    kinds: list[SessionKind]
    from_day: date
    reason: str
    set_by: str
    set_at: datetime
    sentence: str


class ChannelOut(ChannelNameOut):
    is_main: bool
    level: Level
    regions: list[Region]
    published: str
    definition: DefinitionOut
    history: list[DefinitionOut]


class FormOut(Out):
    code: str
    title: str
    unit: str
    level: Level
    published: str


class PlaceOut(Out):
    id: int
    name: str


class ChannelsOut(Out):
    day: date
    channels: list[ChannelOut]
    forms: list[FormOut]
    marks: list[str]
    regions: list[Region]
    kinds: list[SessionKind]
    places: list[PlaceOut]


class DraftIn(In):
    name: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(max_length=24)]
    form: Annotated[str, Field(max_length=24)]
    settings: Annotated[Settings, Field(default_factory=dict)]
    kinds: list[SessionKind]
    regions: Annotated[list[str], Field(max_length=12, default_factory=list)]
    mark: Annotated[str, Field(max_length=16)]
    from_day: date
    reason: Annotated[str, Field(max_length=400)] = ""


class ChannelIn(DraftIn):
    recompute: bool = False


class PreviewIn(In):
    draft: DraftIn
    channel: Annotated[str, Field(max_length=40)] | None = None
    session_id: Annotated[str, Field(max_length=26)] | None = None


class PreviewRowOut(Out):
    athlete_id: int
    name: str
    before: float | None
    after: float | None


class PreviewWeekOut(Out):
    until: date
    before: float | None
    after: float | None


class PreviewOut(Out):
    sentence: str
    session_id: str | None
    session_said: str
    rows: list[PreviewRowOut]
    weeks: list[PreviewWeekOut]
    days_moved: int
    days: int


class SessionPlaceIn(In):
    place: Annotated[str, Field(max_length=60)] | None


class PlaceIn(In):
    name: Annotated[str, Field(max_length=60)]


class AnchorMeaningOut(Out):
    kind: AnchorKind
    name: str
    unit: str
    low: float
    high: float
    words: list[str]


class AnchorOut(Out):
    id: str
    athlete_id: int
    kind: AnchorKind
    value: float | None
    word: str | None
    from_day: date
    source: str
    set_by: str


class AnchorsOut(Out):
    day: date
    kinds: list[AnchorMeaningOut]
    athletes: list[PersonOut]
    anchors: list[AnchorOut]


class AnchorIn(In):
    athlete_id: int
    kind: AnchorKind
    value: Number | None = None
    word: Annotated[str, Field(max_length=24)] | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""


class CountableOut(Out):
    code: str
    name: str
    weight: float
    channel: str


class WorkOut(Out):
    what: str
    data: Settings
    version: int
    source: Source


class ChannelLoadOut(Out):
    code: str
    load: float | None
    state: Literal["measured", "estimated", "missing"]


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
    loads: list[ChannelLoadOut]
    maxima: list[MaximumOut]


class SessionWorkOut(Out):
    id: str
    day: date
    title: str
    channels: list[ChannelNameOut]
    classes: list[CountableOut]
    surfaces: list[CountableOut]
    postures: list[CountableOut]
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


class SetEstimateOut(Out):
    tonnage: float
    epley: float | None
    brzycki: float | None


class EstimatesOut(Out):
    items: list[SetEstimateOut]
