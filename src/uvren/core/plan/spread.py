"""A second pass for plans whose days are too much alike."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from uvren.core.plan.course import Course
from uvren.core.plan.judge import Standing, looked_at, value_of
from uvren.core.plan.milp import NoneHolds, OutOfTime
from uvren.core.plan.problem import PlanLimit
from uvren.core.plan.rows import AFTERWARDS, Row, channel_of
from uvren.core.windows import Floats

WEEK = 7
# Passes from one way of being unlike: each may only be nearer to the plan than the one before.
PASSES = 4

Solve = Callable[[Sequence[Row]], Standing]


def improve(course: Course, rows: Sequence[Row], standing: Standing, solve: Solve) -> Standing:
    """The nearest plan found whose hard limits on spread hold too; the one given where none was found.

    Spread is at most v where SD >= mean / v. The SD of a week is at least its part along any direction of length 1
    whose parts add up to 0, so that a direction gives a line which is enough: it is that of a plan in which one
    session's day is left out, and then that of the plan it led to.
    """
    caps = [one for one in course.problem.limits if one.rule == AFTERWARDS[0] and one.hard]
    if not caps or not _broken(course, standing, caps):
        return standing
    best: Standing | None = None
    for start in _starts(course, standing):
        found = _from(course, start, caps, solve)
        if found is not None and (best is None or _cost(course, found) < _cost(course, best)):
            best = found
    return standing if best is None else best


def _from(course: Course, start: Standing, caps: Sequence[PlanLimit], solve: Solve) -> Standing | None:
    best: Standing | None = None
    for _ in range(PASSES):
        try:
            found = solve(_lines(course, start, caps))
        except (NoneHolds, OutOfTime):
            return best
        if _broken(course, found, caps):
            return best
        if best is not None and _cost(course, found) >= _cost(course, best):
            return best
        best = start = found
    return best


def _cost(course: Course, standing: Standing) -> tuple[float, ...]:
    return tuple(round(value_of(course, standing, level), 4) for level in course.problem.levels)


def _starts(course: Course, standing: Standing) -> list[Standing]:
    """The plan, and the plan without each of its sessions, one at a time."""
    without = [
        Standing(
            {name: start for name, start in standing.start.items() if name != gone},
            {name: minutes for name, minutes in standing.minutes.items() if name != gone},
            {pair: minutes for pair, minutes in standing.own.items() if pair[1] != gone},
        )
        for gone in sorted(standing.start)
    ]
    return [standing, *without]


def _broken(course: Course, standing: Standing, caps: Sequence[PlanLimit]) -> bool:
    ids = {one.id for one in caps}
    return any(one.limit in ids for one in looked_at(course, standing))


def _lines(course: Course, standing: Standing, caps: Sequence[PlanLimit]) -> list[Row]:
    """Rows that are enough for the caps to hold: ``mean / v <= direction . loads / sqrt(n - 1)`` of each week."""
    loads = course.loads(standing.own, standing.start)
    lines = []
    for limit in caps:
        channel = channel_of(course, limit)
        workload = course.workload(channel, loads[channel])
        for i, athlete in enumerate(course.athletes):
            for day, date_ in enumerate(course.problem.horizon):
                column = course.as_of + 1 + day
                known = workload.loads.age[i, column] >= WEEK and not workload.loads.missing_in(WEEK)[i, column]
                if limit.is_for(athlete.id) and limit.judges(date_) and known and limit.value:
                    week = workload.loads.values[i, column - WEEK + 1 : column + 1]
                    lines.append(_line(limit, channel, i, day, week, course.problem.days))
    return lines


def _line(limit: PlanLimit, channel: str, athlete: int, day: int, week: Floats, days: int) -> Row:
    assert limit.value is not None
    apart = week - week.mean()
    length = float(np.sqrt((apart**2).sum()))
    direction = apart / length if length > 0 else np.zeros(WEEK)
    each = 1.0 / (WEEK * limit.value) - direction / np.sqrt(WEEK - 1)
    weights = np.zeros(days)
    ahead = min(WEEK, day + 1)
    weights[day + 1 - ahead : day + 1] = each[WEEK - ahead :]
    behind = float((each[: WEEK - ahead] * week[: WEEK - ahead]).sum())
    return Row(limit, channel, athlete, day, weights, -behind, max(1.0, float(week.sum()) / WEEK))
