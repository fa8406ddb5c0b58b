"""What was done in the last weeks: of one's own, and of the whole squad for who has nothing of their own."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np

from uvren.core.ratings import OWN_DAYS
from uvren.core.windows import Bools, Floats
from uvren.services.day.loads import Definition
from uvren.store.models import Channel
from uvren.store.queries.session import KIND_CODES


@dataclass(frozen=True)
class Weeks:
    """Six weeks of some athletes, up to the day before ``as_of``.

    ``rows`` are daily loads as :func:`queries.day.daily_loads` has them, ``past`` what was done, session by session.
    """

    rows: Floats
    athletes: Sequence[int]
    past: Sequence[Any]
    as_of: date

    def of(self, channel: Channel) -> Floats:
        return self.rows[(self.rows[:, 0] == channel.id) & (self.rows[:, 2] >= self.as_of.toordinal() - OWN_DAYS)]

    def work_and_time(self, channel: Channel, definition: Definition) -> tuple[Floats, Floats]:
        """Load on a channel and minutes of such work by athlete, of days whose load is known.

        A minute at a place counts by the place's factor, so that a rate holds where that is 1.
        """
        at = {athlete: i for i, athlete in enumerate(self.athletes)}
        first = self.as_of.toordinal() - OWN_DAYS
        load, minutes = (np.zeros((len(at), OWN_DAYS)) for _ in range(2))
        for _, athlete, day, value, _ in self.of(channel):
            if day < first + OWN_DAYS and int(athlete) in at:
                load[at[int(athlete)], int(day) - first] = value
        places = definition.form.places
        factors = definition.form.factor([place for *_, place in self.past]) if places else np.ones(len(self.past))
        for (athlete, day, kind, done, _, _), factor in zip(self.past, factors, strict=True):
            if athlete in at and done and KIND_CODES[kind] in definition.kinds:
                minutes[at[athlete], day.toordinal() - first] += done * factor
        known = ~np.isnan(load)
        return np.where(known, load, 0.0).sum(axis=1), np.where(known, minutes, 0.0).sum(axis=1)


@dataclass(frozen=True)
class Recent:
    """The last weeks of those who are read; those of the whole squad are fetched when somebody leans on them."""

    mine: Weeks
    fetch: Callable[[], Weeks]

    @cached_property
    def everybody(self) -> Weeks:
        return self.fetch()

    def known(self, channel: Channel) -> Floats:
        """Loads of days that were measured, of whoever it was."""
        rows = self.everybody.of(channel)
        return rows[(rows[:, 3] > 0) & (rows[:, 4] <= 0), 3]

    def rates(self, channel: Channel, definition: Definition) -> tuple[Floats, Bools]:
        """Usual load a minute of such work: own of the last six weeks, else the squad's; nan for no work at all.

        And whose is the squad's.
        """
        work, time = self.mine.work_and_time(channel, definition)
        with np.errstate(divide="ignore", invalid="ignore"):
            own = np.where(time > 0, work / time, np.nan)
        leans = np.isnan(own)
        if leans.any():
            all_work, all_time = (float(part.sum()) for part in self.everybody.work_and_time(channel, definition))
            own = np.where(leans, all_work / all_time if all_time > 0 else np.nan, own)
        return own, leans
