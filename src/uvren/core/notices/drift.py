"""For whom it has been harder for weeks, and of whom too little is known to say so."""

from __future__ import annotations

import numpy as np

from uvren.core.day import Desk, Facts
from uvren.core.windows import Bools, Floats
from uvren.core.worn import SILENT_DAYS


def too_new(desk: Desk, facts: Facts) -> Bools:
    """Days of ``facts`` on which too little is known of a row, rows x days."""
    days = facts.daily.shape[2]
    begin = desk.today + 1 - days
    age = desk.done.age[:, max(begin, 0) : desk.today + 1]
    return np.asarray(np.pad(age, [(0, 0), (days - age.shape[1], 0)]) <= SILENT_DAYS)


def harder(desk: Desk, facts: Facts, level: Floats) -> Bools:
    """Rows for whom it has been harder for weeks."""
    return np.asarray((desk.sources.drift[:, -1] >= level) & ~too_new(desk, facts)[:, -1])
