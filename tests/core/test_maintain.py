"""What keeps somebody as they are, and what of it a week still owes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.maintain import KEEPS, owed, usual_week


def test_a_usual_week_is_the_median_of_the_own_weeks_before_this_one():
    load = np.zeros((2, 63))
    # Eight weeks of 100, 200, … 800 on their first days, and a hard one that is running.
    load[0, 0:56:7] = np.arange(100, 900, 100)
    load[0, 56:] = 1000
    # Somebody who has trained in three of eight weeks has no usual one.
    load[1, [0, 7, 14]] = 100
    np.testing.assert_allclose(usual_week(load, 62), [450, np.nan])
    # In four of them is enough: half of the weeks had 100, half nothing.
    load[1, 21] = 100
    assert usual_week(load, 62)[1] == 50


def test_what_is_left_of_a_third_is_owed_and_never_less_than_nothing():
    load = np.full((3, 63), 300 / 7)
    load[1, 56:] = 10.0
    load[2, 56:] = 0.0
    np.testing.assert_allclose(owed(load, 62), [0, 30, 100])


def test_what_is_not_known_is_not_done():
    load = np.full((1, 63), 300 / 7)
    load[0, 57:] = np.nan
    assert owed(load, 62)[0] == pytest.approx(100 - 300 / 7)


@pytest.mark.parametrize("days", [1, 6, 7, 13, 20])
def test_with_too_few_days_nothing_is_known(days):
    assert np.isnan(owed(np.ones((2, days)), days - 1)).all()


@given(st.lists(st.floats(0, 1000), min_size=30, max_size=90), st.floats(0, 500))
def test_doing_more_never_owes_more(loads, more):
    load = np.array([loads])
    today = load.shape[1] - 1
    before = owed(load, today)[0]
    load[0, today] += more
    after = owed(load, today)[0]
    assert np.isnan(before) == np.isnan(after)
    assert np.isnan(after) or after <= before + 1e-9
    assert np.isnan(after) or after <= KEEPS * usual_week(load, today)[0] + 1e-9
