"""The whole way back after a layoff, week by week, and whether it is done by a date (after Caterisano et al. 2019)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from uvren.core.errors import BadPlan
from uvren.core.loads import DailyLoads
from uvren.core.returns.ramp import REFERENCE_DAYS, shares_after

WEEK = timedelta(days=7)
LEAST_DAYS = 7
# From so many days off on, tendon has changed too: spring-like and maximal work is held so many weeks behind the rest.
LONG_DAYS, HELD_WEEKS = 56, 2
# The most effort of the first weeks, and how many of them, after a shorter and a longer break.
EFFORT_CAP, CAPPED, CAPPED_LONG = 7.0, 2, 3
# Share of open play by step, in per cent, for ramps of so many weeks.
OPEN_SHARES = {
    2: (50, 100),
    3: (25, 50, 100),
    5: (0, 25, 50, 75, 100),
    7: (0, 0, 25, 25, 50, 75, 100),
}


class WhyNot(StrEnum):
    """Why there is no ramp: the break is too short for one, or there is nothing to take a share of."""

    SHORT = "short"
    HISTORY = "history"


@dataclass(frozen=True)
class Step:
    """A week of the way back. Shares are per cent of the reference week, ``load`` is the week's most.

    ``held_share`` is that of spring-like and maximal work; ``effort_cap`` None where there is none; ``open_share`` is
    the most open play in a session.
    """

    week: int
    first: date
    share: float
    load: float
    held_share: float
    effort_cap: float | None
    open_share: float


@dataclass(frozen=True)
class WayBack:
    """The way back of one athlete on one channel.

    ``reference`` is the mean week of the four before the break. ``why_not`` is set, and ``steps`` is empty, where there
    is no ramp; ``first_day_off`` and ``days_off`` are None where there was nothing before.
    """

    first: date
    first_day_off: date | None = None
    days_off: int | None = None
    why_not: WhyNot | None = None
    reference: float | None = None
    steps: tuple[Step, ...] = ()

    def weeks_to(self, needed: float) -> int:
        """The first week, from 1, whose share is ``needed`` per cent. Raises BadPlan where no week reaches it."""
        found = next((step.week for step in self.steps if step.share >= needed), None)
        if found is None:
            raise BadPlan(f"no week of the ramp reaches {needed:g} %: its last one is 100 %", field="needed")
        return found

    def earliest(self, needed: float) -> date:
        """The first day on which ``needed`` per cent are reached."""
        return self.first + WEEK * (self.weeks_to(needed) - 1)

    def share_on(self, day: date) -> float:
        """The share of the week that a day falls in: 0 before the first one, the last one's after the ramp."""
        week = (day - self.first).days // 7
        if week < 0 or not self.steps:
            return 0.0
        return self.steps[min(week, len(self.steps) - 1)].share

    def days_short(self, needed: float, target: date) -> int:
        """By how many days a date comes too soon for ``needed`` per cent; 0 where it fits."""
        return max(0, (self.earliest(needed) - target).days)


def way_back(loads: DailyLoads, row: int, first: date) -> WayBack:
    """The way back that begins on ``first``, from the loads before it.

    Parameters
    ----------
    loads : DailyLoads
        A row begins on the athlete's first day on any channel. A day without a report is no day with load.
    row : int
    first : date
        The first day back.
    """
    before = min(max((first - loads.first_day).days, 0), loads.days)
    values = loads.values[row, :before]
    worked = np.flatnonzero(values > 0)
    if not worked.size:
        return WayBack(first, why_not=WhyNot.HISTORY)
    off = loads.date_of(int(worked[-1])) + timedelta(days=1)
    days = (first - off).days
    if days < LEAST_DAYS:
        return WayBack(first, off, days, WhyNot.SHORT)
    if (off - loads.date_of(int(loads.start[row]))).days < REFERENCE_DAYS:
        return WayBack(first, why_not=WhyNot.HISTORY)
    end = int(worked[-1]) + 1
    reference = float(values[max(end - REFERENCE_DAYS, 0) : end].sum()) / 4
    return WayBack(first, off, days, None, reference, _steps(first, days, reference))


def _steps(first: date, days_off: int, reference: float) -> tuple[Step, ...]:
    shares = shares_after(days_off)
    held = (*[0] * HELD_WEEKS, *shares)[: len(shares)] if days_off >= LONG_DAYS else shares
    return tuple(
        Step(
            week=i + 1,
            first=first + WEEK * i,
            share=share,
            load=reference * share / 100,
            held_share=held[i],
            effort_cap=effort_cap(i, days_off),
            open_share=open_share(i, len(shares)),
        )
        for i, share in enumerate(shares)
    )


def effort_cap(step: int, days_off: int) -> float | None:
    """The most effort of a step, counted from 0; None where there is no cap."""
    return EFFORT_CAP if step < (CAPPED_LONG if days_off >= LONG_DAYS else CAPPED) else None


def open_share(step: int, steps: int) -> float:
    """The most open play of a step, counted from 0, of a ramp of so many steps; in per cent."""
    if step >= steps - 1:
        return 100.0
    known = OPEN_SHARES.get(steps)
    return float(known[step]) if known else 25.0 * (4 * step // (steps - 1))
