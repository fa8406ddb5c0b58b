"""Top-ups: never more than somebody is short of or has room for; what is added with the plan kept breaks nothing."""

from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.plan import PlanAthlete, PlanLimit, PlanSession, Problem
from uvren.core.plan.course import set_out
from uvren.core.plan.judge import Standing, coaches, over
from uvren.core.plan.rows import rows_of
from uvren.core.plan.spare import spare
from uvren.core.plan.topup import (
    INTERVALS,
    LEAST,
    MOST_MINUTES,
    Form,
    TopUp,
    fit,
)
from uvren.core.series import LoadRow

RUNS, IN_PLACE = INTERVALS[Form.RUNS], INTERVALS[Form.IN_PLACE]
NOTHING_BINDS = np.array([np.inf, np.inf])


def loads(top):
    return np.array([top.minutes * top.interval.effort, top.metres(5.0)])


def test_twelve_runs_take_two_series_in_twenty_four_minutes_with_the_warm_up():
    assert TopUp(RUNS, 12).minutes == 24
    assert TopUp(RUNS, 12, fast=12).metres(5.0) == pytest.approx(12 * 20 * 5.5)
    assert TopUp(RUNS, 6).minutes == 16
    assert TopUp(RUNS, 7).minutes == 19


def test_as_many_as_half_an_hour_holds_where_nothing_binds():
    found = fit(RUNS, np.array([1000.0, 5000.0]), NOTHING_BINDS, loads)
    assert found == TopUp(RUNS, 16, fast=16)
    assert found.minutes <= MOST_MINUTES < TopUp(RUNS, 17).minutes
    assert fit(IN_PLACE, np.array([1000.0, 0.0]), NOTHING_BINDS, loads).fast == 0


def test_only_so_many_are_fast_as_there_are_metres_short():
    assert fit(RUNS, np.array([1000.0, 350.0]), NOTHING_BINDS, loads) == TopUp(RUNS, 16, fast=3)
    assert fit(RUNS, np.array([1000.0, np.nan]), np.array([np.inf, 220.0]), loads) == TopUp(RUNS, 16, fast=2)


@given(st.floats(0, 400), st.floats(0, 2000), st.floats(0, 400), st.floats(0, 2000), st.sampled_from([RUNS, IN_PLACE]))
def test_no_channel_gets_more_than_is_short_or_than_there_is_room_for(short, metres, room, room_metres, interval):
    lacks, most = np.array([short, metres]), np.array([room, room_metres])
    found = fit(interval, lacks, most, loads)
    if found is None:
        # Not even the fewest, none of them fast, would do.
        assert (loads(TopUp(interval, LEAST)) > np.minimum(lacks, most)).any()
        return
    assert (loads(found) <= np.minimum(lacks, most) + 1e-6).all()
    more = TopUp(interval, found.count + 1)
    assert more.minutes > MOST_MINUTES or (loads(more) > np.minimum(lacks, most)).any()


AS_OF = date(2026, 3, 11)


def course(plan, limits):
    history = [LoadRow(a, AS_OF - timedelta(days=i), "a", 300.0 * (i % 7 != 3)) for a in "xy" for i in range(40)]
    sessions = [
        PlanSession(f"s{i}", datetime(2026, 3, 12 + i, 17, tzinfo=UTC), minutes, load={"a": 5.0})
        for i, minutes in enumerate(plan)
        if minutes
    ]
    people = (PlanAthlete("x"), PlanAthlete("y"))
    return set_out(Problem(AS_OF, 7, ("a",), people, tuple(sessions), tuple(limits)), history)


LIMITS = [
    PlanLimit("day", "day_cap", 450.0, "a"),
    PlanLimit("week", "week_change_cap", 0.15, "a"),
    PlanLimit("ratio", "ratio_ceiling", 1.2, "a", settings={"school": "ewma"}),
    PlanLimit("row", "days_in_row", 4.0, "a"),
    PlanLimit("end", "week_end_change_cap", 0.15, "a"),
]


def test_a_limit_of_the_weeks_end_has_rows_on_sundays_alone():
    rows = rows_of(course([60.0] * 7, [LIMITS[-1]]))
    days = {AS_OF + timedelta(days=1 + row.day) for row in rows}
    assert (len(rows), {day.strftime("%A") for day in days}) == (2, {"Sunday"})


@given(st.lists(st.sampled_from([0.0, 0.0, 30.0, 60.0, 75.0]), min_size=7, max_size=7), st.integers(0, 6),
       st.sets(st.sampled_from(range(5)), min_size=1))  # fmt: skip
def test_what_may_be_added_with_the_plan_kept_breaks_nothing_and_a_little_more_does(plan, day, which):
    laid = course(plan, [LIMITS[i] for i in which])
    rows = rows_of(laid)
    planned = coaches(laid)
    before = np.maximum(over(laid, rows, planned), 0.0)

    def worse(load):
        # Somebody does so much more on that day, as a session of their own.
        more = PlanSession("more", datetime(2026, 3, 12 + day, 9, tzinfo=UTC), 1.0, who=frozenset("x"),
                           load={"a": load})  # fmt: skip
        sessions = (*laid.problem.sessions, more)
        other = set_out(Problem(AS_OF, 7, ("a",), laid.problem.athletes, sessions, ()), [])
        with_more = Standing({**planned.start, "more": more.start}, {}, {**planned.own, ("x", "more"): 1.0})
        return bool((over(other, rows, with_more) > before + 1e-6).any())

    most = spare(laid, rows)["a"][0, day]
    if np.isinf(most):
        assert not worse(5000.0)
        return
    assert most == 0 or not worse(float(most))
    assert most == 0 or worse(float(most) * 1.01 + 1.0)
