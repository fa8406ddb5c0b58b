"""Seasons as arrays, of several truths and habits, and what somebody could know who knows how they were made.

Nothing is stored: the rules of the core take arrays, so that many seasons can be measured. The plan is the demo's.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core.windows import Bools, Floats
from uvren.services.session.planning import NewSession
from uvren.simulate.seasons import FIRST, handball
from uvren.simulate.strain import (
    ANSWER_NOISE,
    PLAYED_DOWN,
    SCALES,
    SHIFT,
    STRAIN_SD,
    Answers,
    Habit,
    Truth,
    hidden_stress,
    nights,
    wandering,
)  # fmt: skip
from uvren.store.models import SessionKind

ATHLETES = 22
KINDS = tuple(SessionKind)
ANSWERED = 0.95


@dataclass(frozen=True)
class Season:
    """A squad's season under one truth: athletes x days, and sessions as items.

    ``strain`` is true on each morning. ``loads`` has an estimate (own median effort, as the app takes it) where a
    rating is missing, ``rated`` says which sessions have one. ``known`` is the load part of strain as its model has it.
    """

    truth: Truth
    habits: tuple[Habit, ...]
    strain: Floats
    daily: Floats
    loads: Floats
    row: np.ndarray
    day: np.ndarray
    kind: np.ndarray
    planned: Floats
    effort: Floats
    minutes: Floats
    known: Floats
    keep: Floats
    sensitivity: Floats
    bias: Floats
    noise: Floats
    base: Floats


def season(truth: Truth, seed: int, days: int = 560, habit: Habit | None = None, *, sinks: bool = False) -> Season:
    """Everybody of one ``habit``, or of each in turn. With ``sinks`` everybody loses a third over the last 35 days."""
    random = np.random.default_rng([seed, 77])
    plan = [one for one in handball(random) if (one.starts_at.date() - FIRST).days < days]
    habits = tuple(habit or list(Habit)[i % len(Habit)] for i in range(ATHLETES))
    n = ATHLETES
    fading = random.uniform(*truth.fading, n)
    sensitivity, bias = random.uniform(1.0, 2.0, n), random.normal(0, 0.4, n)
    noise, capacity = random.uniform(0.3, 0.6, n), random.normal(3000, 250, n)
    match_share = random.choice([0.75, 0.6, 0.4, 0.25], n)
    hidden = np.array([hidden_stress(truth, days, random) for _ in range(n)])
    strength = np.array([wandering(truth, days, random) for _ in range(n)])
    if sinks:
        strength[:, -35:] *= 1 - np.linspace(0, 1 / 3, 35)
    night = np.array([nights(days, random) for _ in range(n)])
    by_day: dict[int, list[NewSession]] = {}
    for one in plan:
        by_day.setdefault((one.starts_at.date() - FIRST).days, []).append(one)
    # Once with everything as planned, for what is usual of the load part.
    usual = _fatigue(by_day, days, fading, capacity, strength, match_share)[:, 60 : days - 35]
    middle, spread = usual.mean(axis=1), usual.std(axis=1)
    keep = np.exp(-1 / fading)
    a, b = np.sqrt(truth.share), np.sqrt(1 - truth.share)
    fatigue = np.zeros(n)
    strain, known = np.zeros((n, days)), np.zeros((n, days))
    items: list[tuple[float, ...]] = []
    match_after = np.zeros(days, dtype=bool)
    for day in range(days):
        full = capacity * strength[:, day] / 7 * fading
        part = (fatigue / full - middle) / spread
        known[:, day] = part
        strain[:, day] = STRAIN_SD * (a * part + b * hidden[:, day])
        for one in by_day.get(day, ()):
            match = one.kind is SessionKind.MATCH
            if match and day + 1 < days:
                match_after[day + 1] = True
            minutes = one.planned_minutes * (match_share if match else np.ones(n))
            felt = one.planned_effort + bias + sensitivity * strain[:, day] + random.normal(0, noise)
            felt = np.clip(felt, 0.5, 10)
            said = np.clip(np.round(felt * 2) / 2, 0, 10)
            fatigue = fatigue + minutes * felt
            rated = np.where(random.random(n) < ANSWERED, said, np.nan)
            kind = KINDS.index(one.kind)
            items += [(row, day, kind, one.planned_effort, rated[row], minutes[row]) for row in range(n)]
        fatigue = fatigue * keep
    row, at, kinds, planned, effort, minutes = np.array(items).T
    row, at, kinds = (column.astype(np.int64) for column in (row, at, kinds))
    base = np.array([[at_ + random.normal(0, 0.7) for at_, _, _ in SCALES.values()] for _ in range(n)])
    daily = np.array([
        Answers(truth, habits[i], base[i], match_after).given(strain[i], night[i], random) for i in range(n)
    ])  # fmt: skip
    loads = _loads((n, days), row, at, planned, effort, minutes)
    return Season(truth, habits, strain, daily, loads, row, at, kinds, planned, effort, minutes, known, keep,
                  sensitivity, bias, noise, base)  # fmt: skip


def _loads(shape: tuple[int, int], row, at, planned: Floats, effort: Floats, minutes: Floats) -> Floats:
    """By day, a missing rating as planned and the athlete's own median gap."""
    gap = np.array([np.nanmedian((effort - planned)[row == i]) for i in range(shape[0])])
    loads = np.zeros(shape)
    np.add.at(loads, (row, at), minutes * np.where(np.isnan(effort), planned + gap[row], effort))
    return loads


def _fatigue(by_day, days, fading, capacity, strength, match_share) -> Floats:
    fatigue = np.zeros(capacity.size)
    out = np.zeros((capacity.size, days))
    for day in range(days):
        out[:, day] = fatigue / (capacity * strength[:, day] / 7 * fading)
        for one in by_day.get(day, ()):
            minutes = one.planned_minutes * (match_share if one.kind is SessionKind.MATCH else 1.0)
            fatigue = fatigue + minutes * one.planned_effort
        fatigue = fatigue * np.exp(-1 / fading)
    return out


def worn(of: Season, burn: int = 60, share: float = 0.9) -> Bools:
    """Strain in the highest tenth of the athlete's own season, athletes x days."""
    return of.strain > np.quantile(of.strain[:, burn:], share, axis=1)[:, None]


def limit(of: Season) -> Floats:
    """What a filter expects of strain on each morning that knows the model, and what was in by then.

    A Kalman filter of the hidden part (its own memory, measured of the truth) and of the night; the load part is known
    to it as it was.
    """
    truth, (n, days) = of.truth, of.strain.shape
    a, b = np.sqrt(truth.share), np.sqrt(1 - truth.share)
    falls, sleeps = (np.array([scale[i] for scale in SCALES.values()]) for i in (1, 2))
    sample = np.array([hidden_stress(truth, 2000, np.random.default_rng([9, i])) for i in range(8)])
    memory = float(np.mean([np.corrcoef(one[:-1], one[1:])[0, 1] for one in sample]))
    out = np.zeros((n, days))
    for row in range(n):
        told = PLAYED_DOWN if of.habits[row] is Habit.PLAYS_DOWN else 1.0
        shift = np.zeros(days)
        if of.habits[row] is Habit.CHANGES:
            shift[days // 2 :] = SHIFT
        x, p = np.zeros(2), np.eye(2)
        step, grow = np.diag([memory, 0.3]), np.diag([1 - memory**2, 1 - 0.3**2])
        mine = np.flatnonzero(of.row == row)
        by_day: dict[int, list[int]] = {}
        for i in mine:
            by_day.setdefault(int(of.day[i]), []).append(int(i))
        for day in range(days):
            x, p = step @ x, step @ p @ step + grow
            answers = of.daily[row, :, day]
            seen = ~np.isnan(answers)
            if seen.any():
                load = STRAIN_SD * a * of.known[row, day]
                h = np.stack([-falls * STRAIN_SD * b * told, -sleeps * truth.sleep * told], axis=1)[seen]
                left = (answers - (of.base[row] - shift[day] - falls * load * told))[seen]
                x, p = _update(x, p, h, left, np.full(seen.sum(), ANSWER_NOISE**2 + 1 / 12))
            out[row, day] = STRAIN_SD * (a * of.known[row, day] + b * x[0])
            for i in by_day.get(day, ()):
                if not np.isnan(of.effort[i]):
                    load = of.sensitivity[row] * STRAIN_SD * a * of.known[row, day]
                    left = np.array([of.effort[i] - of.planned[i] - of.bias[row] - load])
                    h = np.array([[of.sensitivity[row] * STRAIN_SD * b, 0.0]])
                    x, p = _update(x, p, h, left, np.array([of.noise[row] ** 2 + 0.25 / 12]))
    return out


def _update(x, p, h, left, noise):
    s = h @ p @ h.T + np.diag(noise)
    gain = np.linalg.solve(s, h @ p).T
    return x + gain @ (left - h @ x), p - gain @ h @ p
