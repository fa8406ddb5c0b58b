"""The days ahead of a desk: each as its own morning would show it, were the plan of the days before it done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from uvren.core.day.desk import Desk
from uvren.core.day.room import DayRoom, Unrated
from uvren.core.limits import Rule
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
    """The ``days`` from the desk's own on; no more than it has planned days for.

    All of them are worked out in one pass: each day's squad stands as rows of its own, shifted so that the days end
    together. A figure of a day rests on that day and those before it, so nothing else is different.
    """
    columns = [desk.today + i for i in range(min(days, desk.planned.days - desk.today))]
    if not columns:
        return []
    loads = [_morning(desk, column) for column in columns]
    # That a room holds when it is used up is asked of the day that is offered, not of what is only in sight.
    used_up = np.repeat([column == desk.today for column in columns], desk.rows)
    found = _together(desk, columns, loads).rooms_today(used_up=used_up)
    return [
        DayAhead(
            desk.planned.values[:, column] - np.nan_to_num(load[:, column]),
            found[i * desk.rows : (i + 1) * desk.rows],
        )
        for i, (column, load) in enumerate(zip(columns, loads, strict=True))
    ]


def _morning(desk: Desk, column: int) -> Floats:
    """Loads through a day, of which nothing is done yet, as on its own morning; today with what is recorded."""
    load = desk.planned.load[:, : column + 1].copy()
    load[:, column] = desk.done.load[:, column] if column == desk.today else 0.0
    return load


def _together(desk: Desk, columns: Sequence[int], loads: Sequence[Floats]) -> Desk:
    """One desk with the rows of each day below each other, all on the last of its days."""
    n, last = len(columns), columns[-1]
    shift = np.repeat([last - column for column in columns], desk.rows)

    def ended(parts: Sequence[Floats]) -> Floats:
        """Days through each column, moved so that they end together; before them there is nothing."""
        return np.vstack([np.pad(part, ((0, 0), (last + 1 - part.shape[1], 0))) for part in parts])

    def of(load: Sequence[Floats], estimated: Floats | None, done: DailyLoads) -> DailyLoads:
        before = None if done.before is None else np.tile(done.before, n)
        each = None if estimated is None else ended([estimated[:, : column + 1] for column in columns])
        return DailyLoads(done.first_day, ended(load), np.tile(done.start, n) + shift, each, before)

    unrated = desk.unrated
    if unrated is not None:
        high = [load.copy() for load in loads]
        for one in high:
            one[:, : desk.today + 1] = unrated.high.load
        estimated = None if unrated.high.estimated is None else desk.planned.estimated
        counts = np.tile(unrated.missing, n), np.tile(unrated.sessions, n)
        unrated = Unrated(of(high, estimated, unrated.high), *counts)
    return replace(
        desk,
        as_of=desk.done.date_of(last),
        done=of(loads, desk.planned.estimated, desk.done),
        hard=tuple(_rule(rule, desk, columns) for rule in desk.hard),
        facts=None,
        work=(),
        unrated=unrated,
        declared=None if desk.declared is None else np.tile(desk.declared, n),
    )


def _rule(rule: Rule, desk: Desk, columns: Sequence[int]) -> Rule:
    """A rule over the rows of each day, its dated values moved as the days are."""
    if rule.value.ndim < 2:
        # One value for everybody and every day.
        return rule
    rows, days = desk.rows, columns[-1] + 1
    full = np.broadcast_to(rule.value, (rows, max(rule.value.shape[1], days)))
    parts = [np.pad(full[:, : column + 1], ((0, 0), (days - column - 1, 0)), mode="edge") for column in columns]
    return rule.with_value(np.vstack(parts))
