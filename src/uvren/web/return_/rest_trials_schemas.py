"""What comes in and goes out: rest trials."""

from __future__ import annotations

from datetime import date

from uvren.web.schemas import In


class TrialIn(In):
    athlete_id: int
    from_day: date
    days: int


class JudgeIn(In):
    athlete_id: int
    better: bool
