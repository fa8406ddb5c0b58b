"""The climb back to a usual week as it is planned and kept: each week's share, and how it became what it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

from uvren.core.errors import BadPlan
from uvren.core.returns.steps import LONG_DAYS, effort_cap, open_share
from uvren.core.windows import Floats

DAYS = 7
# Under this part of its load a week was not done as planned: its step is held for another one.
KEPT = 0.7
# A day holds at most so much more than an even day of its week.
DAY_PART = 1.5
MOST_WEEKS = 52


_PLAY = {
    0.0: "controlled drills only", 25.0: "open play a quarter at most", 50.0: "half the play open",
    75.0: "three quarters of the play open",
}  # fmt: skip


def play_of(share: float) -> str:
    """How much of the play may be open, in words; empty for all of it. ``share`` is in per cent."""
    return "" if share >= 100 else _PLAY.get(share, f"open play {share:g} % at most")


@dataclass(frozen=True)
class Part:
    """A channel of a plan: its usual week before the break, and how many weeks it is held behind the rest."""

    reference: float
    held: int = 0


@dataclass(frozen=True)
class Terms:
    """What a plan to come back rests on.

    Parameters
    ----------
    first : date
        The first day back.
    days_off : int
        Length of the break in days; 0 for somebody new.
    shares : sequence of float
        Per cent of the usual week by step, never falling.
    parts : mapping of str to Part
        By channel; that of ``main`` carries the climb.
    days_a_week : int
        On how many days of a usual week there was work.
    """

    first: date
    days_off: int
    shares: tuple[float, ...]
    parts: Mapping[str, Part]
    main: str
    days_a_week: int = 5

    def __post_init__(self) -> None:
        if not self.shares or any(not 0 < one <= 100 for one in self.shares):
            raise BadPlan("a step is more than 0 and at most 100 % of the usual week", field="shares")
        if any(a > b for a, b in zip(self.shares, self.shares[1:], strict=False)):
            raise BadPlan("a step is never lower than the one before it", field="shares")
        if len(self.shares) > MOST_WEEKS:
            raise BadPlan(f"a plan has at most {MOST_WEEKS} steps", field="shares")
        if self.main not in self.parts or not self.parts[self.main].reference > 0:
            raise BadPlan("a plan needs the load of a usual week, more than 0", field="reference")
        if any(one.held < 0 or one.held > MOST_WEEKS or one.reference < 0 for one in self.parts.values()):
            raise BadPlan("a channel is held for 0 weeks or more, and its usual week is 0 or more", field="parts")


@dataclass(frozen=True)
class ClimbWeek:
    """A week of the climb. ``step`` counts from 1; ``again`` says that it was held for another week.

    ``effort_cap`` is None where there is none; ``open_share`` is the most open play, in per cent; ``done`` is the load
    of a week that is over, None before.
    """

    step: int
    first: date
    share: float
    effort_cap: float | None
    open_share: float
    again: bool = False
    done: float | None = None

    @property
    def last(self) -> date:
        return self.first + timedelta(days=DAYS - 1)

    @property
    def play(self) -> str:
        """How much of the play may be open, in words; empty for all of it."""
        return play_of(self.open_share)


@dataclass(frozen=True)
class Climb:
    """The weeks of a plan in order, those that are over as they were kept, and then as they follow."""

    terms: Terms
    weeks: tuple[ClimbWeek, ...] = field(default=())

    @property
    def last(self) -> date:
        """The last day on which the plan holds anything down."""
        return self.weeks[-1].last

    def on(self, day: date) -> ClimbWeek | None:
        """The week that a day is in; None before the first one and after the last."""
        at = (day - self.terms.first).days // DAYS
        return self.weeks[at] if 0 <= at < len(self.weeks) else None

    def share_in(self, week: ClimbWeek, channel: str) -> float:
        """Per cent of its usual week that a channel may hold in a week; 0 while it is held."""
        step = week.step - self.terms.parts[channel].held
        return self.terms.shares[min(step, len(self.terms.shares)) - 1] if step > 0 else 0.0

    def share_on(self, day: date, channel: str) -> float:
        """The same on a day: 0 before the first one, 100 after the climb."""
        if day < self.terms.first:
            return 0.0
        week = self.on(day)
        return 100.0 if week is None else self.share_in(week, channel)

    def load_in(self, week: ClimbWeek, channel: str) -> float:
        """The most load of a week on a channel."""
        return self.terms.parts[channel].reference * self.share_in(week, channel) / 100

    def day_in(self, week: ClimbWeek, channel: str, planned_days: int = 0) -> float:
        """The most load of a day of a week; ``planned_days`` are those with work in it, 0 where none is planned."""
        days = planned_days or self.terms.days_a_week
        return min(self.load_in(week, channel), self.load_in(week, channel) * DAY_PART / days)

    def reaches(self, needed: float, channel: str | None = None) -> date:
        """The first day of the week in which a channel (the main one) may hold ``needed`` per cent."""
        code = channel or self.terms.main
        found = next((one.first for one in self.weeks if self.share_in(one, code) >= needed), None)
        return found or self.last + timedelta(days=1)

    def held_until(self, channel: str) -> date | None:
        """The day on which a channel that is held opens; None where it is not held."""
        return self.reaches(0.001, channel) if self.terms.parts[channel].held else None


def climb(terms: Terms, done: Floats, as_of: date) -> Climb:
    """The climb as of the morning of a day.

    Parameters
    ----------
    terms : Terms
    done : float array, shape (days,)
        Load on the main channel from the first day back on, nan where a rating is missing; a day that is not there had
        none.
    as_of : date
        Weeks that end before it are judged: one under 70 % of its load is held for another week. What is not known
        counts as nothing, so that it never speeds a climb up.
    """
    weeks: list[ClimbWeek] = []
    tail = max(part.held for part in terms.parts.values())
    steps, step, again = len(terms.shares) + tail, 1, False
    known = np.nan_to_num(np.asarray(done, dtype=np.float64))
    while step <= steps:
        first = terms.first + timedelta(days=DAYS * len(weeks))
        share = terms.shares[min(step, len(terms.shares)) - 1]
        over = first + timedelta(days=DAYS) <= as_of
        load = float(known[DAYS * len(weeks) : DAYS * (len(weeks) + 1)].sum()) if over else None
        weeks.append(
            ClimbWeek(
                step,
                first,
                share,
                effort_cap(step - 1, terms.days_off),
                open_share(step - 1, len(terms.shares)),
                again,
                load,
            )
        )
        again = load is not None and load < KEPT * share / 100 * terms.parts[terms.main].reference
        step += not again
    return Climb(terms, tuple(weeks))


def held_for(days_off: int, *, quick: bool, region: bool) -> int:
    """Weeks that a channel is held behind the rest: two for spring-like or maximal work after a long break.

    One for the channel of a region that was hurt, after a break of four weeks and more.
    """
    if days_off >= LONG_DAYS and quick:
        return 2
    return 1 if region and days_off >= LONG_DAYS // 2 else 0


def days_a_week(loads: Sequence[float]) -> int:
    """Days with work in a usual week, from the daily loads of whole weeks; 1 to 7."""
    weeks = max(len(loads) / DAYS, 1)
    return int(np.clip(round(sum(one > 0 for one in loads) / weeks), 1, DAYS))
