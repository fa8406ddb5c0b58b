"""A rule's line, its check and its room are one arithmetic; and a plan knows no order."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.plan.test_every_plan import problem
from tests.core.strategies import histories
from uvren.core.limits import make_rule
from uvren.core.limits.base import SLACK
from uvren.core.loads import DailyLoads
from uvren.core.plan import lay_out, solve, solve_course
from uvren.core.workload import Workload

RULES = [
    ("day_cap", 500, {}),
    ("week_cap", 2000, {}),
    ("week_floor", 900, {}),
    ("week_change_cap", 0.2, {}),
    ("balance_floor", -60, {}),
    *[(rule, 1.1, {"school": school}) for rule in ("ratio_ceiling", "ratio_floor")
      for school in ("ewma", "coupled", "uncoupled")],
]  # fmt: skip


@pytest.mark.parametrize(("code", "value", "settings"), RULES)
@given(data=st.data())
def test_a_line_is_what_the_rule_is_over(code, value, settings, data):
    loads = data.draw(histories(missing=True))
    workload = Workload(loads)
    rule = make_rule(code, value, settings)
    column = data.draw(st.integers(0, loads.days - 1))
    line = rule.line(workload, column, column)
    over = (line.weights * loads.values[:, : column + 1]).sum(axis=1) - line.bound
    speaks = rule.speaks(workload)[:, column]
    # What it is over without the slack within which a figure still holds.
    bare = replace(rule, value=rule.value + (SLACK if rule.floor or code == "balance_floor" else -SLACK))
    expected = bare.excess(workload)[:, column]
    scale = 1e-6 * (1 + np.abs(expected) + loads.values.sum(axis=1))
    assert (np.abs(over - expected)[speaks] <= scale[speaks]).all()


@given(data=st.data())
def test_a_rule_of_the_weeks_end_has_the_line_of_the_daily_one_on_sundays_alone(data):
    workload = Workload(data.draw(histories(missing=True)))
    column = data.draw(st.integers(0, workload.loads.days - 1))
    daily, at_end = (make_rule(code, 0.2) for code in ("week_change_cap", "week_end_change_cap"))
    found, same = at_end.line(workload, column, column), daily.line(workload, column, column)
    if workload.loads.date_of(column).isoweekday() == 7:
        assert (found.weights == same.weights).all()
        assert (found.bound == same.bound).all()
    else:
        assert found is None


def test_rules_without_a_line_say_so():
    assert make_rule("monotony_cap", 2.0).line(None, 0, 0) is None


@pytest.mark.parametrize("seed", [3, 8, 21, 40, 77])
def test_a_plan_is_the_same_whatever_the_order(seed):
    rows, one = problem(seed)
    turned = replace(
        one, athletes=one.athletes[::-1], sessions=one.sessions[::-1], limits=one.limits[::-1], channels=one.channels
    )
    first, second = solve(one, rows), solve(turned, rows[::-1])
    assert (first.start, first.minutes, first.own) == (second.start, second.minutes, second.own)
    assert first == solve(one, rows)


def test_a_history_without_estimates_is_one_in_which_nothing_is():
    _, of = problem(3)
    loads = np.tile([300.0, 400.0, 0.0, 500.0], (len(of.athletes), 10))
    known = DailyLoads(of.as_of - timedelta(days=39), loads, np.zeros(len(of.athletes), dtype=np.int64))
    guessed = replace(known, estimated=np.zeros(loads.shape))
    one, other = (lay_out(of, dict.fromkeys(of.channels, each)) for each in (known, guessed))
    assert solve_course(one) == solve_course(other)
