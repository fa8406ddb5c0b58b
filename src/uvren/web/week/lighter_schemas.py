"""What comes in and goes out: lighter weeks."""

from __future__ import annotations

from datetime import date

from uvren.core.plan.lighter import School
from uvren.services.week.lighter import LighterWeeks
from uvren.web.schemas import Answer, DayQuery, In, Out


class LighterQuery(DayQuery):
    school: School = School.CUT
    fewer: bool = False


class LighterWeeksOut(Answer[LighterWeeks]):
    """Lighter weeks that are due, that stand, and that are over."""


class AcceptLighterIn(In):
    day: date
    athlete_id: int
    school: School = School.CUT
    fewer: bool = False


class AcceptedOut(Out):
    """The lighter week, to be taken back."""

    id: str
