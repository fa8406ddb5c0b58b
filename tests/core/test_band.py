"""The corridor as the app draws it: a limit that rests opens nothing, and the band agrees with room."""

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.strategies import histories
from uvren.core.day import Desk, band
from uvren.core.day.room import RAMP
from uvren.core.limits import corridor, make_rule
from uvren.core.loads import DailyLoads
from uvren.core.terms import EffortTerms

FIRST = date(2025, 8, 4)
STEADY = [400, 300, 0, 500, 300, 450, 0] * 12
RATIO = make_rule("ratio_ceiling", 1.3)
CHANGE = make_rule("week_change_cap", 0.25)
CAP = make_rule("week_cap", 3000)


def desk(past, ahead=(), hard=(CHANGE, CAP), advisory=(), declared=np.nan):
    done = np.array([past], dtype=float)
    planned = np.array([[*past, *ahead, *[0.0] * (7 - len(ahead))]], dtype=float)
    rows = np.zeros(1, dtype=int)
    return Desk(
        as_of=FIRST + timedelta(days=len(past) - 1),
        done=DailyLoads(FIRST, done, rows),
        planned=DailyLoads(FIRST, planned, rows),
        hard=tuple(hard),
        advisory=tuple(advisory),
        terms=EffortTerms(np.array([6.0])),
        declared=np.array([declared]),
    )


def test_after_three_weeks_off_the_ramp_is_the_ceiling_of_every_day_ahead():
    of = desk([*STEADY, *[0] * 22], ahead=[300, 0, 300])
    shown = band(of, of.today)
    # Half of the reference week of 1 950, 70 % from the eighth day back.
    assert shown.ceiling[0, :7] == pytest.approx([975] * 7)
    assert of.day_rooms[0].room.binding == (RAMP,)
    assert corridor(of.ahead, [CHANGE, CAP]).ceiling[0, of.today] == pytest.approx(3000)


def test_a_newcomer_has_a_band_by_the_declared_week_and_none_without():
    past = [300, 0, 300, 0, 300]
    assert np.isnan(band(desk(past)).ceiling).all()
    of = desk(past, declared=2000)
    assert band(of).ceiling[0, of.today] == pytest.approx(1000)


def test_where_ratings_hide_a_limit_no_ceiling_is_told():
    past = [float(x) for x in STEADY]
    past[-12] = np.nan
    of = desk(past)
    assert str(CHANGE.silent(of.now)[0, of.today]) == "missing"
    assert np.isnan(band(of).ceiling[0, of.today])
    # An advisory limit that rests hides nothing of the hard ones.
    beside = desk(past, hard=[CAP], advisory=[CHANGE])
    assert band(beside).ceiling[0, beside.today] == pytest.approx(3000)


def test_a_floor_above_the_ramp_is_torn_and_says_so():
    of = desk([*STEADY, *[0] * 22], hard=(CHANGE, make_rule("week_floor", 1500)))
    shown = band(of, of.today)
    assert shown.torn[0, 0] == "the floor and the ramp after a layoff"
    assert np.isnan(shown.floor[0, 0])
    assert np.isnan(shown.ceiling[0, 0])


def test_a_band_from_a_day_on_is_the_end_of_the_whole_one():
    of = desk([*STEADY, *[0] * 22], ahead=[300, 0, 300])
    whole, part = band(of), band(of, 60)
    for name in ("floor", "ceiling", "torn"):
        np.testing.assert_array_equal(getattr(whole, name)[:, 60:], getattr(part, name))


@settings(max_examples=60, deadline=None)
@given(histories(rows=2), st.sampled_from([RATIO, CAP, CHANGE]))
def test_room_up_to_the_band_is_the_room_that_is_said(loads, rule):
    done = DailyLoads(loads.first_day, loads.load[:, :-7], loads.start) if loads.days > 14 else loads
    ahead = np.concatenate([done.load, np.zeros((2, 7))], axis=1)
    of = Desk(
        as_of=done.date_of(done.days - 1),
        done=done,
        planned=DailyLoads(done.first_day, ahead, done.start),
        hard=(rule,),
        advisory=(),
        terms=EffortTerms(np.array([6.0, 6.0])),
    )
    shown, week = band(of, of.today).ceiling[:, 0], of.ahead.loads.sum_over(7)[:, of.today]
    for row, found in enumerate(of.day_rooms):
        if found.room.load is None or np.isnan(shown[row]):
            assert found.room.load is None
            continue
        # What is added may wake a limit that rests: room is then below the band, never above it.
        assert found.room.load <= max(shown[row] - week[row], 0.0) + 1e-6
