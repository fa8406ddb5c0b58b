"""Room: the largest load that may still be added with every hard limit held, and what stops it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from uvren.core.limits.base import TOLERANCE, Rule
from uvren.core.limits.spread import first_crossing, first_rise
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


def rooms_of(keys: Sequence[str], each: Floats) -> list[Room]:
    """Combine the room each rule leaves, ``each`` shape (rules, rows), into one answer a row; a key may stand twice.

    Where rules are broken already there is no room, and they alone are what binds.
    """
    return [_room_of_row(keys, left) for left in each.T]


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
    return tuple(dict.fromkeys(key for key, here in zip(keys, chosen, strict=True) if here))


def room_on(workload: Workload, rules: Sequence[Rule], day: date) -> list[Room]:
    """Room on ``day`` beside the load that stands on it. One answer a row."""
    column = workload.loads.column(day)
    each = [rule.room(workload)[:, column] for rule in rules]
    keys = [rule.key for rule in rules]
    return rooms_of(keys, np.array(each).reshape(len(rules), workload.loads.load.shape[0]))


def room_with_plan(
    loads: DailyLoads,
    rules: Sequence[Rule],
    day: date,
    until: date,
    settings: Settings = DEFAULTS,
) -> list[Room]:
    """Room on ``day`` such that every rule also holds on each later day through ``until``.

    ``loads`` holds the plan on the days after ``day``. Every rule is a polynomial in the load of one day (a step for
    rules on days), so that some trial loads show its course exactly. A week that would rise too steeply from ``day``
    may even ask for some load on it. Where nothing done on ``day`` lets the plan hold, there is no room.
    """
    column, last = loads.column(day), loads.column(until)
    kept = [rule for rule in rules if not rule.floor]
    here = loads.values[:, column]
    most_trials = max((rule.degree for rule in kept), default=0) + 2
    trials = [Workload(loads.with_day(day, here + k * _STEP), settings) for k in range(most_trials)]
    most = np.full((len(kept), len(here)), np.inf)
    least = np.full((len(kept), len(here)), -np.inf)
    for i, rule in enumerate(kept):
        course = [rule.excess(trial)[:, column : last + 1] for trial in trials[: rule.degree + 2]]
        speaks = rule.speaks(trials[0])[:, column : last + 1]
        up_to, from_on = _span(*course) if rule.degree == 2 else _span_of_curve(course[:-1])
        most[i] = np.where(speaks, up_to, np.inf).min(axis=1)
        least[i] = np.where(speaks, from_on, -np.inf).max(axis=1)
    highest = most.min(axis=0, initial=np.inf)
    return rooms_of([rule.key for rule in kept], np.where(least > highest + TOLERANCE, -np.inf, most))


_STEP = 100.0


def _span_of_curve(course: Sequence[Floats]) -> tuple[Floats, Floats]:
    """:func:`_span` for a rule whose course is bent more than once; no rule of that kind is mended by more load."""
    powers = np.vander(np.arange(len(course), dtype=float), increasing=True)
    polynomial = np.tensordot(np.linalg.inv(powers), np.stack(course), axes=1)
    return _STEP * first_rise(polynomial, np.zeros(course[0].shape)), np.full(course[0].shape, -np.inf)


def _span(e0: Floats, e1: Floats, e2: Floats, e3: Floats) -> tuple[Floats, Floats]:
    """From which to which load a rule holds, by its excess at none and at one, two and three steps of load.

    Up to -inf where it never holds; from -inf where it holds at none already.
    """
    qa = (e3 - 2 * e2 + e1) / _STEP**2 / 2
    qb = (e2 - e1) / _STEP - 3 * _STEP * qa
    qc = e1 - _STEP * qb - _STEP**2 * qa
    straight = np.abs(qa) * _STEP < 1e-9 * (np.abs(qb) + 1e-12)
    # A rule broken with no load at all, whose excess falls in a straight line, holds from where that line meets 0.
    mended = (qc > 0) & straight & (qb < 0)
    root = np.divide(-qc, qb, out=np.full(qc.shape, -np.inf), where=mended)
    up_to = np.where(mended, np.inf, first_crossing(qa, qb, qc, 0.0))
    up_to = np.where((e0 > 0) & ~mended, -np.inf, up_to)
    return up_to, np.where(mended, root, -np.inf)
