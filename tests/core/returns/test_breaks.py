"""Breaks are found by what was not done, and none is made of what is not known."""

from datetime import date, timedelta

import numpy as np
import pytest

from uvren.core.loads import DailyLoads
from uvren.core.returns import Break, breaks

FIRST = date(2026, 1, 1)


def loads(*days, start=0):
    return DailyLoads(FIRST, np.array([days], dtype=float), np.array([start]))


def work(n, load=100.0):
    return [load if i % 7 else 0.0 for i in range(1, n + 1)]


def day(n):
    return FIRST + timedelta(days=n)


def test_seven_days_without_work_are_a_break_and_six_are_none():
    assert breaks(loads(*work(20), *[0] * 7)) == [Break(0, day(20), None, 7)]
    assert breaks(loads(*work(20), *[0] * 6)) == []


def test_a_break_that_ended_is_told_for_some_weeks_with_the_day_of_the_return():
    of = loads(*work(20), *[0] * 9, *work(10))
    assert breaks(of) == [Break(0, day(20), day(29), 9)]
    assert breaks(of, within=5) == []


def test_what_is_not_known_is_no_break_and_who_has_not_begun_has_none():
    assert breaks(loads(*work(20), 0, 0, 0, 0, np.nan, 0, 0, 0)) == []
    assert breaks(loads(*[0] * 30)) == []
    assert breaks(loads(*[0] * 10, *work(20), start=10)) == []


@pytest.mark.parametrize(("share", "found"), [(0.24, True), (0.26, False)])
def test_two_weeks_of_hardly_any_work_are_a_break(share, found):
    of = loads(*work(43), *work(14, 100 * share))
    assert breaks(of) == ([Break(0, day(43), None, 14, little=True)] if found else [])


def test_hardly_any_work_needs_two_weeks_four_weeks_before_and_every_rating():
    assert breaks(loads(*work(43), *work(13, 20.0))) == []
    assert breaks(loads(*work(20), *work(20, 10.0))) == []
    little = [*work(43), *work(14, 20.0)]
    little[-3] = np.nan
    assert breaks(loads(*little)) == []


def test_each_row_has_its_own():
    of = np.array([[*work(20), *[0] * 8], [*work(28)]], dtype=float)
    assert [one.row for one in breaks(DailyLoads(FIRST, of, np.array([0, 0])))] == [0]


def test_how_long_it_takes_to_be_a_break_can_be_said():
    of = loads(*work(20), *[0] * 10)
    assert breaks(of, least=21) == []
    assert breaks(of, least=10) == [Break(0, day(20), None, 10)]
