"""What comes in and goes out: morning."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from uvren.core.day import CallKind, Stands
from uvren.core.limits.base import Unit
from uvren.core.notices import Cause, Severity, Shape
from uvren.web.schemas import CallOut, ChannelNameOut, Out, StripOut, TestLineOut, TurnedOut


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
