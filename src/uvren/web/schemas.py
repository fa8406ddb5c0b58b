"""What goes in and out: one definition validates, documents and types the client."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from uvren.core.notices import Severity, Shape
from uvren.core.units import Level, Region
from uvren.core.workload import School
from uvren.files.layout import Format
from uvren.files.moments import Writing
from uvren.services.mappings import FileKind
from uvren.services.permissions import Action
from uvren.store.models import AnchorKind, CallKind, ImportState, RecordingKind, Scope, SessionKind, Source, Venue

Ulid = Annotated[str, Field(pattern=r"^[0-7][0-9A-HJKMNP-TV-Z]{25}$")]
Number = Annotated[float, Field(allow_inf_nan=False)]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


# Account ---------------------------------------------------------------------------------------------------


class SquadOut(Out):
    slug: str
    name: str
    time_zone: str
    today: date
    first_day: date | None
    last_day: date | None
    may: list[Action]


class MeOut(Out):
    signed_in: bool
    name: str
    csrf_token: str
    demo: bool
    squads: list[SquadOut]


class SignInIn(In):
    login: Annotated[str, Field(min_length=1, max_length=80)]
    password: Annotated[str, Field(min_length=1, max_length=200)]


# Days and sessions -----------------------------------------------------------------------------------------


class DayQuery(In):
    day: date


class ChannelQuery(DayQuery):
    channel: Annotated[str, Field(max_length=40)] | None = None


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


class SegmentOut(Out):
    name: str
    minutes: float
    weight: float


class EstimateOut(Out):
    effort: float
    load: float


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
    state: Literal["measured", "estimated", "missing", "open"]
    estimate: EstimateOut | None
    how: str


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
    factor: float | None
    rows: list[GridRowOut]


class EntryIn(In):
    athlete_id: int
    minutes: Number | None
    effort: Number | None
    words: Annotated[str, Field(max_length=2000)] | None = None
    version: int | None = None


class EntriesIn(In):
    changes: Annotated[list[EntryIn], Field(min_length=1, max_length=500)]


# Morning ---------------------------------------------------------------------------------------------------


class NoticeOut(Out):
    code: str
    shape: Shape
    severity: Severity
    title: str
    sentence: str
    clears: str
    provenance: str
    channel: str


class CallOut(Out):
    id: str
    kind: CallKind | Literal["unavailable"]
    reason: str
    review_on: date | None
    made_by: str
    made_at: datetime


class RoomOut(Out):
    load: float | None
    words: str
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    plan_words: str
    resting: str


class StripOut(Out):
    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[Literal["measured", "estimated", "missing", "rest", "planned", "before"]]
    side: list[Literal["over", "under", ""]]


class ChannelNameOut(Out):
    code: str
    name: str
    mark: str
    unit: str


class ChannelRoomOut(ChannelNameOut):
    room: RoomOut


class LaneOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    group: Literal["call", "watch", "plan"]
    effort: float
    room: RoomOut
    others: list[ChannelRoomOut]
    binding: str | None
    strip: StripOut
    notices: list[NoticeOut]
    call: CallOut | None


class MorningOut(Out):
    as_of: date
    channel: ChannelNameOut
    channels: list[ChannelNameOut]
    days: list[date]
    lanes: list[LaneOut]


class FigureOut(Out):
    code: str
    name: str
    value: float | None
    text: str
    withheld: str


class LimitSaidOut(Out):
    key: str
    channel: str
    title: str
    hard: bool
    sentence: str
    provenance: str
    figure: float | None
    value: float
    silent: str


class OutcomeOut(Out):
    kind: CallKind
    load: float | None
    words: str
    over: float


class EvidenceOut(Out):
    lane: LaneOut
    with_plan: RoomOut
    figures: list[FigureOut]
    limits: list[LimitSaidOut]
    outcomes: list[OutcomeOut]


class CallIn(In):
    id: Ulid
    athlete_id: int
    day: date
    kind: CallKind
    reason: Annotated[str, Field(max_length=400)] = ""
    review_on: date | None = None


# Limits ----------------------------------------------------------------------------------------------------


class RuleOut(Out):
    code: str
    title: str
    unit: Literal["share", "ratio", "load", "days", "plain"]
    lowest: float
    highest: float
    source: str
    floor: bool
    has_school: bool


class LimitOut(Out):
    id: str
    channel: str
    rule: str
    key: str
    title: str
    value: float
    said: str
    school: School | None
    hard: bool
    scope: Scope
    position: str | None
    athlete_id: int | None
    whom: str
    from_day: date
    to_day: date | None
    source: str
    reason: str
    set_by: str
    set_at: datetime


class PersonOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str


class LimitsOut(Out):
    day: date
    rules: list[RuleOut]
    limits: list[LimitOut]
    channels: list[ChannelNameOut]
    athletes: list[PersonOut]


class LimitIn(In):
    id: Ulid
    channel: Annotated[str, Field(max_length=40)] | None = None
    rule: Annotated[str, Field(max_length=40)]
    value: Number
    school: School | None = None
    hard: bool
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""
    reason: Annotated[str, Field(max_length=400)]


class DoneOut(Out):
    done: bool = True


# Units of work ---------------------------------------------------------------------------------------------


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
    settings: Settings = {}
    kinds: list[SessionKind]
    regions: Annotated[list[str], Field(max_length=12)] = []
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


# Anchors ---------------------------------------------------------------------------------------------------


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


# Work of a session -----------------------------------------------------------------------------------------


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


# Files -----------------------------------------------------------------------------------------------------


class ColumnUseIn(In):
    name: Annotated[str, Field(max_length=400)]
    role: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(max_length=12)] = ""


class LayoutIn(In):
    format: Format
    encoding: Annotated[str, Field(max_length=20)] = "utf-8"
    separator: Annotated[str, Field(max_length=1)] = ","
    decimal: Annotated[str, Field(max_length=1)] = "."
    head_row: Annotated[int, Field(ge=0, le=100)] = 0
    head_rows: Annotated[int, Field(ge=1, le=3)] = 1
    sheet: Annotated[str, Field(max_length=80)] = ""


class SpecIn(In):
    """How a file is read; times and dates as text."""

    kind: FileKind
    columns: Annotated[list[ColumnUseIn], Field(max_length=400)]
    writing: Writing | None = None
    zone: Annotated[str, Field(max_length=60)] = "UTC"
    day: date | None = None
    begins: Annotated[str, Field(pattern=r"^\d{2}:\d{2}(:\d{2}(\.\d+)?)?$")] | None = None
    athlete: int | None = None
    device: Annotated[str, Field(max_length=120)] = ""
    offset_seconds: Number = 0.0
    layout: LayoutIn | None = None
    make_sessions: bool = False
    good_rows: bool = False


class SpecOut(SpecIn):
    model_config = ConfigDict(from_attributes=True, extra="ignore")


class FilePersonOut(Out):
    said: str
    athlete_id: int | None
    known: bool


class ProblemOut(Out):
    row: int | None
    column: str
    said: str
    why: str


class FilePreviewOut(Out):
    id: str
    file_name: str
    size: int
    columns: list[str]
    rows: list[list[str]]
    sheets: list[str]
    spec: SpecOut
    mapping: str
    people: list[FilePersonOut]
    sessions: list[str]
    unplaced: list[str]
    wrong: str
    problems: list[ProblemOut]
    rows_read: int
    dropped: int
    notes: list[str]
    roles: list[str]
    units: dict[str, list[str]]
    writings: list[Writing]


class ImportOut(Out):
    id: str
    file_name: str
    size: int
    state: ImportState
    step: str
    share: float
    report: Settings
    created_by: str
    created_at: datetime
    finished_at: datetime | None
    undone_at: datetime | None


class FileQuery(In):
    name: Annotated[str, Field(min_length=1, max_length=255)]


class PutDownOut(Out):
    file: ImportOut
    again: bool


class MappingOut(Out):
    id: int
    name: str
    spec: Settings
    set_by: str
    set_at: datetime


class FilesOut(Out):
    imports: list[ImportOut]
    mappings: list[MappingOut]


class AliasIn(In):
    said: Annotated[str, Field(max_length=200)]
    athlete_id: int | None


class PreviewFileIn(In):
    spec: SpecIn | None = None
    people: Annotated[list[AliasIn], Field(max_length=200)] = []


class BringIn(In):
    spec: SpecIn
    save_as: Annotated[str, Field(max_length=120)] = ""


# Recordings ------------------------------------------------------------------------------------------------


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
    metrics: Settings


class SegmentSpanOut(Out):
    place: int
    name: str
    begins: float
    minutes: float
    weight: float


class RecordingsOut(Out):
    session_id: str
    starts_at: datetime
    segments: list[SegmentSpanOut]
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
    metrics: Settings


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


class SegmentsIn(In):
    segments: Annotated[list[SegmentSpanIn], Field(max_length=30)]
