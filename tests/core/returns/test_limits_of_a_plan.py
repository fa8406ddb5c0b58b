"""The limits a plan brings speak without any history, and rest only where a rating is missing."""

from datetime import date

import numpy as np
import pytest

from uvren.core.errors import UnknownRule
from uvren.core.limits import CATALOGUE, make_rule
from uvren.core.loads import DailyLoads
from uvren.core.workload import Workload

FIRST = date(2026, 3, 2)


def work(*load, estimated=None):
    loads = np.array([load], dtype=float)
    return Workload(DailyLoads(FIRST, loads, np.array([0]), None if estimated is None else np.array([estimated])))


@pytest.mark.parametrize(("code", "left"), [("return_week", 900 - 300), ("return_day", 900 - 200)])
def test_they_speak_from_the_first_days_and_leave_the_rest(code, left):
    found = work(100, 0, 200)
    assert make_rule(code, 900).room(found)[0, -1] == pytest.approx(left)
    assert make_rule(code, 900).room(work(200))[0, 0] == pytest.approx(700)


def test_a_missing_rating_makes_the_week_silent_and_the_day_only_its_own():
    found = work(100, np.nan, 0, 0, 0, 0, 0, 0, 50)
    assert make_rule("return_week", 900).speaks(found)[0].tolist() == [True, *[False] * 7, True]
    assert make_rule("return_day", 900).speaks(found)[0].tolist() == [True, False, *[True] * 7]


def test_estimates_count_as_they_stand():
    found = work(100, 100, 100, estimated=[100, 100, 100])
    assert make_rule("return_week", 250).broken(found)[0].tolist() == [False, False, True]


def test_they_say_whose_they_are_and_nobody_sets_them_by_themselves():
    said = {code: make_rule(code, 900).sentence(1000.0, 900.0) for code in ("return_week", "return_day")}
    assert said == {
        "return_week": "Week load is 1\u2009000; the plan to come back allows 900.",
        "return_day": "The day's load is 1\u2009000; the plan to come back allows 900.",
    }
    assert {code for code, rule in CATALOGUE.items() if rule.of_plan} == set(said)
    with pytest.raises(UnknownRule):
        make_rule("return", 900)
