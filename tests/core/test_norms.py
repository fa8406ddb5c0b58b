"""Own norms, changes that last, trends: against plain pandas and by hand."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.norms import Course, course, direction, persistent, running, trend, usual, z_scores
from uvren.core.trials import Better

SERIES = st.lists(st.one_of(st.none(), st.integers(0, 10)), min_size=1, max_size=70)


@given(SERIES)
def test_usual_is_the_mean_and_sd_of_the_28_days_before_without_today(values):
    series = np.array([np.nan if v is None else float(v) for v in values])
    norm = usual(series[None], 0.5)
    before = pd.Series(series).shift(1).rolling(28, min_periods=10)
    assert norm.middle[0] == pytest.approx(before.mean().to_numpy(), nan_ok=True, abs=1e-9)
    spread = np.maximum(before.std().to_numpy(), 0.5)
    assert norm.spread[0] == pytest.approx(spread, nan_ok=True, abs=1e-6)


def test_a_robust_norm_is_not_moved_by_one_odd_day():
    series = np.array([[7.0, 8.0] * 10 + [0.0, 7.0]])
    plain, robust = usual(series, 0.5), usual(series, 0.5, robust=True)
    assert plain.middle[0, -1] < 7.3
    assert (robust.middle[0, -1], robust.spread[0, -1]) == (7.0, pytest.approx(1.4826 * 1.0))


def test_a_flat_series_has_the_floor_as_its_spread_and_too_short_a_one_has_none():
    flat = np.array([[7.0] * 12 + [6.0]])
    assert z_scores(flat, usual(flat, 0.5))[0, -1] == -2
    assert np.isnan(z_scores(flat[:, :9], usual(flat[:, :9], 0.5))).all()


def test_persistent_counts_reports_and_not_days():
    z = np.array([[-1.2, np.nan, -1.5, np.nan, 0.2, np.nan, -1.0]])
    assert persistent(z)[0].tolist() == [0, 0, 0, 0, 0, 0, -1]
    assert persistent(np.array([[1.2, 1.2, -1.2, 1.2]]))[0, -1] == 1
    assert persistent(np.array([[1.2, 1.2, -1.2, -1.2]]))[0, -1] == 0


@given(st.lists(st.one_of(st.none(), st.floats(-4, 4)), min_size=1, max_size=30))
def test_persistent_agrees_with_counting_by_hand(values):
    z = np.array([[np.nan if v is None else v for v in values]])
    for day, value in enumerate(values):
        last = [v for v in values[: day + 1] if v is not None][-4:]
        up, down = sum(v >= 1 for v in last), sum(v <= -1 for v in last)
        wanted = 0 if value is None else (1 if up >= 3 else -1 if down >= 3 else 0)
        assert persistent(z)[0, day] == wanted


def test_a_direction_is_given_from_its_size_on():
    assert direction(np.array([-1.0, -0.99, np.nan, 1.5])).tolist() == [-1, 0, 0, 1]


def test_a_run_of_reports_is_not_ended_by_a_day_without_one():
    true = np.array([[True, False, True, True, False]])
    said = np.array([[True, False, True, True, True]])
    assert running(true, said)[0].tolist() == [1, 1, 2, 3, 0]


def test_a_trend_is_the_median_slope_with_its_interval():
    days = np.arange(0.0, 28.0, 3.0)
    found = trend(days, 40 - 0.1 * days)
    assert (found.slope, found.low, found.high) == pytest.approx((-0.1, -0.1, -0.1))
    assert trend(days[:3], days[:3]) is None
    noisy = trend(days, np.array([40, 41, 39, 40, 41, 40, 39, 41, 40, 40.0]))
    assert noisy.low <= 0 <= noisy.high


@pytest.mark.parametrize(
    ("values", "better", "wanted"),
    [
        ([40, 40.5, 41, 41.5, 42, 42.5], Better.HIGHER, Course.RISING),
        ([42.5, 42, 41.5, 41, 40.5, 40], Better.HIGHER, Course.DROPPING),
        ([42.5, 42, 41.5, 41, 40.5, 40], Better.LOWER, Course.RISING),
        ([40.1, 40, 40.1, 40, 40.05, 40], Better.HIGHER, Course.STALLED),
        # So much noise could hide a worthwhile gain.
        ([41, 40, 41, 40, 41, 40], Better.HIGHER, Course.OPEN),
    ],
)
def test_a_series_rises_stalls_or_drops(values, better, wanted):
    days = np.array([60, 67, 74, 81, 88, 95], dtype=float)
    assert course(days, np.array(values, dtype=float), 97, 0.3, better) is wanted


def test_a_series_that_says_too_little_is_left_open():
    assert course(np.array([90.0, 95.0]), np.array([40.0, 38.0]), 97, 0.3) is Course.OPEN
