"""The days of a week, worked out together, are what each is by itself once the plan of the days before it is done."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.day import Desk, Unrated
from uvren.core.day.week import days_ahead
from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.terms import EffortTerms

FIRST = date(2026, 1, 5)
PAST, AHEAD, ROWS = 70, 8, 3


def by_itself(desk, i):
    """The morning of one day: what is planned before it is done, and of the day itself nothing."""
    column = desk.today + i
    load = desk.planned.load[:, : column + 1].copy()
    load[:, column] = desk.done.load[:, column] if i == 0 else 0.0
    unrated = desk.unrated
    if unrated is not None:
        high = load.copy()
        high[:, : desk.today + 1] = unrated.high.load
        unrated = replace(unrated, high=replace(unrated.high, load=high))
    done = replace(desk.done, load=load, estimated=desk.planned.estimated[:, : column + 1])
    morning = replace(desk, as_of=desk.as_of + timedelta(days=i), done=done, unrated=unrated)
    return morning.rooms_today(used_up=i == 0)


def made(random):
    load = random.choice([0.0, 200.0, 300.0, 450.0], size=(ROWS, PAST + AHEAD))
    load[1, 20:45] = 0.0
    start = np.array([0, 0, PAST - 10])
    estimated = np.where(random.random(load.shape) < 0.05, load, 0.0)
    estimated[:, PAST:] = 0.0
    load[:, : PAST - 1][random.random((ROWS, PAST - 1)) < 0.01] = np.nan
    planned = DailyLoads(FIRST, load, start, estimated, np.array([100.0, 0.0, 50.0]))
    done = DailyLoads(FIRST, load[:, : PAST + 1].copy(), start, estimated[:, : PAST + 1], planned.before)
    done.load[:, PAST] = random.choice([0.0, 100.0], size=ROWS)
    dated = np.full((ROWS, PAST + AHEAD), 500.0)
    dated[:, PAST + 3 :] = random.choice([np.nan, 250.0])
    rules = [
        make_rule("ratio_ceiling", np.array(1.3)),
        make_rule("week_change_cap", np.full((ROWS, PAST + AHEAD), 0.2)),
        make_rule("day_cap", dated),
        make_rule("days_in_row", np.array(5.0)),
        make_rule("balance_floor", np.array(-80.0)),
        make_rule("monotony_cap", np.array(2.0)),
    ]
    hard = tuple(rule for rule in rules if random.random() < 0.7)
    high = DailyLoads(FIRST, np.nan_to_num(done.load, nan=450.0), start, before=planned.before)
    unrated = Unrated(high, np.array([2, 0, 1]), np.array([20, 18, 6])) if random.random() < 0.5 else None
    return Desk(FIRST + timedelta(days=PAST), done, planned, hard, (), EffortTerms(np.full(ROWS, 6.0)),
                unrated=unrated, declared=np.array([np.nan, 1500.0, 1200.0]))  # fmt: skip


def said(rooms):
    return [(room.room.binding, room.why, room.unknown, room.ramp) for room in rooms]


@given(st.integers(0, 10_000), st.integers(1, 12))
def test_together_they_are_what_each_is_by_itself(seed, days):
    desk = made(np.random.default_rng(seed))
    found = days_ahead(desk, days)
    assert len(found) == min(days, AHEAD)
    for i, day in enumerate(found):
        alone = by_itself(desk, i)
        assert said(day.rooms) == said(alone), i
        loads = [[np.nan if one.room.load is None else one.room.load for one in rooms] for rooms in (day.rooms, alone)]
        np.testing.assert_allclose(*loads, rtol=1e-9, atol=1e-6)
        begun = desk.done.values[:, desk.today] if i == 0 else 0.0
        np.testing.assert_allclose(day.plan, desk.planned.values[:, desk.today + i] - begun)


def test_of_no_days_there_are_none():
    assert days_ahead(made(np.random.default_rng(1)), 0) == []
