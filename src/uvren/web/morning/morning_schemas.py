"""What comes in and goes out: morning."""

from __future__ import annotations

from datetime import date
from typing import Literal

from uvren.core.day import Stands
from uvren.core.limits.base import Unit
from uvren.core.notices import Cause, Needs, Severity, Shape, Strand
from uvren.services.day.desk import ChannelName
from uvren.services.day.fitness import TestLine
from uvren.services.day.outcomes import Turned
from uvren.services.day.plan import PlannedToday
from uvren.services.day.strips import Strip
from uvren.services.day.told import CallSaid
from uvren.services.morning.evidence import Figure, LimitSaid, Outcome, Said
from uvren.services.morning.lanes import ChannelRoom, Felt
from uvren.services.morning.room import RoomSaid
from uvren.services.morning.squads import SquadStory
from uvren.web.schemas import Out


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
    strand: Strand
    quiet: bool
    new: bool


class LaneOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    group: Needs | Literal["called"]
    effort: float
    minutes: float
    stands: Stands
    said: str
    leaves: float | None
    room: RoomSaid
    others: list[ChannelRoom]
    binding: str | None
    strip: Strip
    notices: list[NoticeOut]
    felt: list[Felt]
    gate: str
    call: CallSaid | None


class MorningOut(Out):
    as_of: date
    channel: ChannelName
    channels: list[ChannelName]
    days: list[date]
    lanes: list[LaneOut]
    stories: list[SquadStory]


class EvidenceOut(Out):
    lane: LaneOut
    with_plan: RoomSaid
    figures: list[Figure]
    limits: list[LimitSaid]
    outcomes: list[Outcome]
    plan: list[PlannedToday]
    said: list[Said]
    last: Turned | None
    tests: list[TestLine]


class ReviewOut(Out):
    first: date
    last: date
    calls: list[Turned]
