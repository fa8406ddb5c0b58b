"""Room as the app offers it: the less is known, the less is offered."""

from datetime import date

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.strategies import ceilings, histories
from uvren.core.day.room import RAMP, REACH, Unrated, day_rooms
from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.returns import ramp_on, shares_after
from uvren.core.workload import Workload

EXAMPLES = settings(max_examples=60, deadline=None)
FIRST = date(2025, 8, 4)
RATIO = make_rule("ratio_ceiling", 1.3)
CHANGE = make_rule("week_change_cap", 0.25)
CAP = make_rule("day_cap", 900)


def loads_of(*days):
    return DailyLoads(FIRST, np.array([days], dtype=float), np.zeros(1, dtype=int))


def offered(loads, rules, declared=np.nan, unrated=None):
    return day_rooms(Workload(loads), rules, np.full(loads.load.shape[0], declared), unrated)


def counted(high, missing, sessions=20):
    rows = high.load.shape[0]
    return Unrated(high, np.full(rows, missing), np.full(rows, sessions))


@EXAMPLES
@given(histories(rows=2), st.lists(ceilings(), min_size=1, max_size=4), st.data())
def test_hiding_a_day_never_leaves_more_than_knowing_it_to_be_high(loads, rules, data):
    assume(loads.days > 30)
    hidden = data.draw(st.integers(loads.days - 27, loads.days - 2))
    load = loads.load.copy()
    load[:, hidden] = np.nan
    unknown = DailyLoads(loads.first_day, load, loads.start)
    known, not_known = offered(loads, rules), offered(unknown, rules, unrated=counted(loads, 1))
    for one, other in zip(known, not_known, strict=True):
        if one.room.load is None:
            continue
        assert other.room.load is not None
        assert other.room.load <= one.room.load * (1 + 1e-9) + 1e-6


@EXAMPLES
@given(histories(rows=2), st.lists(ceilings(), min_size=1, max_size=4))
def test_with_everything_known_and_every_limit_speaking_it_is_the_room_of_the_limits(loads, rules):
    work, column = Workload(loads), loads.days - 1
    left = np.array([rule.room(work)[:, column] for rule in rules])
    speaks = np.all([rule.speaks(work)[:, column] for rule in rules], axis=0)
    for row, one in enumerate(offered(loads, rules)):
        if speaks[row]:
            least = max(float(left[:, row].min()), 0.0)
            assert (np.inf if one.room.load is None else one.room.load) == pytest.approx(least)


def test_who_comes_back_from_three_weeks_off_has_the_ramp_and_not_the_day_cap():
    steady = [400, 300, 0, 500, 300, 450, 0] * 12
    back = loads_of(*steady, *([0] * 21), 0)
    # Twenty-two days off by the morning: half of the reference week of 1 950, whatever the cap on a day is.
    (one,) = offered(back, [CHANGE, make_rule("day_cap", 5000)])
    assert (one.room.load, one.room.binding) == (975, (RAMP,))
    assert "50 % of 1 950 a week" in one.why.replace("\u2009", " ").replace("\u00a0", " ")
    (tighter,) = offered(back, [RATIO, CHANGE, CAP])
    assert tighter.room.load < 500
    second = loads_of(*steady, *([0] * 21), 300, 0, 300, 0, 300, 0, 0, 0)
    (week,) = offered(second, [CHANGE])
    assert ramp_on(second, 0, second.days - 1).share == 70
    assert week.room.load is not None


def test_a_newcomer_goes_by_the_declared_week_and_without_one_there_is_no_figure():
    new = loads_of(300, 0, 300, 0, 300)
    (one,) = offered(new, [RATIO, CAP], declared=2000)
    assert (one.room.load, one.room.binding) == (2000 * 0.5 - 900, (RAMP,))
    (none,) = offered(new, [RATIO, CAP])
    assert (none.room.load, none.unknown) == (None, "say the usual week first")


def test_with_many_ratings_missing_the_hardest_day_is_as_much_as_is_offered():
    steady = [400, 300, 0, 500, 300, 450, 0] * 12
    hidden = np.array(steady, dtype=float)
    hidden[-20:][hidden[-20:] > 0] = np.nan
    unknown = DailyLoads(FIRST, hidden[None, :], np.zeros(1, dtype=int))
    (one,) = offered(unknown, [RATIO, CAP], unrated=counted(loads_of(*steady), 14))
    assert one.room.load <= 500
    assert "14 of 20 ratings missing" in one.why
    (alone,) = offered(unknown, [make_rule("week_cap", 50_000)], unrated=counted(loads_of(*steady), 14))
    assert (alone.room.load, alone.room.binding) == (500, (REACH,))
    # A cap on a day is never silent: with it alone nothing is hidden.
    (speaking,) = offered(unknown, [make_rule("day_cap", 5000)], unrated=counted(loads_of(*steady), 14))
    assert speaking.room.load == pytest.approx(5000)


def test_what_is_added_does_not_open_room_by_waking_a_limit_that_was_silent():
    # A base a shade under a quarter of its best month: one hard day lifts it over the edge, and the ratio speaks.
    strong = [600.0] * 60
    weak = [0, 180, 0, 180, 0, 180, 0] * 8
    loads = loads_of(*strong, *weak)
    work = Workload(loads)
    assert str(work.withheld[0, -1]) == "rebuild"
    (one,) = offered(loads, [RATIO, make_rule("day_cap", 3000)])
    used = Workload(loads.with_day(loads.date_of(loads.days - 1), np.array([loads.values[0, -1] + one.room.load])))
    assert not RATIO.broken(used)[0, -1]


@pytest.mark.parametrize(
    ("days_off", "shares"),
    [(6, ()), (7, (70, 100)), (13, (70, 100)), (14, (50, 70, 100)), (28, (50, 70, 80, 90, 100)),
     (56, (40, 50, 60, 70, 80, 90, 100))],
)  # fmt: skip
def test_the_shares_of_a_ramp_go_by_days_off(days_off, shares):
    assert shares_after(days_off) == shares


def test_a_ramp_is_over_after_its_weeks_and_needs_a_reference():
    steady = [300.0] * 60
    over = loads_of(*steady, *([0] * 10), *([200] * 14))
    assert ramp_on(over, 0, over.days - 1).week == 2
    longer = loads_of(*steady, *([0] * 10), *([200] * 15))
    assert ramp_on(longer, 0, longer.days - 1).low
    young = loads_of(*([300] * 14), *([0] * 10), 0)
    assert ramp_on(young, 0, young.days - 1) is None
    assert ramp_on(young, 0, young.days - 1, 2000.0).reference == 2000


def test_a_hidden_day_does_not_hide_that_there_is_no_base():
    # One hard day a week, more than a week off, and an easy day of whose rating nobody knows.
    back = [*[600.0, 0, 0, 0, 0, 0, 0] * 6, *[0.0] * 8, 5.0, 0, 0]
    known, hidden = loads_of(*back), np.array([back])
    hidden[0, -3] = np.nan
    unknown = DailyLoads(FIRST, hidden, np.zeros(1, dtype=int))
    (high,) = offered(known, [CHANGE])
    (one,) = offered(unknown, [CHANGE], unrated=counted(known, 1))
    assert (high.room.binding, one.room.binding) == ((RAMP,), (RAMP,))
    assert one.room.load == high.room.load
