"""Blocks rise and are lightened where they should, and their projection is what the weeks would come to once done."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_notices import desk
from uvren.core.errors import BadPlan
from uvren.core.limits import make_rule
from uvren.core.plan.block import MOST_WEEKS, project, rising

PAST = [300.0, 200.0, 0.0, 400.0, 300.0, 350.0, 0.0] * 12
WEEK = np.array([[300.0, 200.0, 0.0, 400.0, 300.0, 350.0, 0.0]])


def test_every_fifth_week_is_lighter_and_it_goes_on_from_the_hard_week_before():
    found = rising(12, 0.05, 5)
    assert [i for i, one in enumerate(found) if one.lighter] == [4, 9]
    assert found[0].share == 1
    assert found[3].share == pytest.approx(1.05**3, abs=1e-4)
    assert found[4].share == pytest.approx(1.05**3 * 0.6, abs=1e-4)
    assert found[5].share == pytest.approx(1.05**4, abs=1e-4)


@given(st.integers(1, MOST_WEEKS), st.sampled_from([-0.1, 0.0, 0.03, 0.1]), st.sampled_from([0, 2, 4, 5, 8]))
def test_hard_weeks_go_one_way_and_lighter_ones_are_below_them(weeks, rise, every):
    found = rising(weeks, rise, every)
    assert len(found) == weeks
    hard = [one.share for one in found if not one.lighter]
    assert hard == sorted(hard, reverse=rise < 0)
    for before, one in pairwise(found):
        if one.lighter:
            assert one.share == pytest.approx(0.6 * before.share, abs=1e-3)
    assert sum(one.lighter for one in found) == (weeks // every if every else 0)


@pytest.mark.parametrize(("given_", "field"), [((0, 0.0, 0), "weeks"), ((4, 0.5, 0), "rise"), ((4, 0.0, 1), "every")])
def test_what_makes_no_block_is_said_at_its_field(given_, field):
    with pytest.raises(BadPlan) as error:
        rising(*given_)
    assert error.value.field == field


def block(shares, hard=(), fixed=None):
    return project(desk(PAST, hard=hard), WEEK, shares, fixed)


def test_weeks_as_always_stay_where_they_are():
    found = block([1.0, 1.0, 1.0])
    np.testing.assert_allclose(found.load, [[1550.0] * 3])
    assert abs(found.base[0] / 1550 - 1).max() < 0.06
    assert not found.over.any()


def test_a_week_over_a_cap_is_told_and_only_that_one():
    cap = make_rule("week_cap", np.array(1700.0))
    found = block([1.0, 1.2, 0.6], hard=(cap,))
    assert found.over.tolist() == [[False, True, False]]
    assert found.ceiling[0, 1] == pytest.approx(1700)
    rise = make_rule("week_change_cap", np.array(0.1))
    assert block([1.05, 1.1, 1.15], hard=(rise,)).over.tolist() == [[False] * 3]
    assert block([1.0, 1.3, 1.3], hard=(rise,)).over.tolist()[0][1]


@given(st.lists(st.floats(0.3, 1.6), min_size=1, max_size=6))
def test_the_projection_is_what_the_days_come_to_once_they_are_done(shares):
    found = block(shares)
    done = desk([*PAST, *(load * share for share in shares for load in WEEK[0])])
    last = done.done.column(done.as_of) - 1
    assert found.load[0, -1] == pytest.approx(done.now.week_load[0, last])
    assert found.base[0, -1] == pytest.approx(7 * done.now.ewma_chronic[0, last])
    assert found.balance[0, -1] == pytest.approx(done.now.exp_chronic[0, last] - done.now.exp_acute[0, last])


def test_matches_stand_as_they_are_beside_it():
    fixed = np.zeros((1, 14))
    fixed[0, 6] = 500.0
    found = block([0.5, 0.5], fixed=fixed)
    np.testing.assert_allclose(found.load, [[775 + 500.0, 775.0]])
