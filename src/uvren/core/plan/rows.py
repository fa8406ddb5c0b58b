"""Limits on load as rows over the days ahead: what the history leaves of each."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from uvren.core.errors import BadPlan
from uvren.core.limits import CATALOGUE, Rule, make_rule
from uvren.core.limits.days import DaysInRow, DaysInSeven, active_days
from uvren.core.plan.course import PRESENCE, Course
from uvren.core.plan.problem import PlanLimit
from uvren.core.windows import Floats

# Rules that are no row: a plan is looked at for them afterwards.
AFTERWARDS = ("monotony_cap", "strain_cap")
WEEK = 7


@dataclass(frozen=True)
class Row:
    """``(weights * load).sum() <= bound`` for one limit, athlete and day.

    Parameters
    ----------
    limit : PlanLimit
    athlete : int
        Place in the course's athletes.
    day : int
        Place in the horizon of the day that is judged.
    weights : float array, shape (days,)
        Of the load of each day ahead on ``channel``; where ``counts`` is set, of whether it has work.
    bound, scale : float
        ``scale`` is what an excess is told in shares of.
    """

    limit: PlanLimit
    channel: str
    athlete: int
    day: int
    weights: Floats
    bound: float
    scale: float
    counts: bool = False


def rule_of(limit: PlanLimit) -> Rule:
    """The rule of a limit on load. Raises UnknownRule, BadLimit."""
    return make_rule(limit.rule, np.array(limit.value, dtype=np.float64), dict(limit.settings))


def channel_of(course: Course, limit: PlanLimit) -> str:
    if limit.channel is None and not course.problem.channels:
        raise BadPlan(f"limit {limit.id!r} has no channel", field="limits")
    return limit.channel or course.problem.channels[0]


def rows_of(course: Course) -> list[Row]:
    """Every row of every hard limit on load, where it speaks on history and the coach's plan."""
    found: list[Row] = []
    for limit in sorted(course.problem.limits, key=lambda one: one.id):
        if not limit.hard or limit.rule in (*PRESENCE, *AFTERWARDS, "spacing"):
            continue
        if limit.rule not in CATALOGUE:
            raise BadPlan(f"limit {limit.id!r}: there is no rule {limit.rule!r}", field="limits")
        rule = rule_of(limit)
        days = _days_rows if isinstance(rule, DaysInRow | DaysInSeven) else _load_rows
        found.extend(days(course, limit, rule))
    return found


def _load_rows(course: Course, limit: PlanLimit, rule: Rule) -> Iterator[Row]:
    channel, now = channel_of(course, limit), course.as_of
    workload = course.planned[channel]
    speaks = rule.speaks(workload)
    for day, date_ in enumerate(course.problem.horizon):
        if not limit.judges(date_) or (rule.floor and day < WEEK - 1):
            continue
        column = now + 1 + day
        line = rule.line(workload, column, now)
        if line is None:
            continue
        past = workload.loads.values[:, : now + 1]
        left = line.bound - (line.weights[:, : now + 1] * past).sum(axis=1)
        # What history alone breaks may not become worse; a floor is owed whatever stands behind.
        bound = left if rule.floor else np.maximum(left, 0.0)
        for i, athlete in enumerate(course.athletes):
            if not limit.is_for(athlete.id) or not speaks[i, column]:
                continue
            if rule.floor and _gated(course, athlete.id, day):
                continue
            weights = np.zeros(course.problem.days)
            weights[: day + 1] = line.weights[i, now + 1 :]
            scale = float(line.scale[i]) if line.scale[i] > 0 else 1.0
            yield Row(limit, channel, i, day, weights, float(bound[i]), scale)


def _gated(course: Course, athlete: str, day: int) -> bool:
    """Whether a gate stands for the athlete within the week that ends on the day."""
    week = [course.problem.horizon[day] - timedelta(days=back) for back in range(WEEK)]
    gates = (one for one in course.problem.limits if one.rule == "gate" and one.hard and one.is_for(athlete))
    return any(gate.judges(one) for gate in gates for one in week)


def _days_rows(course: Course, limit: PlanLimit, rule: Rule) -> Iterator[Row]:
    assert isinstance(rule, DaysInRow | DaysInSeven)
    assert limit.value is not None
    channel, now = channel_of(course, limit), course.as_of
    before = active_days(course.planned[channel])[:, : now + 1]
    for day, date_ in enumerate(course.problem.horizon):
        if not limit.judges(date_):
            continue
        for length, most in rule.windows(limit.value):
            ahead = min(length, day + 1)
            behind = before[:, max(0, now + 1 - (length - ahead)) :].sum(axis=1) if length > ahead else None
            weights = np.zeros(course.problem.days)
            weights[day + 1 - ahead : day + 1] = 1.0
            for i, athlete in enumerate(course.athletes):
                if limit.is_for(athlete.id):
                    worked = 0.0 if behind is None else float(behind[i])
                    bound = max(most, worked) - worked
                    yield Row(limit, channel, i, day, weights, bound, most if most > 0 else 1.0, counts=True)
