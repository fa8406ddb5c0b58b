"""A figure against the own ones before it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.demands import own_z


def test_it_is_told_in_own_standard_deviations():
    before = np.array([10.0, 12.0, 14.0, 10.0, 12.0, 14.0, np.nan])
    spread = np.std([10, 12, 14, 10, 12, 14], ddof=1)
    assert own_z(before, 12.0 + 2 * spread) == pytest.approx(2)
    assert own_z(before, 12.0 - spread) == pytest.approx(-1)


@pytest.mark.parametrize(
    ("before", "now"),
    [([1.0, 2, 3, 4, 5], 9.0), ([1.0, 2, 3, 4, 5, np.nan], 9.0), ([0.1 + 0.2] * 3 + [0.3] * 3, 9.0)],
    ids=["five", "five known", "without spread"],
)
def test_too_few_or_without_spread_says_nothing(before, now):
    assert np.isnan(own_z(np.array(before), now))


def test_what_is_not_known_is_not_unusual():
    assert np.isnan(own_z(np.arange(9.0), np.nan))


@given(st.lists(st.integers(0, 1000), min_size=6, max_size=30), st.integers(0, 1000), st.integers(1, 50))
def test_a_unit_makes_no_difference(before, now, times):
    one, other = own_z(np.array(before, dtype=float), now), own_z(np.array(before, dtype=float) * times, now * times)
    assert (np.isnan(one) and np.isnan(other)) or one == pytest.approx(other)
