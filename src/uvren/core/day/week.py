"""The days ahead of a desk: each as its own morning would show it, were the plan of the days before it done."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta

import numpy as np

from uvren.core.day.desk import Desk
from uvren.core.day.room import DayRoom
from uvren.core.loads import DailyLoads
from uvren.core.windows import Floats


@dataclass(frozen=True)
class DayAhead:
    """One day of a channel: what is planned for each row, and the room there is for it.

    Parameters
    ----------
    plan : float array, shape (rows,)
        Load that is planned and not done yet.
    rooms : list of DayRoom
        Beside what is recorded of the day.
    """

    plan: Floats
    rooms: list[DayRoom]


def days_ahead(desk: Desk, days: int) -> list[DayAhead]:
    """The ``days`` from the desk's own on; no more than it has planned days for."""
    last = desk.planned.days - 1
    return [_day(desk, desk.today + i) for i in range(min(days, last - desk.today + 1))]


def _day(desk: Desk, column: int) -> DayAhead:
    load = desk.planned.load[:, : column + 1].copy()
    load[:, column] = desk.done.load[:, column] if column == desk.today else 0.0
    estimated = None if desk.planned.estimated is None else desk.planned.estimated[:, : column + 1]
    unrated = desk.unrated
    if unrated is not None:
        high = load.copy()
        high[:, : desk.today + 1] = unrated.high.load
        kept = None if unrated.high.estimated is None else estimated
        unrated = replace(unrated, high=replace(unrated.high, load=high, estimated=kept))
    morning = replace(
        desk,
        as_of=desk.as_of + timedelta(days=column - desk.today),
        done=DailyLoads(desk.done.first_day, load, desk.done.start, estimated, desk.done.before),
        facts=None,
        work=(),
        unrated=unrated,
    )
    # That a room holds when it is used up is asked of the day that is offered, not of what is only in sight.
    rooms = morning.rooms_today(used_up=column == desk.today)
    return DayAhead(desk.planned.values[:, column] - np.nan_to_num(load[:, column]), rooms)
