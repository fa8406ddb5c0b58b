"""A climb is held where it was not kept, nothing of it is ahead of the rest, and a date can be met in three ways."""

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.errors import BadPlan
from uvren.core.returns import (
    Part,
    School,
    Terms,
    climb,
    days_a_week,
    fit,
    held_for,
    match_minutes,
    shares_after,
    shortened,
    steepest,
    with_shares,
)
from uvren.core.returns.climb import KEPT

FIRST = date(2026, 2, 23)
NOTHING = np.zeros(0)


def terms(days_off=64, held=2, school=School.STANDARD, reference=1000.0, first=FIRST):
    shares = tuple(float(one) for one in shares_after(days_off, school))
    return Terms(first, days_off, shares, {"main": Part(reference), "throws": Part(200.0, held)}, "main", 5)


def kept(of, weeks, share=1.0):
    """Loads of so many weeks, each at a share of its step, all on its first day."""
    out = np.zeros(7 * weeks)
    for i in range(weeks):
        out[7 * i] = of.shares[min(i, len(of.shares) - 1)] / 100 * of.parts["main"].reference * share
    return out


def day(week, day=0):
    return FIRST + timedelta(days=7 * week + day)


terms_drawn = st.builds(
    terms,
    st.integers(7, 120),
    st.integers(0, 4),
    st.sampled_from(School),
    st.floats(50, 5000),
)
loads_drawn = st.lists(st.one_of(st.floats(0, 600), st.just(float("nan"))), max_size=100).map(np.array)


@given(terms_drawn, loads_drawn, st.integers(0, 100))
def test_a_week_holds_at_most_its_share_and_what_is_held_is_never_ahead(of, done, days):
    found = climb(of, done, FIRST + timedelta(days=days))
    before = 0.0
    for week in found.weeks:
        assert found.load_in(week, "main") <= of.parts["main"].reference + 1e-9
        assert found.share_in(week, "throws") <= found.share_in(week, "main") == week.share
        assert found.day_in(week, "main", 1) <= found.load_in(week, "main")
        assert before <= week.share
        before = week.share
    # Whatever was done, all of it is open at the end.
    assert found.share_in(found.weeks[-1], "throws") == 100
    assert found.on(found.last + timedelta(days=1)) is None
    assert found.share_on(found.last + timedelta(days=1), "throws") == 100


@given(terms_drawn, loads_drawn, st.integers(0, 100), st.integers(0, 99))
def test_what_is_not_known_never_speeds_a_climb_up(of, done, days, at):
    as_of = FIRST + timedelta(days=days)
    hidden = done.copy()
    if hidden.size:
        hidden[at % hidden.size] = np.nan
    assert climb(of, hidden, as_of).last >= climb(of, done, as_of).last


def test_a_week_under_seventy_per_cent_of_its_step_is_held_for_another_one():
    of = terms()
    first = kept(of, 2)
    first[7] = of.shares[1] * 10 * KEPT - 1
    found = climb(of, first, day(2))
    assert [(one.step, one.share, one.again) for one in found.weeks[:4]] == [
        (1, 40.0, False), (2, 50.0, False), (2, 50.0, True), (3, 60.0, False),
    ]  # fmt: skip
    assert found.weeks[1].done == of.shares[1] * 10 * KEPT - 1
    # A little more, and it goes on.
    first[7] += 1
    assert [one.step for one in climb(of, first, day(2)).weeks[:4]] == [1, 2, 3, 4]
    # A week is judged once it is over.
    assert not any(one.again for one in climb(of, np.zeros(6), day(0, 6)).weeks)
    assert climb(of, np.zeros(7), day(1)).weeks[1].again


def test_channels_open_when_their_weeks_are_over_and_effort_is_capped_at_first():
    found = climb(terms(), NOTHING, FIRST)
    assert [found.share_in(one, "throws") for one in found.weeks] == [0, 0, 40, 50, 60, 70, 80, 90, 100]
    assert found.held_until("throws") == day(2)
    assert found.held_until("main") is None
    assert [one.effort_cap for one in found.weeks[:4]] == [7, 7, 7, None]
    assert [one.open_share for one in found.weeks] == [0, 0, 25, 25, 50, 75, 100, 100, 100]
    assert (found.reaches(60), found.reaches(100), found.reaches(100, "throws")) == (day(2), day(6), day(8))
    assert found.share_on(FIRST - timedelta(days=1), "main") == 0


def test_a_day_holds_half_as_much_again_as_an_even_one():
    found = climb(terms(), NOTHING, FIRST)
    assert found.day_in(found.weeks[0], "main") == pytest.approx(400 * 1.5 / 5)
    assert found.day_in(found.weeks[0], "main", planned_days=3) == pytest.approx(200)
    assert found.day_in(found.weeks[0], "main", planned_days=1) == 400


@pytest.mark.parametrize(
    ("days_off", "quick", "region", "held"),
    [(56, True, True, 2), (56, False, True, 1), (55, True, True, 1), (28, False, True, 1), (27, True, True, 0),
     (90, True, False, 2), (90, False, False, 0)],
)  # fmt: skip
def test_what_is_held_behind_the_rest(days_off, quick, region, held):
    assert held_for(days_off, quick=quick, region=region) == held


@given(st.integers(7, 150))
def test_a_slower_school_is_never_ahead_and_a_quicker_one_never_behind(days_off):
    def at(school, week):
        shares = shares_after(days_off, school)
        return shares[week] if week < len(shares) else 100

    for week in range(9):
        assert at(School.SLOWER, week) <= at(School.STANDARD, week) <= at(School.FASTER, week)
    assert shares_after(6, School.SLOWER) == ()


@pytest.mark.parametrize(
    ("what", "said"),
    [
        ({"shares": ()}, "0 and at most 100"),
        ({"shares": (50.0, 40.0)}, "never lower"),
        ({"shares": (50.0, 120.0)}, "at most 100"),
        ({"shares": tuple([50.0] * 53)}, "at most 52"),
        ({"parts": {"main": Part(0.0)}}, "usual week"),
        ({"parts": {"throws": Part(10.0)}}, "usual week"),
        ({"parts": {"main": Part(10.0), "throws": Part(10.0, -1)}}, "0 weeks or more"),
    ],
)
def test_terms_that_make_no_sense_are_refused(what, said):
    good = {"first": FIRST, "days_off": 20, "shares": (50.0, 100.0), "parts": {"main": Part(10.0)}, "main": "main"}
    with pytest.raises(BadPlan, match=said):
        Terms(**(good | what))


def test_days_of_a_usual_week_are_those_with_work():
    assert days_a_week([300, 0, 300, 300, 0, 0, 0] * 4) == 3
    assert (days_a_week([0] * 28), days_a_week([1] * 28)) == (1, 7)


# Whether a date can be met.
def test_a_date_that_does_not_fit_says_how_far_and_how_many_days_are_missing():
    found = climb(terms(), NOTHING, FIRST)
    short = fit(found, date(2026, 3, 28))
    assert (short.shares, short.days_short, short.fits) == ({"main": 80.0, "throws": 60.0}, 9, False)
    assert short.earliest == date(2026, 4, 6)
    assert fit(found, date(2026, 4, 6)).fits
    assert fit(found, date(2026, 3, 28), needed=80).fits


@given(terms_drawn, st.integers(-10, 90), st.integers(0, 30), st.floats(30, 100))
def test_a_later_date_never_reaches_less(of, days, more, needed):
    found = climb(of, NOTHING, FIRST)
    one, two = (fit(found, FIRST + timedelta(days=days + extra), needed) for extra in (0, more))
    assert one.days_short >= two.days_short
    assert all(one.shares[code] <= two.shares[code] for code in one.shares)


@given(terms_drawn, st.integers(0, 60), st.integers(1, 60), st.sampled_from([80.0, 90.0, 100.0]))
def test_a_shortened_climb_meets_the_date_leaves_the_past_and_what_is_held(of, days, more, needed):
    as_of = FIRST + timedelta(days=days)
    done = kept(of, 12)
    found = climb(of, done, as_of)
    target = as_of + timedelta(days=more)
    steps = shortened(found, target, needed, as_of)
    if steps is None:
        this_week = (target - FIRST).days // 7 <= days // 7
        assert this_week or found.share_on(target, "main") >= needed
        return
    quick = with_shares(found, steps, done, as_of)
    assert quick.share_on(target, "main") >= needed - 0.1
    assert steps[-1] == 100
    assert all(quick.on(day(i)).share == found.on(day(i)).share for i in range(days // 7 + 1))
    assert quick.held_until("throws") == found.held_until("throws")
    assert steepest(steps) >= 0


def test_a_shortened_climb_rises_evenly_from_the_week_now_running():
    of = terms()
    found = climb(of, kept(of, 3), day(2, 3))
    assert shortened(found, date(2026, 3, 28), 100, day(2, 3)) == (40, 50, 60, 80, 100)
    assert steepest((40, 50, 60, 80, 100)) == pytest.approx(1 / 3)
    assert steepest((40,)) == 0


def test_minutes_of_a_match_by_open_play_and_by_the_days_load():
    found = climb(terms(), NOTHING, FIRST)
    # The fourth week: 700 on five days, so 210 on one; a quarter of the play is open.
    assert match_minutes(found, day(3), 60, 420) == 15
    # The seventh: everything is open, and 300 a day are half of 600.
    assert match_minutes(found, day(6), 60, 600) == 30
    assert match_minutes(found, day(6), 60, 0) == 60
    assert match_minutes(found, FIRST - timedelta(days=1), 60, 420) == 0
    assert match_minutes(found, found.last + timedelta(days=1), 60, 6000) == 60
    with pytest.raises(BadPlan):
        match_minutes(found, day(3), 0, 420)
