"""Breaks: days without work, or with hardly any, after which nobody goes on as before."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from uvren.core.loads import DailyLoads
from uvren.core.returns.steps import LEAST_DAYS
from uvren.core.windows import run_length

# A week under this part of the usual one is hardly any work; for so many days it is a break.
LITTLE, LITTLE_DAYS = 0.25, 14
USUAL_DAYS = 28
# One kind of work is left out for longer before anybody has to climb back to it.
OWN_DAYS = 21


@dataclass(frozen=True)
class Break:
    """A break of one row: its first day off, the day of its end (the first with work; None while it lasts), its days.

    ``little`` says that there was some work in it, less than a quarter of usual.
    """

    row: int
    first: date
    back: date | None
    days: int
    little: bool = False


def breaks(loads: DailyLoads, *, within: int = 28, least: int = LEAST_DAYS) -> list[Break]:
    """The last break of each row that lasts, or ended within so many days before the last day; none counts twice.

    Parameters
    ----------
    loads : DailyLoads
        Its last day is the one it is asked on. A missing rating is work that was done: it ends a break.
    within : int
        Days back in which a break must have ended.
    least : int
        Days without work from which it is one. Of hardly any work it is two weeks, whatever this says.
    """
    out = []
    for row in range(loads.load.shape[0]):
        found = _without(loads, row, within, least) or _with_little(loads, row)
        if found is not None:
            out.append(found)
    return out


def _without(loads: DailyLoads, row: int, within: int, least: int) -> Break | None:
    off = (loads.values[row] == 0) & loads.known[row]
    run = run_length(off[None, :])[0]
    long = np.flatnonzero(run >= least)
    if not long.size:
        return None
    end, last = int(long[-1]), loads.days - 1
    first = end - int(run[end]) + 1
    # Whoever had no work before has not begun: there is nothing to come back to.
    if last - end > within or not (loads.values[row, :first] > 0).any():
        return None
    back = None if end == last else loads.date_of(end + 1)
    return Break(row, loads.date_of(first), back, int(run[end]))


def _with_little(loads: DailyLoads, row: int) -> Break | None:
    """Two weeks and more under a quarter of the four weeks before, up to the last day."""
    days = loads.days
    first = np.arange(max(int(loads.start[row]), 0) + USUAL_DAYS, days - LITTLE_DAYS + 1)
    if not first.size:
        return None
    usual = loads.sum_over(USUAL_DAYS)[row, first - 1] / 4
    # The first six days of it still reach back into the time before.
    most = np.maximum.accumulate(loads.sum_over(7)[row, ::-1])[::-1][first + 6]
    missing = np.logical_or.accumulate(loads.missing[row, ::-1])[::-1][first]
    found = np.flatnonzero((usual > 0) & (most < LITTLE * usual) & ~missing)
    if not found.size:
        return None
    begin = int(first[found[0]])
    return Break(row, loads.date_of(begin), None, days - begin, little=True)
