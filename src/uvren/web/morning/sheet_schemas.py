"""What comes in and goes out: sheet."""

from __future__ import annotations

from datetime import date, datetime

from uvren.services.morning.sheet import Line
from uvren.web.schemas import In, Out


class GroupOut(Out):
    code: str
    name: str
    lines: list[Line]


class SheetOut(Out):
    """A day's sheet; ``version`` is the last that was given out, 0 for none; ``changes`` are those since."""

    day: date
    sessions: list[str]
    groups: list[GroupOut]
    version: int
    made_by: str
    made_at: datetime | None
    changes: list[str]
    text: str


class SheetIn(In):
    day: date
