"""Which of the seven days ahead are left out for a rule on days to hold."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.plan.fewer_days import fewer_days
from uvren.core.workload import Workload

FIRST, TODAY = date(2026, 2, 2), 28
EVERY = np.ones((1, 7), dtype=bool)


def loads(before, ahead):
    """Days with work before, the last ones given; and the loads of the seven ahead."""
    load = np.zeros((1, TODAY + 7))
    load[0, TODAY - len(before) : TODAY] = before
    load[0, TODAY:] = ahead
    return DailyLoads(FIRST, load, np.array([0]))


def seven(value, over=1):
    return make_rule("days_in_seven", np.array(float(value)), {"over": over})


def test_a_week_over_is_paid_back_in_the_next():
    # Six days worked where five are the mean: four are left for the next seven.
    (one,) = fewer_days(seven(5), loads([0] * 7 + [300] * 6 + [0], [100, 200, 300, 400, 500, 0, 0]), TODAY, EVERY)
    assert (one.planned, one.most, one.leave_out) == (5, 4, (0,))
    # After five, one more than five may be worked.
    (more,) = fewer_days(seven(5), loads([0] * 7 + [300] * 4 + [0] * 3, [100] * 6 + [0]), TODAY, EVERY)
    assert (more.planned, more.most, more.leave_out) == (6, 6, ())


def test_days_that_have_to_be_stay_and_where_they_are_too_many_nothing_helps():
    plan = loads([0] * 7 + [300] * 6 + [0], [100, 200, 300, 400, 500, 0, 0])
    may = np.array([[False, True, True, True, True, True, True]])
    assert fewer_days(seven(5), plan, TODAY, may)[0].leave_out == (1,)
    (none,) = fewer_days(seven(5), plan, TODAY, ~EVERY)
    assert (none.most, none.leave_out) == (4, None)


def test_a_run_of_days_is_broken_where_the_least_is_lost():
    rule = make_rule("days_in_row", np.array(4.0), {})
    (one,) = fewer_days(rule, loads([300, 300], [400, 300, 50, 300, 300, 0, 0]), TODAY, EVERY)
    assert (one.planned, one.leave_out) == (5, (2,))
    assert one.most == 6


@given(
    st.integers(0, 2**32 - 1), st.integers(1, 7), st.integers(0, 2), st.sampled_from(["days_in_seven", "days_in_row"])
)
def test_what_is_kept_holds_and_one_day_more_would_not(seed, value, over, code):
    random = np.random.default_rng(seed)
    plan = loads(random.choice([0, 300], TODAY), random.choice([0, 100, 200, 300], 7))
    rule = make_rule(code, np.array(float(value)), {"over": over} if code == "days_in_seven" else {})
    (one,) = fewer_days(rule, plan, TODAY, EVERY)
    assert one.leave_out is not None, "every day may be left out"

    def breaks(without):
        load = plan.load.copy()
        load[0, [TODAY + day for day in without]] = 0.0
        work = Workload(DailyLoads(FIRST, load, plan.start))
        return (rule.broken(work) & (load > 0))[0, TODAY:].any()

    assert not breaks(one.leave_out)
    assert one.planned - len(one.leave_out) <= one.most
    for day in one.leave_out:
        assert breaks(set(one.leave_out) - {day})


@pytest.mark.parametrize("ahead", [1, 4])
def test_a_plan_that_ends_sooner_is_judged_as_far_as_it_goes(ahead):
    plan = loads([0] * 7 + [300] * 6 + [0], [100] * 7)
    short = DailyLoads(FIRST, plan.load[:, : TODAY + ahead], plan.start)
    (one,) = fewer_days(seven(5), short, TODAY, EVERY)
    assert (one.planned, one.leave_out) == (ahead, ())
