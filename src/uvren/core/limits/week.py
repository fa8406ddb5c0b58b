"""Limits on the day's load and on the sum of seven days."""

from __future__ import annotations

import numpy as np

from uvren.core import words
from uvren.core.limits.base import Line, Rule, Unit, last_days, never_silent, silent_week
from uvren.core.windows import Bools, Floats, shifted
from uvren.core.workload import Workload


class DayCap(Rule):
    """At most ``value`` load on a day."""

    code = "day_cap"
    title = "Cap on a day's load"
    unit = Unit.LOAD
    lowest, highest = 0.0, 100_000.0
    source = "Squad's own choice"

    def figure(self, workload: Workload) -> Floats:
        return workload.loads.load

    def silent(self, workload: Workload) -> np.ndarray:
        return never_silent(workload)

    def excess(self, workload: Workload) -> Floats:
        return workload.loads.values - self.bound

    def load_left(self, workload: Workload) -> Floats:
        return self.bound - workload.loads.values

    def line(self, workload: Workload, column: int, as_of: int) -> Line:
        cap = self.values_on(workload, column)
        return Line(last_days(workload, column, 1), cap, cap)

    def sentence(self, figure: float, value: float) -> str:
        load, cap = words.numbers(figure, value)
        return f"The day's load is {load}; the cap is {cap}."


class WeekCap(Rule):
    """At most ``value`` load in seven days."""

    code = "week_cap"
    title = "Cap on week load"
    unit = Unit.LOAD
    lowest, highest = 0.0, 1_000_000.0
    source = "Squad's own choice"
    bends_corridor = True

    def figure(self, workload: Workload) -> Floats:
        return workload.week_load

    def silent(self, workload: Workload) -> np.ndarray:
        return silent_week(workload, history=7, days=7)

    def excess(self, workload: Workload) -> Floats:
        return workload.loads.sum_over(7) - self.bound

    def load_left(self, workload: Workload) -> Floats:
        return self.bound - workload.loads.sum_over(7)

    def line(self, workload: Workload, column: int, as_of: int) -> Line:
        cap = self.values_on(workload, column)
        return Line(last_days(workload, column, 7), cap, cap)

    def sentence(self, figure: float, value: float) -> str:
        load, cap = words.numbers(figure, value)
        return f"Week load is {load}; the cap is {cap}."


class WeekFloor(WeekCap):
    """At least ``value`` load in seven days."""

    code = "week_floor"
    title = "Floor on week load"
    floor = True
    compares = True

    def excess(self, workload: Workload) -> Floats:
        return self.bound - workload.loads.sum_over(7)

    def level(self, workload: Workload) -> Floats:
        """The load today at which the week stands exactly at the floor."""
        return self.bound - workload.loads.sum_over(7) + workload.loads.values

    def load_left(self, workload: Workload) -> Floats:
        return np.full(workload.loads.load.shape, np.inf)

    def line(self, workload: Workload, column: int, as_of: int) -> Line:
        floor = self.values_on(workload, column)
        return Line(-last_days(workload, column, 7), -floor, floor)

    def sentence(self, figure: float, value: float) -> str:
        load, floor = words.numbers(figure, value)
        return f"Week load is {load}; the floor is {floor}."


class WeekChangeCap(Rule):
    """Week load at most ``1 + value`` times that of the seven days before."""

    code = "week_change_cap"
    title = "Week-on-week cap"
    unit = Unit.SHARE
    lowest, highest = 0.0, 5.0
    source = "Squad's own choice; 10 to 15 % is common advice (Gabbett 2016)"
    bends_corridor = True
    compares = True

    def figure(self, workload: Workload) -> Floats:
        return workload.week_change

    def silent(self, workload: Workload) -> np.ndarray:
        reason = silent_week(workload, history=14, days=14)
        # A week of nothing before this one is a break: any work at all is an endless rise from it.
        nothing_before = shifted(workload.loads.sum_over(7), 7) <= 0
        return np.where((reason == "") & nothing_before, "rebuild", reason)

    def excess(self, workload: Workload) -> Floats:
        week = workload.loads.sum_over(7)
        return week - (1.0 + self.bound) * shifted(week, 7)

    def load_left(self, workload: Workload) -> Floats:
        return -self.excess(workload)

    def line(self, workload: Workload, column: int, as_of: int) -> Line | None:
        rise = 1.0 + self.values_on(workload, column)
        before = last_days(workload, column, 14, skip=7)
        weights = last_days(workload, column, 7) - rise[:, None] * before
        return Line(weights, np.zeros_like(rise), rise * (before * workload.loads.values[:, : column + 1]).sum(axis=1))

    def sentence(self, figure: float, value: float) -> str:
        change, limit = words.percents(abs(figure), value)
        return f"Week load is {change} {'above' if figure >= 0 else 'below'} the week before; the limit is {limit}."


class WeekEndChangeCap(WeekChangeCap):
    """Week load at most ``1 + value`` times that of the week before, judged on Sundays alone.

    On every rolling day it binds most plans; a squad that plans by calendar weeks may judge whole ones only. On the
    other days it holds whatever is done.
    """

    code = "week_end_change_cap"
    title = "Week-on-week cap at the week’s end only"
    bends_corridor = False

    def excess(self, workload: Workload) -> Floats:
        return np.where(_sundays(workload), super().excess(workload), -1.0)

    def load_left(self, workload: Workload) -> Floats:
        return np.where(_sundays(workload), super().load_left(workload), np.inf)

    def line(self, workload: Workload, column: int, as_of: int) -> Line | None:
        return super().line(workload, column, as_of) if _sundays(workload)[column] else None

    def sentence(self, figure: float, value: float) -> str:
        return super().sentence(figure, value).replace("; the limit is", "; the limit, on Sundays, is")


def _sundays(workload: Workload) -> Bools:
    """Which columns are the last day of a calendar week."""
    first = workload.loads.first_day.isoweekday()
    return (first + np.arange(workload.loads.load.shape[1])) % 7 == 0
