"""Own norms: what is usual for each athlete, what counts as a change, and where a series is going.

Series are arrays with the days on the last axis, athletes and items before it, nan where nothing was said. A value is
held against the athlete's own past only, never against anybody else's.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.trials import Better
from uvren.core.windows import Bools, Floats, Ints, shifted, window_view

USUAL_DAYS = 28
LEAST_VALUES = 10
# What must last is held against the 56 days before the last 14.
LASTING_DAYS, LAG_DAYS = 56, 14
CHANGE, CLEAR_CHANGE = 1.0, 1.5
PERSISTENT_OF, PERSISTENT_LEAST = 4, 3
# Makes the median absolute deviation of a normal sample its SD.
MAD_TO_SD = 1.4826


@dataclass(frozen=True)
class Usual:
    """What is usual on each day, each of the shape of the series: middle, spread and number of values behind them.

    Middle and spread are nan with too few values.
    """

    middle: Floats
    spread: Floats
    n: Ints


def usual(
    series: Floats,
    floor: Floats | float,
    *,
    days: int = USUAL_DAYS,
    least: int = LEAST_VALUES,
    robust: bool = False,
    lag: int = 1,
) -> Usual:
    """Mean and SD (n-1) of the ``days`` days that end ``lag`` days before each day, from at least ``least`` values.

    What has to last is held against days before it began (:data:`LAG_DAYS`), so that it does not become usual.

    ``robust`` takes the median and 1.4826 x the median absolute deviation. The spread is at least ``floor``
    (broadcasts to the series): half a step of a scale, or the typical error of a test.
    """
    before = shifted(series, lag, np.nan)
    if robust:
        window = window_view(before, days, np.nan)
        n = np.sum(~np.isnan(window), axis=-1)
        enough = n >= max(least, 2)
        # Where nothing can be said any value will do, so that no median of nothing is taken.
        safe = np.where(enough[..., None], window, 0.0)
        middle = np.nanmedian(safe, axis=-1)
        spread = MAD_TO_SD * np.nanmedian(np.abs(safe - middle[..., None]), axis=-1)
    else:
        known, middle, squares = moments(before, days)
        n = known.astype(np.int64)
        enough = n >= max(least, 2)
        with np.errstate(divide="ignore", invalid="ignore"):
            spread = np.sqrt(squares / (known - 1))
    spread = np.maximum(spread, floor)
    return Usual(np.where(enough, middle, np.nan), np.where(enough, spread, np.nan), n)


def moments(series: Floats, days: int) -> tuple[Floats, Floats, Floats]:
    """Number, mean and sum of squares about it of what is known of the ``days`` days that end on each day.

    By running sums, held against the middle of the whole series, so that differences of large sums lose nothing. The
    mean is nan where nothing is known.
    """
    known = ~np.isnan(series)
    count = np.maximum(known.sum(axis=-1, keepdims=True), 1)
    centre = np.where(known, series, 0.0).sum(axis=-1, keepdims=True) / count
    off = np.where(known, series - centre, 0.0)

    def running_sum(values: Floats) -> Floats:
        total = np.cumsum(values, axis=-1)
        total[..., days:] -= total[..., :-days].copy()
        return total

    n = running_sum(known.astype(np.float64))
    first, second = running_sum(off), running_sum(off**2)
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = first / n
        return n, centre + mean, np.maximum(second - n * mean**2, 0.0)


def z_scores(series: Floats, norm: Usual) -> Floats:
    """(today - usual) / SD, nan where either is not there."""
    out = np.full(np.shape(series), np.nan)
    return np.divide(series - norm.middle, norm.spread, out=out, where=norm.spread > 0)


def direction(z: Floats, size: float | Floats = CHANGE) -> Ints:
    """1 for a change upwards of at least ``size`` SD, -1 for one downwards, 0 for neither or for nothing said."""
    with np.errstate(invalid="ignore"):
        return np.where(z >= size, 1, np.where(z <= -np.asarray(size), -1, 0))


def persistent(z: Floats, size: float = CHANGE, of: int = PERSISTENT_OF, least: int = PERSISTENT_LEAST) -> Ints:
    """1 or -1 where at least ``least`` of the last ``of`` reports changed to that side, else 0.

    Reports are counted, not days: a day without one is passed over and says nothing itself.
    """
    said = ~np.isnan(z)
    # What was said is moved to the front of its row, counted there, and put back.
    order = np.argsort(~said, axis=-1, kind="stable")
    packed = np.take_along_axis(direction(z, size), order, axis=-1)
    up = window_view((packed > 0).astype(np.float64), of).sum(axis=-1) >= least
    down = window_view((packed < 0).astype(np.float64), of).sum(axis=-1) >= least
    sides = up.astype(np.int64) - down.astype(np.int64)
    at = np.maximum(np.cumsum(said, axis=-1) - 1, 0)
    return np.where(said, np.take_along_axis(sides, at, axis=-1), 0)


def running(true: Bools, said: Bools) -> Ints:
    """How many reports running ``true`` has held, up to each day; a day without a report neither counts nor ends it."""
    order = np.argsort(~said, axis=-1, kind="stable")
    packed = np.take_along_axis(true & said, order, axis=-1)
    count = np.cumsum(packed, axis=-1)
    run: Ints = count - np.maximum.accumulate(np.where(packed, 0, count), axis=-1)
    before = np.cumsum(said, axis=-1)
    held: Ints = np.take_along_axis(run, np.maximum(before - 1, 0), axis=-1)
    return np.where(before > 0, held, 0)


class Course(StrEnum):
    """Where a series is going."""

    RISING = "rising"
    STALLED = "stalled"
    DROPPING = "dropping"
    OPEN = "open"


@dataclass(frozen=True)
class Trend:
    """Slope a day with its 90 % interval (Theil-Sen), from ``n`` values."""

    slope: float
    low: float
    high: float
    n: int


TREND_DAYS = 28
TREND_LEAST = 4
BEST_DAYS = 21
CONFIDENCE = 0.90


def trend(days: Floats, values: Floats) -> Trend | None:
    """Theil-Sen slope of values at days (any order, unit of value a day); None with fewer than 4 values or one day.

    Sen (1968); the interval is that of the ranks of the pairwise slopes.
    """
    from scipy.stats import theilslopes

    known = ~np.isnan(values)
    days, values = days[known], values[known]
    if values.size < TREND_LEAST or np.unique(days).size < 2:
        return None
    slope, _, low, high = theilslopes(values, days, alpha=CONFIDENCE)
    return Trend(float(slope), float(low), float(high), int(values.size))


def course(days: Floats, values: Floats, as_of: float, worthwhile: float, better: Better = Better.HIGHER) -> Course:
    """Whether a series is stalled or dropping on ``as_of`` (days on one count; values nan where there is none).

    Stalled: the interval of the trend of the last 28 days holds 0 but no worthwhile gain within the 42 days that are
    compared, and no value of the last 21 days beats the best of the 21 before by ``worthwhile``: where so much could
    have been gained unseen, nothing is said. Dropping: the interval is wholly on the worse side. Open: too little.
    """
    sign = 1.0 if better is Better.HIGHER else -1.0
    good = sign * values
    age = as_of - days
    here = (age >= 0) & ~np.isnan(good)
    recent = here & (age < TREND_DAYS)
    found = trend(days[recent], good[recent])
    if found is None:
        return Course.OPEN
    if found.high < 0:
        return Course.DROPPING
    if found.low > 0:
        return Course.RISING
    last, before = good[here & (age < BEST_DAYS)], good[here & (age >= BEST_DAYS) & (age < 2 * BEST_DAYS)]
    if last.size == 0 or before.size == 0:
        return Course.OPEN
    if last.max() > before.max() + max(worthwhile, 0.0):
        return Course.RISING
    return Course.STALLED if worthwhile <= 0 or found.high * 2 * BEST_DAYS < worthwhile else Course.OPEN


def weeks_to(worthwhile: float, days: Floats, values: Floats, as_of: float, better: Better) -> float:
    """Weeks that a worthwhile gain takes at the best slope of the interval; inf where that does not rise."""
    sign = 1.0 if better is Better.HIGHER else -1.0
    recent = (as_of - days >= 0) & (as_of - days < TREND_DAYS)
    found = trend(days[recent], sign * values[recent])
    return worthwhile / found.high / 7 if found is not None and found.high > 0 else float("inf")
