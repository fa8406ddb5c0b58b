"""Room: the largest load that may still be added with every hard limit held, and what stops it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from uvren.core.limits.base import TOLERANCE, Rule
from uvren.core.limits.spread import first_crossing
from uvren.core.loads import DailyLoads
from uvren.core.windows import Bools, Floats
from uvren.core.workload import DEFAULTS, Settings, Workload


@dataclass(frozen=True)
class Room:
    """Room of one row on one day.

    ``load`` is None when nothing binds. ``binding`` are the keys of the rules that stop it there;
    ``next_load`` is where the next rule would stop it, ``next_binding`` which one.
    """

    load: float | None
    binding: tuple[str, ...]
    next_load: float | None
    next_binding: tuple[str, ...]


def rooms_of(rules: Sequence[Rule], each: Floats) -> list[Room]:
    """Combine the room each rule leaves, ``each`` shape (rules, rows), into one answer a row.

    Where rules are broken already there is no room, and they alone are what binds.
    """
    return [_room_of_row([rule.key for rule in rules], left) for left in each.T]


def _room_of_row(keys: Sequence[str], left: Floats) -> Room:
    broken = left < -TOLERANCE
    if broken.any():
        return Room(0.0, _names(keys, broken), None, ())
    steps: list[tuple[float, tuple[str, ...]]] = []
    for level in np.unique(np.maximum(left[np.isfinite(left)], 0.0)):
        near = TOLERANCE * (1 + level)
        if not steps or level - steps[-1][0] > near:
            steps.append((float(level), _names(keys, np.abs(left - level) <= near)))
    load, binding = steps[0] if steps else (None, ())
    next_load, next_binding = steps[1] if len(steps) > 1 else (None, ())
    return Room(load, binding, next_load, next_binding)


def _names(keys: Sequence[str], chosen: Bools) -> tuple[str, ...]:
    return tuple(key for key, here in zip(keys, chosen, strict=True) if here)


def room_on(workload: Workload, rules: Sequence[Rule], day: date) -> list[Room]:
    """Room on ``day`` beside the load that stands on it. One answer a row."""
    column = workload.loads.column(day)
    each = [rule.room(workload)[:, column] for rule in rules]
    return rooms_of(rules, np.array(each).reshape(len(rules), workload.loads.load.shape[0]))


def room_with_plan(
    loads: DailyLoads,
    rules: Sequence[Rule],
    day: date,
    until: date,
    settings: Settings = DEFAULTS,
) -> list[Room]:
    """Room on ``day`` such that every rule also holds on each later day through ``until``.

    ``loads`` holds the plan on the days after ``day``. Every rule is a quadratic at most in the load of one
    day (a step for rules on days), so three trial loads show its course exactly. A rule that the plan breaks on
    a later day whatever is done on ``day`` leaves no room: the plan has to give.
    """
    column, last = loads.column(day), loads.column(until)
    here = loads.values[:, column]
    step = 100.0
    trials = [Workload(loads.with_day(day, here + k * step), settings) for k in range(4)]
    each = []
    for rule in rules:
        if rule.floor:
            continue
        e0, e1, e2, e3 = (rule.excess(trial)[:, column : last + 1] for trial in trials)
        second = (e3 - 2 * e2 + e1) / step**2
        qa = second / 2
        qb = (e2 - e1) / step - 3 * step * qa
        qc = e1 - step * qb - step**2 * qa
        left = first_crossing(qa, qb, qc, 0.0)
        left = np.where(e0 > 0, -np.inf, left)
        speaks = rule.speaks(trials[0])[:, column : last + 1]
        each.append(np.where(speaks, left, np.inf).min(axis=1))
    kept = [rule for rule in rules if not rule.floor]
    return rooms_of(kept, np.array(each).reshape(len(kept), loads.load.shape[0]))
