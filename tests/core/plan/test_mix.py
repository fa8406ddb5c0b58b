"""Rounds graded 1 to 5 against what they are to come to in all."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.plan.mix import mix_of


def plain(said):
    return said.replace("\N{NO-BREAK SPACE}", " ")


def test_the_mix_is_the_mean_grade_over_five():
    mix = mix_of([3, 4, 2, 3, 5, 1])
    assert mix.share == pytest.approx(0.6)
    told = "6 rounds at 60 % of full intensity; the aim is 70 %: 3 grades more in all."
    assert plain(mix.said) == told
    # The hard ones become harder; the easy ones stay.
    assert mix.nearest == (5, 5, 2, 3, 5, 1)
    assert plain(mix_of([4, 3], 0.7).said) == "2 rounds at 70 % of full intensity; the aim is 70 %."
    assert mix_of([]) is None


def test_what_is_too_hard_gets_easier_where_it_is_easy_already():
    mix = mix_of([5, 4, 3, 4], 0.7)
    assert mix.nearest == (5, 4, 1, 4)
    assert mix.said.endswith("2 grades fewer in all.")
    assert mix_of([1, 5, 5], 0.2).nearest == (1, 1, 1)
    assert mix_of([1, 2], 1.0).nearest == (5, 5)
    # Where two are as near, the one that changes less.
    assert mix_of([3], 0.7).nearest == (3,)


@given(st.lists(st.integers(1, 5), min_size=1, max_size=12), st.integers(20, 100))
def test_no_grades_come_nearer_and_none_passes_another(grades, percent):
    mix = mix_of(grades, percent / 100)
    whole = 5 * len(grades)
    off = abs(sum(mix.nearest) / whole - percent / 100)
    assert all(off <= abs(total / whole - percent / 100) + 1e-9 for total in range(len(grades), whole + 1))
    assert all(1 <= grade <= 5 for grade in mix.nearest)
    steps = [after - before for before, after in zip(grades, mix.nearest, strict=True)]
    assert all(step >= 0 for step in steps) or all(step <= 0 for step in steps)
    assert mix_of(mix.nearest, percent / 100).nearest == mix.nearest
