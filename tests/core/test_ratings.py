import numpy as np
import pytest

from uvren.core.errors import BadLoads
from uvren.core.ratings import Entries, Origin, fill, fill_loads, sum_days, typical_effort

NAN = np.nan
COURT, GYM = 0, 1


def entries(*rows):
    """Rows of (athlete, session, kind, day, minutes, effort)."""
    athlete, session, kind, day, minutes, effort = zip(*rows, strict=True)
    whole = [np.array(column) for column in (athlete, session, kind, day)]
    return Entries(*whole, np.array(minutes, dtype=float), np.array(effort, dtype=float))


def own_history(efforts, kind=COURT, first=1):
    return [(1, 100 + i, kind, first + i, 60, effort) for i, effort in enumerate(efforts)]


def test_a_missing_rating_takes_the_athletes_own_median_for_that_kind_of_session():
    filled = fill(entries(*own_history([4, 7, 5]), *own_history([9, 9, 9], GYM), (1, 1, COURT, 30, 50, NAN)))
    assert filled.load[-1] == 250
    assert (filled.origin[-1], filled.n[-1]) == (Origin.OWN_MEDIAN, 3)


def test_ratings_older_than_42_days_or_later_than_the_session_do_not_count():
    old = own_history([4, 4, 4], first=1)
    filled = fill(entries(*old, (1, 1, COURT, 43, 50, NAN), (1, 2, COURT, 44, 50, 6)))
    # Day 1 is 42 days before day 43: two of the three are too young by none, so all three count there.
    assert filled.origin[3] == Origin.OWN_MEDIAN
    filled = fill(entries(*old, (1, 1, COURT, 44, 50, NAN), (1, 2, COURT, 45, 50, 6)))
    assert filled.origin[3] == Origin.MISSING
    assert np.isnan(filled.load[3])


def test_without_own_ratings_the_teammates_of_the_session_stand_in():
    team = [(athlete, 1, COURT, 10, 60, effort) for athlete, effort in ((2, 5), (3, 6), (4, 8))]
    filled = fill(entries(*team, (1, 1, COURT, 10, 40, NAN)))
    assert (filled.load[-1], filled.origin[-1], filled.n[-1]) == (240, Origin.TEAM_MEDIAN, 3)


def test_with_fewer_than_three_ratings_the_load_stays_unknown():
    filled = fill(entries((2, 1, COURT, 10, 60, 5), (3, 1, COURT, 10, 60, 6), (1, 1, COURT, 10, 40, NAN)))
    assert np.isnan(filled.load[-1])
    assert filled.origin[-1] == Origin.MISSING


def test_not_taking_part_is_no_load_and_needs_no_rating():
    filled = fill(entries((1, 1, COURT, 10, 0, NAN)))
    assert (filled.load[0], filled.origin[0]) == (0, Origin.MEASURED)


def test_a_rating_without_minutes_stays_unknown():
    filled = fill(entries(*own_history([4, 7, 5]), (1, 1, COURT, 30, NAN, 6)))
    assert filled.origin[-1] == Origin.MISSING


def test_a_day_with_one_unknown_session_is_unknown_as_a_whole():
    load = np.array([300.0, 300.0, NAN, 100.0])
    origin = np.array([Origin.OWN_MEDIAN, Origin.OWN_MEDIAN, Origin.MISSING, Origin.MEASURED])
    days = sum_days(np.array([7, 9, 7, 9]), load, origin)
    assert days.key.tolist() == [7, 9]
    assert np.isnan(days.load[0])
    assert days.load[1] == 400
    assert days.estimated.tolist() == [300, 300]
    assert days.sessions.tolist() == [2, 2]


def test_a_measured_channel_is_estimated_by_its_load_a_minute():
    # Court work at 2, 3 and 4 a minute before; 60 minutes without a count today.
    work = entries(*[(1, i, COURT, 10 + i, 60, NAN) for i in range(3)], (1, 9, COURT, 30, 60, NAN))
    filled = fill_loads(work, np.array([120.0, 180.0, 240.0, NAN]))
    assert filled.load.tolist() == [120, 180, 240, 180]
    assert filled.origin.tolist() == [Origin.MEASURED] * 3 + [Origin.OWN_MEDIAN]


def test_a_measured_load_stands_without_minutes_and_no_minutes_is_no_load():
    work = entries((1, 1, COURT, 10, NAN, NAN), (1, 2, COURT, 11, 0, NAN), (1, 3, COURT, 12, NAN, NAN))
    filled = fill_loads(work, np.array([50.0, 70.0, NAN]))
    assert filled.load[:2].tolist() == [50, 0]
    assert np.isnan(filled.load[2])
    assert filled.origin.tolist() == [Origin.MEASURED, Origin.MEASURED, Origin.MISSING]


def test_typical_effort_is_the_median_to_half_a_point():
    assert typical_effort(np.array([4, 5, 5.5, 6.5])) == 5.0
    assert typical_effort(np.array([4, NAN])) == 5.0
    assert typical_effort(np.array([6.5, 7, 7])) == 7


def test_columns_of_different_length_are_refused():
    with pytest.raises(BadLoads, match="one length"):
        Entries(*(np.zeros(2, dtype=int) for _ in range(4)), np.zeros(2), np.zeros(3))
