"""What comes in and goes out: sheet."""

from __future__ import annotations

from datetime import date, datetime

from uvren.web.schemas import In, Out


class LineOut(Out):
    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    how: str
    open: bool


class GroupOut(Out):
    code: str
    name: str
    lines: list[LineOut]


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
