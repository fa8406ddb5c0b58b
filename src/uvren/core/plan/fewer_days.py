"""Which days of the seven ahead are left out so that a rule on days holds: days in seven averaged, days in a row."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from uvren.core.limits.days import DaysInRow, DaysInSeven
from uvren.core.loads import DailyLoads
from uvren.core.windows import Bools, Floats
from uvren.core.workload import Workload

DaysRule = DaysInRow | DaysInSeven
DAYS = 7
# A run of more days than this is as long as any limit on it.
_BACK = 63


@dataclass(frozen=True)
class FewerDays:
    """Days with work of one row in the seven ahead.

    ``planned`` counts them, ``most`` is how many the rule leaves room for, ``leave_out`` their places in the seven, the
    fewest and of those the ones with the least load; None where no choice of them lets the rule hold.
    """

    planned: int
    most: int
    leave_out: tuple[int, ...] | None


def fewer_days(rule: DaysRule, planned: DailyLoads, today: int, may: Bools) -> list[FewerDays]:
    """What a rule on days asks of each row's next seven days, the plan kept otherwise.

    Parameters
    ----------
    rule : DaysInRow or DaysInSeven
        Fitted to ``planned``.
    planned : DailyLoads
        What is done, and from ``today`` on what is planned.
    today : int
        Column of the first of the seven.
    may : bool array, shape (rows, 7)
        Days that may be left out: not those with a match, or on which something is done already.

    Returns
    -------
    list of FewerDays, one a row
    """
    days = min(DAYS, planned.days - today)
    choices = [frozenset(chosen) for n in range(days + 1) for chosen in combinations(range(days), n)]
    return [_of_row(rule, planned, row, today, may[row, :days], choices) for row in range(planned.load.shape[0])]


def _of_row(
    rule: DaysRule, planned: DailyLoads, row: int, today: int, may: Bools, choices: list[frozenset[int]]
) -> FewerDays:
    days = may.size
    load = planned.values[row, today : today + days]
    active = (load > 0) | planned.missing[row, today : today + days]
    mine = [one for one in choices if all(may[day] for day in one)]
    holds = _hold(rule, planned, row, today, load, mine)
    best = min(
        (one for one, good in zip(mine, holds, strict=True) if good),
        key=lambda one: (len(one), float(load[list(one)].sum()), sorted(one)),
        default=None,
    )
    # How many there can be at most, were every day free to choose.
    free = _hold(rule, planned, row, today, np.ones(days), choices)
    most = max((days - len(one) for one, good in zip(choices, free, strict=True) if good), default=0)
    return FewerDays(int(active.sum()), most, None if best is None else tuple(sorted(best)))


def _hold(
    rule: DaysRule, planned: DailyLoads, row: int, today: int, load: Floats, choices: list[frozenset[int]]
) -> Bools:
    """Whether the rule holds on each day that has work, with a load on the days ahead and some of them left out."""
    since = max(today - _BACK, 0)
    end = today + load.size
    tried = np.repeat(planned.load[[row], since:end], len(choices), axis=0)
    tried[:, today - since :] = load
    for i, one in enumerate(choices):
        tried[i, [today - since + day for day in one]] = 0.0
    rows = np.full(len(choices), row)
    work = Workload(DailyLoads(planned.date_of(since), tried, planned.start[rows] - since))
    broken = rule.at(rows, np.arange(since, end)).broken(work)
    # What history alone is over is not put right by resting more: only a day with work can break a rule on days.
    return np.asarray(~(broken & (tried > 0))[:, today - since :].any(axis=1))
