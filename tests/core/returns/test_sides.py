"""Where a difference of the sides comes from: looked for in order, and over by its rule."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.errors import BadPlan
from uvren.core.returns.sides import SUITS, Comes, How, Pair, even_again, walk
from uvren.core.trials import side_matters

EVEN, UNEVEN = Pair("shoulder", 170.0, 160.0), Pair("hip", 100.0, 85.0)


def test_range_comes_first_then_strength_then_it_is_use():
    assert walk([], []).asks is Comes.RANGE
    # Strength that was measured first does not answer before range is known.
    assert walk([], [UNEVEN]).asks is Comes.RANGE
    assert walk([EVEN], []).asks is Comes.STRENGTH
    assert walk([EVEN, UNEVEN], []).comes is Comes.RANGE
    assert walk([EVEN], [UNEVEN]).comes is Comes.STRENGTH
    assert walk([EVEN], [EVEN]).comes is Comes.USE
    assert {one: SUITS[one] for one in Comes} == {
        Comes.RANGE: How.FIRST, Comes.STRENGTH: How.SETS, Comes.USE: How.MATCHED
    }  # fmt: skip


def test_of_several_the_most_uneven_one_is_named():
    worse = Pair("ankle", 30.0, 40.0)
    found = walk([EVEN, UNEVEN, worse], [])
    assert (found.pair, found.pair.found.percent, found.pair.found.stronger) == (worse, 25.0, "right")


@pytest.mark.parametrize(("left", "right", "even"), [(100.0, 90.0, True), (100.0, 89.9, False), (90.0, 100.0, True)])
def test_ten_per_cent_of_the_stronger_is_even(left, right, even):
    assert Pair("hip", left, right).even is even


@pytest.mark.parametrize(
    ("name", "left", "right", "field"),
    [(" ", 1.0, 1.0, "name"), ("x" * 61, 1.0, 1.0, "name"), ("hip", 0.0, 1.0, "left"), ("hip", 1.0, -2.0, "right")],
)
def test_a_pair_that_cannot_be_is_refused_at_its_field(name, left, right, field):
    with pytest.raises(BadPlan) as refused:
        Pair(name, left, right)
    assert refused.value.field == field


def test_it_is_over_when_a_later_test_is_within_ten_per_cent_or_the_own_norm():
    before = np.array([15.0, 16.0, 14.0])
    assert not even_again(before, 3)
    assert not even_again(np.append(before, 16.1), 3)
    # Their own norm is 15 + 1.
    assert even_again(np.append(before, 15.9), 3)
    assert even_again(np.append(before, -9.9), 3)
    assert not even_again(np.append(before, [9.0, 20.0]), 3)
    assert even_again(np.array([30.0, 9.9]), 1)
    assert not even_again(np.array([30.0, 10.1]), 1)


@given(st.lists(st.floats(-60, 60), min_size=3, max_size=12))
def test_what_matters_now_is_not_over_by_its_last_test_against_the_norm_before_the_three(percents):
    """The rule that ends a check never speaks while the rule that begins one does."""
    values = np.array(percents)
    if side_matters(values):
        assert not even_again(values, values.size - 3)
