"""Limits on how many days have work in them. A session without a report counts as a day with work."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from uvren.core import words
from uvren.core.limits.base import Rule, Unit, never_silent, part
from uvren.core.windows import Bools, Floats, rolling_sum, run_length
from uvren.core.workload import Workload


def active_days(workload: Workload) -> Bools:
    return (workload.loads.values > 0) | workload.loads.missing


class _Days(Rule):
    unit = Unit.DAYS

    def silent(self, workload: Workload) -> np.ndarray:
        return never_silent(workload)

    @abstractmethod
    def windows(self, value: float) -> tuple[tuple[int, float], ...]:
        """How many days one after another hold how many with work at most: each is asked of the days through a day."""

    @abstractmethod
    def over_if(self, workload: Workload, extra: Bools) -> Floats:
        """By how many days the rule is broken when the ``extra`` days have work too."""

    def excess(self, workload: Workload) -> Floats:
        return self.over_if(workload, np.zeros(workload.loads.load.shape, dtype=bool))

    def load_left(self, workload: Workload) -> Floats:
        # More on a day that has work changes nothing; the first work on a day of rest may.
        over = self.excess(workload)
        over_with_today = self.over_if(workload, ~active_days(workload))
        return np.where(over > 0, -np.inf, np.where(over_with_today > 0, 0.0, np.inf))


class DaysInRow(_Days):
    """At most ``value`` days with work one after another."""

    code = "days_in_row"
    title = "Days in a row"
    lowest, highest = 1, 60
    source = "Squad's own choice"

    def figure(self, workload: Workload) -> Floats:
        return run_length(active_days(workload)).astype(np.float64)

    def windows(self, value: float) -> tuple[tuple[int, float], ...]:
        return ((int(value) + 1, value),)

    def over_if(self, workload: Workload, extra: Bools) -> Floats:
        active = active_days(workload)
        # Judged day by day: an extra day is added to the run that stood the evening before.
        before = np.pad(run_length(active), ((0, 0), (1, 0)))[:, :-1]
        run = np.where(active | extra, before + 1, 0)
        return np.asarray(np.where(run > 0, run - self.value, -1.0))

    def sentence(self, figure: float, value: float) -> str:
        return f"{words.count(int(figure), 'day')} in a row with work; the limit is {value:g}."


@dataclass(frozen=True)
class DaysInSeven(_Days):
    """At most ``value`` days with work in 7, averaged: 7 days may go ``over``, 14 days may not.

    ``over`` is a number for all, or one for each row and day like ``value``.
    """

    over: Floats | float = 1.0

    code = "days_in_seven"
    title = "Days in seven"
    lowest, highest = 1, 7
    source = "Squad's own choice"

    def figure(self, workload: Workload) -> Floats:
        return rolling_sum(active_days(workload).astype(np.float64), 7)

    def windows(self, value: float) -> tuple[tuple[int, float], ...]:
        return (7, value + float(np.max(self.over))), (14, 2 * value)

    def over_if(self, workload: Workload, extra: Bools) -> Floats:
        active = active_days(workload).astype(np.float64)
        seven = rolling_sum(active, 7) + extra - (self.value + self.over)
        fourteen = rolling_sum(active, 14) + extra - 2 * self.value
        return np.maximum(seven, fourteen)

    def at(self, rows: np.ndarray | None = None, columns: np.ndarray | None = None) -> Self:
        return replace(super().at(rows, columns), over=part(np.asarray(self.over, dtype=np.float64), rows, columns))

    def sentence(self, figure: float, value: float) -> str:
        return (
            f"{words.count(int(figure), 'day')} with work in the last 7; "
            f"the limit is {value:g} on average over two weeks."
        )

    def sentence_at(self, workload: Workload, row: int, column: int, of: int | None = None) -> str:
        held = column if of is None else of
        value = self.value_at(workload, row, held)
        over = float(np.broadcast_to(self.over, workload.loads.load.shape)[row, held])
        active = active_days(workload).astype(np.float64)
        seven, fourteen = (int(rolling_sum(active, days)[row, column]) for days in (7, 14))
        if seven > value + over:
            extra = f", and {value + over:g} in one week" if over else ""
            return f"{words.count(seven, 'day')} with work in the last 7; the limit is {value:g} on average{extra}."
        if fourteen > 2 * value:
            return (
                f"{words.count(fourteen, 'day')} with work in the last 14; the limit is {2 * value:g} "
                f"({value:g} a week on average)."
            )
        return self.sentence(seven, value)
