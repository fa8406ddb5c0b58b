"""What comes in and goes out: athlete."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.arithmetic import Arithmetic
from uvren.core.audience import Audience
from uvren.services.athlete.timeline import Timeline
from uvren.services.morning.noticed import NoticeRun
from uvren.web.schemas import Answer, In, Out, Ulid


class NoticedOut(Out):
    runs: list[NoticeRun]


class TimelineOut(Answer[Timeline]):
    pass


class PositionOut(Out):
    """Mean week load of the others of the position, on the days of the athlete's timeline."""

    week: list[float | None]


class FigureQuery(In):
    day: date
    figure: Annotated[str, Field(max_length=40)] = "week_load"
    channel: Annotated[str, Field(max_length=40)] | None = None


class ArithmeticOut(Answer[Arithmetic]):
    pass


class NoteOut(Out):
    id: str
    day: date
    audience: Audience
    words: str
    made_by: str
    own: bool


class NotesOut(Out):
    notes: list[NoteOut]
    audiences: list[Audience]


class NoteIn(In):
    id: Ulid
    day: date
    audience: Audience
    words: Annotated[str, Field(max_length=2000)]
