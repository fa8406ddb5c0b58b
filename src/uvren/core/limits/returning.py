"""Limits that a plan to come back brings: what a week and a day of it may hold."""

from __future__ import annotations

import numpy as np

from uvren.core import words
from uvren.core.limits.week import DayCap, WeekCap
from uvren.core.workload import Withheld, Workload


class ReturnWeek(WeekCap):
    """At most the load of the ramp's week in seven days, for somebody who comes back."""

    code = "return_week"
    title = "Plan to come back, week"
    source = "Ramp after a layoff (after Caterisano et al. 2019), or as it was changed by a named person"
    of_plan = True

    def silent(self, workload: Workload) -> np.ndarray:
        return _unknown(workload, 7)

    def sentence(self, figure: float, value: float) -> str:
        load, cap = words.numbers(figure, value)
        return f"Week load is {load}; the plan to come back allows {cap}."


class ReturnDay(DayCap):
    """At most a part of the ramp's week on a day: half as much again as if all its days were alike."""

    code = "return_day"
    title = "Plan to come back, day"
    source = "Half as much again as an even day of the ramp's week; our own choice"
    of_plan = True

    def silent(self, workload: Workload) -> np.ndarray:
        return _unknown(workload, 1)

    def sentence(self, figure: float, value: float) -> str:
        load, cap = words.numbers(figure, value)
        return f"The day's load is {load}; the plan to come back allows {cap}."


def _unknown(workload: Workload, days: int) -> np.ndarray:
    """Only a day without a rating makes a plan silent: it needs no history, and takes estimates as they stand."""
    return np.where(workload.loads.missing_in(days) > 0, Withheld.MISSING, Withheld.NO)
