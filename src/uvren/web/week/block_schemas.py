"""What comes in and goes out: blocks of weeks."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.plan.block import rising
from uvren.services.week.block import Block, WeekWanted
from uvren.web.schemas import Answer, In, Number, Out, Ulid


class WeekWantedIn(In):
    share: Number
    lighter: bool = False
    goal: Annotated[str, Field(max_length=200)] = ""

    @property
    def wanted(self) -> WeekWanted:
        return WeekWanted(self.share, self.lighter, self.goal)


class BlockIn(In):
    """Weeks from the Monday of ``first`` on, made from the week of ``of``."""

    first: date
    of: date
    weeks: Annotated[list[WeekWantedIn], Field(max_length=60)]

    @property
    def wanted(self) -> list[WeekWanted]:
        return [one.wanted for one in self.weeks]


class PlanBlockIn(BlockIn):
    """A block as it was looked at in this edition of the plan."""

    edition: Annotated[str, Field(max_length=64)]


class RisingIn(In):
    """So many weeks, each ``rise`` above the hard week before it, every so manieth one (0: none) lighter."""

    weeks: int
    rise: Number
    every: int


class ProjectIn(BlockIn):
    """For one athlete, or (null) for the squad; ``rising`` lays the weeks out anew, with the goals that are given."""

    athlete_id: int | None = None
    rising: RisingIn | None = None

    @property
    def wanted(self) -> list[WeekWanted]:
        if self.rising is None:
            return super().wanted
        laid = rising(self.rising.weeks, self.rising.rise, self.rising.every)
        goals = [one.goal for one in self.weeks] + [""] * len(laid)
        return [WeekWanted(one.share, one.lighter, goal) for one, goal in zip(laid, goals, strict=False)]


class BlockOut(Answer[Block | None]):
    """Where it takes them, week by week; null where nobody is in the squad."""


class StoodOut(Out):
    """A session as it was."""

    id: str
    minutes: float
    effort: float


class KeptWeekOut(Out):
    first: date
    share: float
    lighter: bool
    goal: str


class PlannedBlockOut(Out):
    """What to send to have it as it was."""

    first: date
    many: int
    made: list[str]
    changed: list[StoodOut]
    weeks: list[KeptWeekOut]


class StoodIn(In):
    id: Ulid
    minutes: Number
    effort: Number


class KeptWeekIn(In):
    first: date
    share: Number
    lighter: bool
    goal: Annotated[str, Field(max_length=200)]


class TakeBlockIn(In):
    first: date
    many: Annotated[int, Field(ge=1, le=60)]
    made: Annotated[list[Ulid], Field(max_length=1000)]
    changed: Annotated[list[StoodIn], Field(max_length=1000)]
    weeks: Annotated[list[KeptWeekIn], Field(max_length=60)]

    @property
    def stood(self) -> list[tuple[date, WeekWanted]]:
        return [(one.first, WeekWanted(one.share, one.lighter, one.goal)) for one in self.weeks]
