"""What the whole squad did in the last weeks, for who has nothing of their own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from uvren.core.ratings import OWN_DAYS
from uvren.core.windows import Bools, Floats
from uvren.services.day.loads import Definition
from uvren.store.models import Channel
from uvren.store.queries import KIND_CODES


@dataclass(frozen=True)
class Recent:
    """What the whole squad did in the last weeks: what stands for somebody who has nothing of their own.

    ``rows`` are daily loads as :func:`queries.daily_loads` has them, ``past`` what was done, session by session.
    """

    rows: Floats
    athletes: list[int]
    past: Sequence[Any]
    as_of: date

    @classmethod
    def of(cls, rows: Floats, athletes: list[int], past: Sequence[Any], as_of: date) -> Recent:
        return cls(rows[rows[:, 2] >= as_of.toordinal() - OWN_DAYS], athletes, past, as_of)

    def _mine(self, channel: Channel) -> Floats:
        return self.rows[self.rows[:, 0] == channel.id]

    def known(self, channel: Channel) -> Floats:
        """Loads of days that were measured, of whoever it was."""
        mine = self._mine(channel)
        return mine[(mine[:, 3] > 0) & (mine[:, 4] <= 0), 3]

    def rates(self, channel: Channel, definition: Definition, athletes: Sequence[int]) -> tuple[Floats, Bools]:
        """Usual load a minute of such work: own of the last six weeks, else the squad's; nan for no work at all.

        And whose is the squad's. A minute at a place counts by the place's factor: the rate holds where that is 1.
        """
        at = {athlete: i for i, athlete in enumerate(self.athletes)}
        first = self.as_of.toordinal() - OWN_DAYS
        load, minutes = (np.zeros((len(at), OWN_DAYS)) for _ in range(2))
        for _, athlete, day, value, _ in self._mine(channel):
            if day < first + OWN_DAYS and int(athlete) in at:
                load[at[int(athlete)], int(day) - first] = value
        places = definition.form.places
        factors = definition.form.factor([place for *_, place in self.past]) if places else np.ones(len(self.past))
        for (athlete, day, kind, done, _, _), factor in zip(self.past, factors, strict=True):
            if athlete in at and done and KIND_CODES[kind] in definition.kinds:
                minutes[at[athlete], day.toordinal() - first] += done * factor
        known = ~np.isnan(load)
        work = np.where(known, load, 0.0).sum(axis=1)
        time = np.where(known, minutes, 0.0).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            own = np.where(time > 0, work / time, np.nan)
        together = work.sum() / time.sum() if time.sum() > 0 else np.nan
        mine = [at[athlete] for athlete in athletes]
        return np.where(np.isnan(own), together, own)[mine], np.isnan(own)[mine]
