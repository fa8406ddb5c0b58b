"""The morning desk: lanes, evidence, calls and limits."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from uvren.core.day import CallKind, Stands
from uvren.core.limits.base import Unit
from uvren.core.notices import Cause, Severity, Shape
from uvren.core.workload import School
from uvren.store.models import Scope
from uvren.web.schemas.base import In, Number, Out, Ulid


class NoticeOut(Out):
    code: str
    shape: Shape
    severity: Severity
    title: str
    sentence: str
    clears: str
    provenance: str
    channel: str
    regions: list[str]
    about: str
    figure: float | None
    value: float | None
    unit: Unit | None
    cause: Cause
    quiet: bool
    new: bool


class FeltOut(Out):
    """An item of a report against own norms; ``z`` is up where it is better."""

    item: str
    name: str
    value: float | None
    usual: float | None
    spread: float | None
    z: float | None
    lasting: int
    sign: int
    days: list[float | None]


class CallOut(Out):
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


class CallsOut(Out):
    calls: list[CallOut]


class RoomOut(Out):
    load: float | None
    words: str
    closed: bool
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    written: float
    plan_words: str
    resting: str


class StripOut(Out):
    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[Literal["measured", "estimated", "missing", "rest", "planned", "before"]]
    side: list[Literal["over", "under", ""]]
    torn: str


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
    group: Literal["call", "watch", "plan", "called"]
    effort: float
    minutes: float
    stands: Stands
    said: str
    leaves: float | None
    room: RoomOut
    others: list[ChannelRoomOut]
    binding: str | None
    strip: StripOut
    notices: list[NoticeOut]
    felt: list[FeltOut]
    gate: str
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
    figure_text: str
    value_text: str
    unit: Unit
    floor: bool
    over: bool
    silent: str


class OutcomeOut(Out):
    kind: CallKind
    load: float | None
    words: str
    over: float
    tomorrow: str
    tomorrow_over: float


class PlannedTodayOut(Out):
    """A session as planned for someone, and what stands of its minutes and its effort."""

    title: str
    starts_at: datetime
    minutes: float
    effort: float
    stands: float
    stands_effort: float


class SaidOut(Out):
    day: date
    words: str


class TurnedOut(Out):
    """A call and what came of it."""

    athlete_id: int
    name: str
    day: date
    call: CallOut
    called: float | None
    done: float | None
    kept: Literal["kept", "more", "less", "harder", ""]
    after: str


class TestLineOut(Out):
    code: str
    name: str
    unit: str
    error: float | None
    days: list[date]
    values: list[float]


class EvidenceOut(Out):
    lane: LaneOut
    with_plan: RoomOut
    figures: list[FigureOut]
    limits: list[LimitSaidOut]
    outcomes: list[OutcomeOut]
    plan: list[PlannedTodayOut]
    said: list[SaidOut]
    last: TurnedOut | None
    tests: list[TestLineOut]


class ReviewOut(Out):
    first: date
    last: date
    calls: list[TurnedOut]


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


class RuleOut(Out):
    code: str
    title: str
    unit: Literal["share", "ratio", "load", "days", "plain"]
    lowest: float
    highest: float
    source: str
    floor: bool
    has_school: bool
    has_over: bool


class LimitOut(Out):
    id: str
    channel: str
    rule: str
    key: str
    title: str
    value: float
    said: str
    school: School | None
    over: float | None
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


class LimitsOut(Out):
    day: date
    rules: list[RuleOut]
    limits: list[LimitOut]
    channels: list[ChannelNameOut]


class LimitIn(In):
    id: Ulid
    channel: Annotated[str, Field(max_length=40)] | None = None
    rule: Annotated[str, Field(max_length=40)]
    value: Number
    school: School | None = None
    over: Annotated[int, Field(ge=0, le=7)] | None = None
    hard: bool
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""
    reason: Annotated[str, Field(max_length=400)]


class DoneOut(Out):
    done: bool = True
