"""What comes in and goes out: what devices send while a session runs."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field

from uvren.services.field.live import LiveLane
from uvren.web.field.field_schemas import EventOut, PartOut, ShortSessionOut
from uvren.web.schemas import In, Number, Out


class PieceIn(In):
    """Samples of one device, a line of what a hub sends: seconds from ``at``, and beats a minute or m/s."""

    device: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Literal["heart_rate", "position"]
    number: Annotated[int, Field(ge=0, le=2**62)]
    at: datetime
    t: Annotated[list[Number], Field(min_length=1, max_length=1000)]
    value: Annotated[list[Number], Field(min_length=1, max_length=1000)]


class StrapIn(In):
    """What a browser read from a strap that somebody wears: beats a minute, seconds from ``at``, as PieceIn has it."""

    athlete_id: int
    device: Annotated[str, Field(min_length=1, max_length=60)]
    number: Annotated[int, Field(ge=0, le=2**62)]
    at: AwareDatetime
    t: Annotated[list[Number], Field(min_length=1, max_length=1000)]
    value: Annotated[list[Number], Field(min_length=1, max_length=1000)]


class RefusedOut(Out):
    line: int
    said: str


class ReceivedOut(Out):
    """Lines that are kept, also those that were there already, and those that are not, with why."""

    session_id: str
    kept: list[int]
    refused: list[RefusedOut]


class ClockOut(Out):
    now: datetime


class HubOut(Out):
    id: str
    name: str
    made_at: datetime
    seen_at: datetime | None


class HubsOut(Out):
    hubs: list[HubOut]


class HubIn(In):
    name: Annotated[str, Field(min_length=1, max_length=60)]


class NewHubOut(Out):
    """The secret is told only now."""

    id: str
    token: str


class RunOut(Out):
    part: int
    begin: float
    end: float | None


class LivePartOut(PartOut):
    """A part with the aim of who goes as planned, in per cent of the own maximum."""

    low: float
    high: float


class LiveOut(Out):
    """A session as it is now; moments are seconds of the common era."""

    now: float
    session: ShortSessionOut
    offset: int | None
    parts: list[LivePartOut]
    runs: list[RunOut]
    lanes: list[LiveLane]
    words: list[EventOut]
    said: str
