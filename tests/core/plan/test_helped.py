"""Whether a lighter week helped is said by what was reported and felt, better against worse, and not by one answer."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.plan.helped import Measure, Verdict, look_back


def measure(before, after, up=True, spread=1.0, name="energy"):
    return Measure(name, np.array(before, dtype=float), np.array(after, dtype=float), spread, up)


def test_more_better_than_worse_is_help_and_says_by_what():
    found = look_back([measure([5, 5, 6], [7, 7, 7]), measure([6, 6, 6], [6, 6, 6.2], name="mood")])
    assert found.verdict is Verdict.HELPED
    assert found.said() == "It helped (better: energy 5 → 7), by 2 measures."


def test_worse_is_said_and_effort_is_better_when_it_is_less():
    harder = measure([0, 0, 0], [1, 1, 1], up=False, name="effort against plan")
    assert look_back([harder]).verdict is Verdict.WORSE
    assert look_back([harder]).said() == "It did not help (worse: effort against plan 0 → 1), by 1 measure."
    easier = measure([1, 1, 1], [0, 0, 0], up=False)
    assert look_back([easier]).verdict is Verdict.HELPED
    assert look_back([harder, easier]).verdict is Verdict.SAME


def test_few_answers_on_either_side_say_nothing():
    assert look_back([]).verdict is Verdict.UNKNOWN
    found = look_back([measure([5, 5], [9, 9, 9]), measure([5, np.nan, 5], [9, 9, 9])])
    assert (found.verdict, found.measures) == (Verdict.UNKNOWN, 0)
    assert "not known" in found.said()
    one = Measure("jump", np.array([30.0]), np.array([33.0]), 1.0, least=1)
    assert look_back([one]).verdict is Verdict.HELPED


@given(st.lists(st.floats(0, 10), min_size=3, max_size=7), st.floats(-3, 3), st.booleans())
def test_what_is_turned_round_says_the_opposite(before, step, up):
    after = [value + step for value in before]
    there, back = look_back([measure(before, after, up)]), look_back([measure(after, before, up)])
    opposite = {Verdict.HELPED: Verdict.WORSE, Verdict.WORSE: Verdict.HELPED, Verdict.SAME: Verdict.SAME}
    assert back.verdict is opposite[there.verdict]
    if abs(step) < 0.49:
        assert there.verdict is Verdict.SAME
    if step > 0.51:
        assert there.verdict is (Verdict.HELPED if up else Verdict.WORSE)


@pytest.mark.parametrize("spread", [0.0])
def test_without_a_spread_of_its_own_nothing_counts(spread):
    assert look_back([measure([5, 5, 5], [9, 9, 9], spread=spread)]).verdict is Verdict.UNKNOWN
