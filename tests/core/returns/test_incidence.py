"""Cases per 1,000 hours with an exact interval."""

import pytest

from uvren.core.returns.incidence import incidence, poisson_interval


@pytest.mark.parametrize(
    ("n", "low", "high"),
    # Exact limits as they are tabulated for counts (Ulm 1990).
    [(0, 0.0, 3.689), (1, 0.025, 5.572), (5, 1.623, 11.668), (10, 4.795, 18.390)],
)
def test_the_interval_is_the_tabulated_one(n, low, high):
    assert poisson_interval(n) == (pytest.approx(low, abs=0.001), pytest.approx(high, abs=0.001))


def test_cases_and_days_are_told_per_thousand_hours():
    found = incidence(4, 90, 2000.0)
    assert (found.rate, found.days_rate) == (2.0, 45.0)
    assert found.low < found.rate < found.high
    assert found.low == pytest.approx(poisson_interval(4)[0] / 2)


def test_without_an_hour_nothing_is_claimed():
    found = incidence(2, 10, 0.0)
    assert (found.n, found.rate, found.low, found.high, found.days_rate) == (2, None, None, None, None)
