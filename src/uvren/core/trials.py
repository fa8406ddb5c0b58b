"""Tests: how trials make a result, how sure a result is, and when a change or a side difference counts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.errors import BadTest
from uvren.core.windows import Floats

WORTHWHILE_SHARE = 0.2
MATTERS_PERCENT = 10.0
# How many typical errors a result must differ by to count, and to be a drop at once.
COUNTS_FROM, DROP_FROM = 1.5, 2.0
MATTERS_TESTS = 3


class Better(StrEnum):
    """Which way a result gets better."""

    HIGHER = "higher"
    LOWER = "lower"


class Combine(StrEnum):
    """What stands for several trials."""

    BEST = "best"
    MEAN = "mean"


def combined(trials: Floats, how: Combine, better: Better) -> Floats:
    """Result of each row of trials, shape (n, k) -> (n,); a trial that is nan was not done. nan without any trial."""
    trials = np.atleast_2d(trials)
    empty = np.all(np.isnan(trials), axis=1, keepdims=True)
    safe = np.where(empty, 0.0, trials)
    if how is Combine.MEAN:
        out = np.nanmean(safe, axis=1)
    else:
        out = np.nanmax(safe, axis=1) if better is Better.HIGHER else np.nanmin(safe, axis=1)
    return np.where(empty[:, 0], np.nan, out)


def typical_error(trials: Floats) -> float:
    """Typical error of a test from repeated trials, shape (n, k): SD of the differences of two trials / sqrt 2.

    With more than two trials the mean of it over neighbouring pairs, as variances (Hopkins 2000). nan where no pair of
    neighbouring trials was done by at least two athletes.
    """
    trials = np.atleast_2d(trials)
    variances = []
    for one, next_one in zip(trials.T[:-1], trials.T[1:], strict=True):
        difference = (next_one - one)[~np.isnan(next_one - one)]
        if difference.size >= 2:
            variances.append(float(np.var(difference, ddof=1)) / 2)
    return float(np.sqrt(np.mean(variances))) if variances else float("nan")


# How much surer the best of n trials is than one of them (SD of the greatest of n from a normal distribution).
_BEST_OF = {1: 1.0, 2: 0.826, 3: 0.748, 4: 0.701, 5: 0.669, 6: 0.645, 7: 0.625, 8: 0.610, 9: 0.598, 10: 0.587}
LEAST_PAIRS = 6


def error_between_days(results: Sequence[Sequence[float]]) -> float:
    """Typical error between days, from each athlete's results in order of time, a day each; nan from under 6 pairs.

    SD (n-1) of the differences of neighbouring results / sqrt 2, of the figure that stands, so that the best of n has
    its own error (Hopkins 2000).
    """
    pairs = [np.diff(np.asarray(own, dtype=np.float64)) for own in results if len(own) > 1]
    differences = np.concatenate(pairs) if pairs else np.array([])
    if differences.size < LEAST_PAIRS or len(pairs) < 2:
        return float("nan")
    return float(np.std(differences, ddof=1) / np.sqrt(2))


def error_within_day(trials: Floats, how: Combine) -> float:
    """Typical error of the figure that stands for n trials of one day, shape (n, k), where no other days are known."""
    trials = np.atleast_2d(trials)
    n = trials.shape[1]
    error = typical_error(trials)
    return error / float(np.sqrt(n)) if how is Combine.MEAN else error * _BEST_OF.get(n, _BEST_OF[10])


def smallest_worthwhile(results: Floats) -> float:
    """0.2 x the SD between athletes (n-1; Hopkins 2000), from a result each; nan with fewer than three."""
    known = results[~np.isnan(results)]
    return WORTHWHILE_SHARE * float(np.std(known, ddof=1)) if known.size >= 3 else float("nan")


class Change(StrEnum):
    BETTER = "better"
    WORSE = "worse"
    UNCLEAR = "no clear change"
    UNKNOWN = "nothing to compare with"


def change(value: float, before: float, error: float, worthwhile: float, better: Better) -> Change:
    """Whether a result changed by more than both 1.5 x the typical error and the smallest worthwhile change.

    One typical error is what two results of nobody's change differ by half of the time; 1.5 leaves about one in ten
    (Hopkins 2000). What is not known (nan) sets no bar; with neither known nothing is said.
    """
    bars = [bar for bar in (COUNTS_FROM * error, worthwhile) if not np.isnan(bar)]
    if np.isnan(value) or np.isnan(before) or not bars:
        return Change.UNKNOWN
    gain = value - before if better is Better.HIGHER else before - value
    if abs(gain) <= max(bars):
        return Change.UNCLEAR
    return Change.BETTER if gain > 0 else Change.WORSE


def unlikely(value: float, own: Floats, error: float) -> bool:
    """Whether a value asks to be looked at before it is saved: far outside the athlete's own results.

    Far is beyond their range by a quarter of their mean and by 5 typical errors. Without a result of their own nothing
    is unlikely.
    """
    known = own[~np.isnan(own)]
    if known.size == 0 or np.isnan(value):
        return False
    margin = max(0.25 * abs(float(known.mean())), 5 * (0.0 if np.isnan(error) else error))
    return not float(known.min()) - margin <= value <= float(known.max()) + margin


@dataclass(frozen=True)
class Asymmetry:
    """Difference of two sides in per cent of the stronger one, and which one that is (None when they are even)."""

    percent: float
    stronger: str | None


def asymmetry(left: float, right: float, better: Better = Better.HIGHER) -> Asymmetry:
    """(stronger - weaker) / stronger x 100. Raises BadTest for values that are not above 0.

    Of times the shorter is the stronger; what it is stronger by divides by it too.
    """
    if not (left > 0 and right > 0):
        raise BadTest("Sides are compared by values above 0.", field="sides")
    strong, weak = (max(left, right), min(left, right)) if better is Better.HIGHER else (
        min(left, right), max(left, right)
    )  # fmt: skip
    stronger = None if left == right else "left" if (left > right) is (better is Better.HIGHER) else "right"
    return Asymmetry(abs(strong - weak) / strong * 100, stronger)


def side_matters(percents: Floats) -> bool:
    """Whether a side difference is to be looked into: beyond the own norm and 10 % on 3 tests running.

    ``percents`` are differences of one athlete, oldest first, signed by side (left stronger is positive). The norm is
    the mean + 1 SD (n-1) of the size of the tests before those three; with fewer than three before only the 10 % count.
    """
    last, before = percents[-MATTERS_TESTS:], percents[:-MATTERS_TESTS]
    if last.size < MATTERS_TESTS or np.isnan(last).any() or not (np.all(last > 0) or np.all(last < 0)):
        return False
    return bool((np.abs(last) > max(side_norm(before), MATTERS_PERCENT)).all())


def side_norm(percents: Floats) -> float:
    """The own norm of a side difference: mean + 1 SD (n-1) of the size of earlier ones; 0 of fewer than three."""
    known = np.abs(percents[~np.isnan(percents)])
    return float(known.mean() + np.std(known, ddof=1)) if known.size >= 3 else 0.0
