"""Daily loads: what each athlete did each day, with rest, missing and estimated told apart."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from uvren.core.errors import BadLoads
from uvren.core.windows import Bools, Floats, Ints, rolling_sum


@dataclass(frozen=True)
class DailyLoads:
    """Loads of one or more rows (an athlete on a channel) over consecutive days.

    Parameters
    ----------
    first_day : date
        The day of column 0.
    load : float array, shape (rows, days)
        The day's sum in the channel's unit; 0 is a day of rest, nan a session without a report.
    start : int array, shape (rows,)
        Column of each row's first day of history. Days before it do not exist for that row.
    estimated : float array, shape (rows, days), optional
        How much of the day's load is an estimate, in the channel's unit.
    before : float array, shape (rows,), optional
        Load a day before the history began, as declared or taken to be; 0 where it is not given.
    """

    first_day: date
    load: Floats
    start: Ints
    estimated: Floats | None = None
    before: Floats | None = None

    def __post_init__(self) -> None:
        if self.load.ndim != 2 or self.start.shape != self.load.shape[:1]:
            raise BadLoads("loads must be rows x days, with one start for each row", field="load")
        if self.estimated is not None and self.estimated.shape != self.load.shape:
            raise BadLoads("estimates must have the shape of the loads", field="estimated")
        if np.isinf(self.load).any() or (self.load < 0).any():
            raise BadLoads("a load is a finite number, 0 or more", field="load")

    @property
    def days(self) -> int:
        return self.load.shape[1]

    def column(self, day: date) -> int:
        """Column of ``day``. Raises BadLoads outside the days held."""
        column = (day - self.first_day).days
        if not 0 <= column < self.days:
            last = self.first_day + timedelta(days=self.days - 1)
            raise BadLoads(f"{day} is outside {self.first_day} to {last}", field="day")
        return column

    def date_of(self, column: int) -> date:
        return self.first_day + timedelta(days=column)

    @cached_property
    def age(self) -> Ints:
        """Day number of each row's history: 1 on its first day, 0 or less before it."""
        return np.arange(1, self.days + 1)[None, :] - self.start[:, None]

    @cached_property
    def missing(self) -> Bools:
        return np.isnan(self.load) & (self.age > 0)

    @cached_property
    def known(self) -> Bools:
        return ~np.isnan(self.load) & (self.age > 0)

    @cached_property
    def values(self) -> Floats:
        """Loads with 0 in place of missing days and of days before the history."""
        return np.where(self.known, np.nan_to_num(self.load), 0.0)

    @cached_property
    def _windows(self) -> dict[tuple[str, int], Floats]:
        return {}

    def _window(self, what: str, days: int, found: Callable[[], Floats]) -> Floats:
        """A figure of the last days. Many rules ask for the same one: it is worked out for the first."""
        if (what, days) not in self._windows:
            window = found()
            window.flags.writeable = False
            self._windows[what, days] = window
        return self._windows[what, days]

    def sum_over(self, days: int) -> Floats:
        """Known load of the last ``days`` days."""
        return self._window("sum", days, lambda: rolling_sum(self.values, days))

    def known_in(self, days: int) -> Floats:
        """How many of the last ``days`` days are known."""
        return self._window("known", days, lambda: rolling_sum(self.known.astype(np.float64), days))

    def missing_in(self, days: int) -> Floats:
        """How many of the last ``days`` days have a session without a report."""
        return self._window("missing", days, lambda: rolling_sum(self.missing.astype(np.float64), days))

    def estimated_share(self, days: int) -> Floats:
        """Share of the load of the last ``days`` days that is an estimate, 0 to 1."""
        return self._window("estimated", days, lambda: self._estimated_share(days))

    def _estimated_share(self, days: int) -> Floats:
        if self.estimated is None:
            return np.zeros(self.load.shape)
        total = self.sum_over(days)
        part = rolling_sum(np.where(self.known, self.estimated, 0.0), days)
        return np.divide(part, total, out=np.zeros_like(total), where=total > 0)

    def through(self, as_of: date) -> DailyLoads:
        """The same loads with everything after ``as_of`` left out."""
        end = self.column(as_of) + 1
        return replace(
            self,
            load=self.load[:, :end],
            estimated=None if self.estimated is None else self.estimated[:, :end],
        )

    def of_rows(self, rows: Ints) -> DailyLoads:
        """The same of some rows only."""
        return replace(
            self,
            load=self.load[rows],
            start=self.start[rows],
            estimated=None if self.estimated is None else self.estimated[rows],
            before=None if self.before is None else self.before[rows],
        )

    def with_day(self, day: date, load: Floats) -> DailyLoads:
        """The same loads with ``load`` (shape (rows,)) standing on ``day``."""
        changed = self.load.copy()
        changed[:, self.column(day)] = load
        return replace(self, load=changed)
