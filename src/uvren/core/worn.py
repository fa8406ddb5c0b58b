"""Whether somebody is worn: three sources held against the athlete's own past, and what they come to together.

Reports, effort against plan, and load that still fades each give a number a day, near 0 where all is usual. Arrays have
athletes first and days last, nan is what was not said; the value of a day is that of its morning: reports through it,
sessions and loads before it. Sources: statistical control charts (Roberts 1959; Page 1954), reports against load (Saw
et al. 2016), session effort (Foster et al. 2001).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from uvren.core.norms import moments
from uvren.core.windows import Bools, Floats, Ints, decayed_sum, shifted

REPORT_DAYS, REPORT_LEAST, SQUAD_WEIGHT = 56, 10, 10.0
EFFORT_DAYS, EFFORT_LEAST, KIND_WEIGHT, LEAST_SPREAD = 120, 10, 5.0, 0.25
LOAD_DAYS, LOAD_LEAST, FADES_DAYS = 180, 42, 7.0
REPORT_KEEPS, REPORT_DRAG = 0.7, 1.0
EFFORT_KEEPS, EFFORT_DRAG = 0.8, 3.0
MOST: Final = 3.0
# Of a mean of items that go together, until the athlete's own is known.
MEAN_VARIANCE, LEAST_MEAN_SPREAD = 0.35, 0.2
SILENT_DAYS = 42
# A source counts as worse from here on.
REPORTS_FROM, EFFORT_FROM, LOAD_FROM = 0.2, 0.2, 0.5
USUAL_LEVEL, HOLD = 1.3, 0.5
LOWEST_LEVEL, HIGHEST_LEVEL = 0.6 * USUAL_LEVEL, 2.0 * USUAL_LEVEL
# How often it may speak, in days an athlete-week, and what the level is set by: the squad's own last eight weeks.
USUAL_RATE, LEVEL_DAYS = 0.5, 56
DRIFT, DRIFT_LEVEL, DRIFT_DAYS = 0.75, 2.65, 120


@dataclass(frozen=True)
class Basis:
    """What of a squad stands for a week, from its Monday on: the level, and what answers to each daily item vary by."""

    level: float
    variance: Floats


@dataclass(frozen=True)
class Past:
    """Number, mean and sum of squares of what is known of some days before each day, of the shape of the series."""

    n: Floats
    middle: Floats
    squares: Floats

    @property
    def spread(self) -> Floats:
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(np.sqrt(self.squares / (self.n - 1)))


def past(series: Floats, days: int) -> Past:
    return Past(*moments(shifted(series, 1, np.nan), days))


def squad_variance(daily: Floats, floors: Floats) -> Floats:
    """What the answers of one person usually vary by, for each item (athletes x items x days): the mean of those known.

    ``floors`` (items) is half a step of each scale: no spread is finer, also where nobody has answered enough.
    """
    known = ~np.isnan(daily)
    n = known.sum(axis=-1)
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = np.where(known, daily, 0.0).sum(axis=-1) / n
        own = (np.where(known, daily - mean[..., None], 0.0) ** 2).sum(axis=-1) / (n - 1)
    enough = n >= REPORT_LEAST
    total, count = np.where(enough, own, 0.0).sum(axis=0), enough.sum(axis=0)
    return np.maximum(np.where(count > 0, total / np.maximum(count, 1), 0.0), floors**2)


def report_badness(daily: Floats, worse: Floats, floors: Floats, variance: Floats, days: int = REPORT_DAYS) -> Floats:
    """How bad each report is in the athlete's own SD of that, within ±3, athletes x days.

    nan without one, or with too few before it.

    Parameters
    ----------
    daily : float array, athletes x items x days
    worse : float array, items
        1 where more is worse, -1 where less is, 0 for an item that has no worse side: it is left out.
    floors, variance : float array, items
        Half a step of each scale; :func:`squad_variance`, towards which each spread is drawn with the weight of ten
        reports.
    """
    sided = worse != 0
    daily, turned, floor = daily[:, sided], worse[sided][:, None], floors[sided][:, None]
    before = past(daily, days)
    drawn = (before.squares + SQUAD_WEIGHT * variance[sided][:, None]) / np.maximum(before.n - 1 + SQUAD_WEIGHT, 1.0)
    with np.errstate(invalid="ignore"):
        z = np.clip((daily - before.middle) / np.maximum(np.sqrt(drawn), floor) * turned, -MOST, MOST)
    z = np.where(before.n >= REPORT_LEAST, z, np.nan)
    answered = (~np.isnan(z)).sum(axis=1)
    mean = np.where(answered > 0, np.nansum(z, axis=1) / np.maximum(answered, 1), np.nan)
    own = past(mean, days)
    spread = np.sqrt((own.squares + SQUAD_WEIGHT * MEAN_VARIANCE) / np.maximum(own.n - 1 + SQUAD_WEIGHT, 1.0))
    # One morning, however bad, is one morning.
    return np.clip(mean / np.maximum(spread, LEAST_MEAN_SPREAD), -MOST, MOST)


@dataclass(frozen=True)
class Gaps:
    """How much harder than its like each session felt against its plan, in order of time, nan where it is not known.

    ``points`` on the scale of effort, ``off`` in the athlete's own SD, within ±3.
    """

    points: Floats
    off: Floats


def effort_gaps(row: Ints, day: Ints, kind: Ints, planned: Floats, effort: Floats) -> Gaps:
    """Of each session, against the athlete's own of 120 days before; a kind leans on all kinds with the weight of 5."""
    gap = effort - planned
    points, off = np.full(gap.size, np.nan), np.full(gap.size, np.nan)
    order = np.argsort(row, kind="stable")
    for mine in np.split(order, np.flatnonzero(np.diff(row[order])) + 1):
        if mine.size:
            points[mine], off[mine] = _gaps_of_one(day[mine], kind[mine], gap[mine])
    return Gaps(points, off)


def _gaps_of_one(day: Ints, kind: Ints, gap: Floats) -> tuple[Floats, Floats]:
    """One athlete's sessions, each held against every other at once."""
    age = day[:, None] - day[None, :]
    before = (age > 0) & (age <= EFFORT_DAYS) & ~np.isnan(gap)[None, :]
    known = np.where(np.isnan(gap), 0.0, gap)
    n = before.sum(axis=1)
    like = before & (kind[:, None] == kind[None, :])
    with np.errstate(divide="ignore", invalid="ignore"):
        whole = before @ known / n
        usual = (like @ known + KIND_WEIGHT * whole) / (like.sum(axis=1) + KIND_WEIGHT)
        spread = np.sqrt(np.maximum(before @ known**2 - n * whole**2, 0.0) / np.maximum(n - 1, 1))
        points = np.where(n >= EFFORT_LEAST, gap - usual, np.nan)
        return points, np.clip(points / np.maximum(spread, LEAST_SPREAD), -MOST, MOST)


def faded(total: Floats, count: Floats, keep: float, drag: float) -> Floats:
    """Σ keep^age · value / (Σ keep^age + drag) through each day; 0 where nothing is known."""
    return np.asarray(decayed_sum(total, keep) / (decayed_sum(count, keep) + drag))


def on_mornings(row: Ints, column: Ints, values: Floats, shape: tuple[int, int]) -> tuple[Floats, Floats]:
    """Sum and number of the values known on the morning after each of their days, athletes x days."""
    total, count = np.zeros(shape), np.zeros(shape)
    here = ~np.isnan(values) & (column >= -1) & (column + 1 < shape[1])
    np.add.at(total, (row[here], column[here] + 1), values[here])
    np.add.at(count, (row[here], column[here] + 1), 1.0)
    return total, count


def fading_load(loads: Floats) -> Floats:
    """Load that has not faded by each morning, over a week."""
    return shifted(decayed_sum(loads, float(np.exp(-1 / FADES_DAYS))), 1, 0.0)


@dataclass(frozen=True)
class Sources:
    """The three sources on each morning, athletes x days, and what sentences say of them."""

    reports: Floats
    effort: Floats
    load: Floats
    #: Points by which sessions of the last days felt harder for their plan than usual; nan where nothing is known.
    points: Floats
    fading: Floats
    usual_load: Floats
    usual_spread: Floats
    #: Reports and sessions that lately are harder or worse than usual, added up (Page 1954).
    drift: Floats

    @property
    def total(self) -> Floats:
        return self.reports + self.effort + self.load

    @property
    def worse(self) -> Bools:
        """Which sources are worse, athletes x days x 3."""
        over = (self.reports >= REPORTS_FROM, self.effort >= EFFORT_FROM, self.load >= LOAD_FROM)
        return np.stack(over, axis=-1)

    def part(self, begin: int, end: int) -> Sources:
        """Some of the days."""
        return Sources(*(one[:, begin:end] for one in vars(self).values()))


def sources(
    daily: Floats, worse: Floats, floors: Floats, variance: Floats,
    row: Ints, column: Ints, kind: Ints, planned: Floats, effort: Floats, loads: Floats,
) -> Sources:  # fmt: skip
    """All three from what is known (see the functions above); sessions by the column of their day in ``daily``.

    ``loads`` may reach further back than ``daily``; both end on the same day.
    """
    days = daily.shape[-1]
    badness = report_badness(daily, worse, floors, variance)
    told = ~np.isnan(badness)
    gaps = effort_gaps(row, column, kind, planned, effort)
    shape = (daily.shape[0], days)
    total, count = on_mornings(row, column, gaps.off, shape)
    points, points_count = on_mornings(row, column, gaps.points, shape)
    fading = fading_load(loads)
    before = past(fading, LOAD_DAYS)
    with np.errstate(divide="ignore", invalid="ignore"):
        enough = (before.n >= LOAD_LEAST) & (before.spread > 0)
        load = np.where(enough, np.clip((fading - before.middle) / before.spread, -MOST, MOST), 0.0)
        weight = decayed_sum(points_count, EFFORT_KEEPS)
        harder = np.where(weight > 0, decayed_sum(points, EFFORT_KEEPS) / weight, np.nan)
    long = report_badness(daily, worse, floors, variance, DRIFT_DAYS)
    return Sources(
        reports=faded(np.where(told, badness, 0.0), told.astype(np.float64), REPORT_KEEPS, REPORT_DRAG),
        effort=faded(total, count, EFFORT_KEEPS, EFFORT_DRAG),
        load=_last(load, days),
        points=harder,
        fading=_last(fading, days),
        usual_load=_last(before.middle, days),
        usual_spread=_last(before.spread, days),
        drift=drifted(np.where(np.isnan(long), 0.0, long - DRIFT) + total - DRIFT * count),
    )


def _last(values: Floats, days: int) -> Floats:
    """The last ``days`` columns; what lies before the first is nothing known."""
    lacking = max(days - values.shape[-1], 0)
    return np.pad(values, [(0, 0), (lacking, 0)])[:, -days:] if days else values[:, :0]


def drifted(steps: Floats) -> Floats:
    """``c[d] = max(0, c[d-1] + steps[d])``: what has added up since it was last 0."""
    sums = np.cumsum(steps, axis=-1)
    return np.asarray(sums - np.minimum(np.minimum.accumulate(sums, axis=-1), 0.0))


def speaks(of: Sources, level: Floats | float, silent: Bools | None = None) -> Bools:
    """Mornings on which two sources agree and the three come to ``level``, and while that holds.

    ``level`` is one, or athletes x days; it holds down to half a point below. On ``silent`` days nothing is said.
    """
    total, two = of.total, of.worse.sum(axis=-1) >= 2
    if silent is not None:
        two = two & ~silent
    high = np.broadcast_to(np.asarray(level, dtype=np.float64), total.shape)
    out, on = np.zeros(total.shape, dtype=bool), np.zeros(total.shape[0], dtype=bool)
    for day in range(total.shape[1]):
        on = two[:, day] & (total[:, day] >= high[:, day] - HOLD * on)
        out[:, day] = on
    return out


def level_for(of: Sources, rate: float, there: Bools) -> float:
    """The level at which it would have spoken on ``rate`` days an athlete-week, of the days that are ``there``.

    Within 0.6 and 2 times the usual one; the usual one where there are less than 42 days to go by.
    """
    if int(there.any(axis=0).sum()) < SILENT_DAYS:
        return USUAL_LEVEL
    low, high = LOWEST_LEVEL, HIGHEST_LEVEL
    for _ in range(12):
        middle = (low + high) / 2
        often = speaks(of, middle, ~there).sum() / max(int(there.sum()), 1)
        low, high = (middle, high) if often > rate / 7 else (low, middle)
    return round((low + high) / 2, 2)
