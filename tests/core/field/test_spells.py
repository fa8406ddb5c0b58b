"""A count in spells, with breaks between them."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.field import SpellRule, Split, most_in, split

RULE = SpellRule(8, 600)


@pytest.mark.parametrize(
    ("count", "expected"),
    [
        (0, Split(0, 0, 0)),
        (8, Split(1, 8, 0)),
        (9, Split(2, 5, 10)),
        (24, Split(3, 8, 20)),
        (25.2, Split(4, 7, 30)),
    ],
)
def test_as_few_spells_as_the_rule_lets_there_be(count, expected):
    assert split(count, RULE) == expected


def test_breaks_fit_where_they_are_half_of_the_session_at_most():
    assert split(24, RULE).fits(40)
    assert not split(24, RULE).fits(39)
    assert most_in(40, RULE) == 24
    assert most_in(39, RULE) == 16
    assert most_in(0, RULE) == 8


@given(st.integers(0, 500), st.integers(1, 60), st.integers(30, 1800), st.integers(10, 180))
def test_what_fits_is_what_there_is_room_for(count, most, seconds, minutes):
    rule = SpellRule(most, seconds)
    found = split(count, rule)
    assert found.each <= most
    assert found.spells * found.each >= count
    assert found.spells == math.ceil(count / most)
    assert found.fits(minutes) == (count <= most_in(minutes, rule))
