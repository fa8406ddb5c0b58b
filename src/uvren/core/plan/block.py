"""Weeks ahead as a block: a rise with lighter weeks at set places, and where it takes everybody."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from uvren.core.day import Desk, fitted
from uvren.core.day.band import band
from uvren.core.errors import BadPlan
from uvren.core.loads import DailyLoads
from uvren.core.windows import Bools, Floats

WEEK, MOST_WEEKS = 7, 26
LIGHTER = 0.6
SLIGHT = 0.5


@dataclass(frozen=True)
class BlockWeek:
    """A week of a block: its load as a share of the week it is made from, and whether it is a lighter one."""

    share: float
    lighter: bool


def rising(weeks: int, rise: float, every: int, *, begin: float = 1.0, lighter: float = LIGHTER) -> list[BlockWeek]:
    """So many weeks, each ``rise`` (0.05 is 5 %) above the hard week before it, every so manieth one lighter.

    ``every`` 0 is none. After a lighter week it goes on from the hard week before it. Raises BadPlan.
    """
    if not 1 <= weeks <= MOST_WEEKS:
        raise BadPlan(f"a block has 1 to {MOST_WEEKS} weeks", field="weeks")
    if not -0.2 <= rise <= 0.3:
        raise BadPlan("a rise is between 20 % down and 30 % up a week", field="rise")
    if every != 0 and not 2 <= every <= 12:
        raise BadPlan("lighter weeks come every 2nd to 12th, or (0) not", field="every")
    found, hard = [], begin
    for i in range(weeks):
        if every and i % every == every - 1:
            found.append(BlockWeek(round(hard / (1 + rise) * lighter, 4), lighter=True))
            continue
        found.append(BlockWeek(round(hard, 4), lighter=False))
        hard *= 1 + rise
    return found


@dataclass(frozen=True)
class Projected:
    """Where a block takes each row, at the end of each week: float arrays, rows x weeks.

    ``base`` is a week at the base load, ``balance`` slow less fast state, ``ceiling`` and ``floor`` of the corridor
    with all of it done, nan where there is none. ``over`` says where a hard limit does not hold on some day of it.
    """

    load: Floats
    base: Floats
    balance: Floats
    ceiling: Floats
    floor: Floats
    over: Bools


def project(desk: Desk, week: Floats, shares: Sequence[float], fixed: Floats | None = None) -> Projected:
    """A block done as planned from the desk's day on.

    Parameters
    ----------
    desk : Desk
        On the block's first day, with the plan of the days before it taken as done.
    week : float array, shape (rows, 7)
        Load of the days of the week that the block is made from.
    shares : sequence of float
        Of that week, for each week of the block.
    fixed : float array, shape (rows, 7 x weeks), optional
        Load beside it that is as it is, such as that of matches.
    """
    ahead = np.concatenate([week * share for share in shares], axis=1)
    if fixed is not None:
        ahead = ahead + fixed
    planned = desk.planned
    none = np.zeros(ahead.shape)
    loads = DailyLoads(
        planned.first_day,
        np.concatenate([planned.load[:, : desk.today], ahead], axis=1),
        planned.start,
        None if planned.estimated is None else np.concatenate([planned.estimated[:, : desk.today], none], axis=1),
        planned.before,
    )
    done = replace(desk, planned=loads, facts=None, work=(), unrated=None)
    ends = desk.today + WEEK * np.arange(1, len(shares) + 1) - 1
    work, corridor = done.ahead, band(done, desk.today)
    broken = np.zeros(ahead.shape, dtype=bool)
    for rule in desk.hard:
        if not rule.floor:
            broken |= fitted(rule, loads).broken(work)[:, desk.today :]
    at = ends - desk.today
    with np.errstate(invalid="ignore"):
        over = loads.sum_over(WEEK)[:, desk.today :] > corridor.ceiling + SLIGHT
    by_week = (broken | over).reshape(desk.rows, len(shares), WEEK)
    return Projected(
        load=loads.sum_over(WEEK)[:, ends],
        base=work.ewma_chronic[:, ends] * WEEK,
        balance=(work.exp_chronic - work.exp_acute)[:, ends],
        ceiling=corridor.ceiling[:, at],
        floor=corridor.floor[:, at],
        over=np.asarray(by_week.any(axis=2)),
    )
