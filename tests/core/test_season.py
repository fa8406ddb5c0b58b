"""Phases of a season: in order, apart, and where a day is among them."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.errors import BadSeason
from uvren.core.season import Phase, PhaseKind, in_order, next_after, standing_on

FIRST = date(2026, 7, 1)
PREPARATION, COMPETITION, TRANSITION = PhaseKind


def phase(name, first, days, kind=PREPARATION):
    begins = FIRST + timedelta(days=first)
    return Phase(kind, name, begins, begins + timedelta(days=days - 1))


def test_weeks_are_counted_from_the_first_day_and_the_last_may_be_short():
    summer = phase("Summer", 0, 15)
    weeks = [standing_on([summer], FIRST + timedelta(days=i)).week for i in range(15)]
    assert weeks == [1] * 7 + [2] * 7 + [3]
    assert standing_on([summer], summer.last).weeks == 3
    assert standing_on([summer], FIRST - timedelta(days=1)) is None
    assert standing_on([summer], summer.last + timedelta(days=1)) is None
    assert standing_on([phase("Weeks", 0, 14)], FIRST).weeks == 2


@pytest.mark.parametrize(
    ("phases", "field", "said"),
    [
        ([phase("A", 0, 5), phase("B", 9, 0)], "1.last", "B ends before it begins."),
        ([phase("A", 0, 5), phase("B", 4, 3)], "1.first", "A and B share days: a day has one phase."),
        ([phase("B", 4, 3), phase("A", 0, 5)], "0.first", "A and B share days: a day has one phase."),
    ],
)
def test_what_cannot_be_is_said_at_its_place(phases, field, said):
    with pytest.raises(BadSeason, match=said) as raised:
        in_order(phases)
    assert raised.value.field == field


@given(st.lists(st.tuples(st.integers(0, 20), st.integers(1, 60)), max_size=8), st.randoms())
def test_phases_in_any_order_give_each_day_at_most_one(gaps, random):
    phases, at = [], 0
    for gap, days in gaps:
        phases.append(phase(f"P{len(phases)}", at + gap, days))
        at += gap + days
    mixed = random.sample(phases, len(phases))
    assert in_order(mixed) == phases
    for i in range(at + 1):
        day = FIRST + timedelta(days=i)
        holding = [one for one in phases if one.first <= day <= one.last]
        standing = standing_on(mixed, day)
        assert [standing.phase] == holding if standing else holding == []
        later = [one for one in phases if one.first > day]
        assert next_after(mixed, day) == (later[0] if later else None)
