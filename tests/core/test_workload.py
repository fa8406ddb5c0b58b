from datetime import date, timedelta

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.strategies import CEILINGS
from uvren.core.errors import BadLoads
from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.windows import decayed_sum_over_known, rolling_max, rolling_sum, run_length
from uvren.core.workload import APP, DEFAULTS, School, Withheld, Workload

FIRST = date(2025, 8, 4)


def loads(*rows, start=None, estimated=None):
    load = np.array(rows, dtype=float)
    begins = np.zeros(len(rows), dtype=int) if start is None else np.array(start)
    return DailyLoads(FIRST, load, begins, None if estimated is None else np.array(estimated, dtype=float))


def test_weighted_means_are_those_of_pandas_with_a_missing_day_among_them():
    values = np.random.default_rng(1).gamma(4, 90, 60)
    values[[20, 33]] = np.nan
    ours = Workload(loads(values)).ewma_chronic[0, 20:]
    theirs = pd.Series(values).ewm(span=28, adjust=True, ignore_na=False).mean().to_numpy()[20:]
    np.testing.assert_allclose(ours, theirs, rtol=1e-12)


def test_two_time_constants_follow_the_recurrence_and_stand_still_on_a_missing_day():
    values = [300.0, 0.0, np.nan, 450.0]
    state, expected = 0.0, []
    for value in values:
        state = state if np.isnan(value) else state + (value - state) * (1 - np.exp(-1 / 7))
        expected.append(state)
    work = Workload(loads(values))
    np.testing.assert_allclose(work.exp_acute[0], expected)
    assert work.balance[0, 0] == 0
    assert work.balance[0, 3] == pytest.approx(work.exp_chronic[0, 2] - work.exp_acute[0, 2])


def test_fosters_monotony_and_strain_on_a_week_worked_by_hand():
    # Totals 2,100; mean 300; squared deviations 100^2 x 4 + 0 + 200^2 x 2 = 120,000; SD = sqrt(20,000).
    work = Workload(loads([400, 200, 400, 200, 300, 500, 100]))
    assert work.monotony[0, 6] == pytest.approx(300 / np.sqrt(20_000))
    assert work.strain[0, 6] == pytest.approx(2100 * 300 / np.sqrt(20_000))


def test_spread_is_undefined_when_all_days_are_alike():
    assert np.isnan(Workload(loads([300.0] * 10)).monotony).all()


def long_history(random, days):
    """Some years of four people with rest, layoffs, missing ratings and estimates; one begins late, one just now."""
    load = random.gamma(4, 90, (4, days)) * (random.random((4, days)) < 0.7)
    for row in range(4):
        first = random.integers(0, days)
        load[row, first : first + random.integers(0, 200)] *= random.choice([0.0, 0.2])
    load[random.random(load.shape) < random.choice([0.0, 0.02])] = np.nan
    start = np.array([0, 3, random.integers(0, days), days - random.integers(1, 40)])
    estimated = np.where(random.random(load.shape) < 0.1, np.nan_to_num(load), 0.0)
    before = np.array([120.0, 0.0, 300.0, 80.0]) if random.random() < 0.5 else None
    return DailyLoads(FIRST, load, start, estimated, before)


def shares(workload, code, value, settings):
    rule = make_rule(code, value, settings)
    return rule.figure(workload), rule.room(workload), rule.broken(workload), rule.reasons(workload)


@settings(max_examples=100)
@given(st.integers(0, 2**32 - 1), st.integers(90, 800), st.sampled_from([DEFAULTS, APP]))
def test_the_last_day_is_the_same_with_the_last_days_alone(seed, days, of):
    random = np.random.default_rng(seed)
    whole = Workload(long_history(random, days), of)
    rows, more = np.array([2, 0, 3, 1, 0]), random.choice([0.0, 250.0], size=5)
    last = whole.of_last()
    assert last.loads.days == min(days, 98)
    used = Workload(whole.loads.of_rows(rows).with_day(whole.loads.date_of(days - 1), more), of)
    for full, short in ((whole, last), (used, last.of_rows(rows).with_last(more))):
        for name, figures in full.columns().items():
            if name == "withheld":
                assert (figures[:, -1] == short.columns()[name][:, -1]).all()
            else:
                np.testing.assert_allclose(short.columns()[name][:, -1], figures[:, -1], rtol=1e-9, atol=1e-9)
        for code, (low, high), setting in CEILINGS:
            value = (low + high) // 2 if isinstance(low, int) else (low + high) / 2
            for was, now in zip(shares(full, code, value, setting), shares(short, code, value, setting), strict=True):
                if was.dtype == object or was.dtype == bool or was.dtype.kind in "US":
                    assert (was[:, -1] == now[:, -1]).all()
                else:
                    np.testing.assert_allclose(now[:, -1], was[:, -1], rtol=1e-7, atol=1e-6)


def test_a_missing_rating_is_never_a_day_of_rest():
    base = [300.0] * 40
    rested, unknown = base.copy(), base.copy()
    rested[38], unknown[38] = 0.0, np.nan
    work = Workload(loads(rested, unknown))
    assert work.shown_ratio(School.EWMA)[0, 39] < 1
    assert np.isnan(work.shown_ratio(School.EWMA)[1, 39])
    assert work.withheld[1, 39] == Withheld.MISSING
    assert np.isnan(work.week_load[1, 39])
    assert work.acute[1, 39] == 300


def test_the_first_reason_for_withholding_is_the_one_said():
    days = [300.0] * 60 + [0.0] * 40
    short = [0.0] * 80 + [300.0] * 20
    guessed = np.zeros((3, 100))
    guessed[2, 72:] = 120.0
    work = Workload(loads(days, short, [300.0] * 100, start=[0, 80, 0], estimated=guessed))
    assert work.withheld[0, 99] == Withheld.REBUILD
    assert work.withheld[1, 99] == Withheld.HISTORY
    assert work.withheld[2, 99] == Withheld.ESTIMATED
    assert work.withheld[2, 40] == Withheld.NO


def test_the_rebuild_floor_looks_back_one_year_and_not_further():
    days = 500
    values = np.full(days, 10.0)
    values[:40] = 500.0
    work = Workload(loads(values))
    assert work.rebuilding[0, 300]
    assert not work.rebuilding[0, 480]


@pytest.mark.parametrize(("back", "rebuilding"), [(355, True), (370, True), (373, False), (400, False)])
def test_a_high_base_is_remembered_for_a_year_by_the_last_days_alone(back, rebuilding):
    # Four weeks at five times what came after them: six days later the base is still over four times as high.
    load = np.full(600, 100.0)
    load[600 - back - 28 : 600 - back] = 500.0
    whole = Workload(DailyLoads(FIRST, load[None, :], np.zeros(1, dtype=np.int64)))
    for work in (whole, whole.of_last()):
        assert bool(work.rebuilding[0, -1]) is rebuilding


def test_before_the_history_begins_nothing_is_said():
    work = Workload(loads([0.0] * 10 + [300.0] * 30, start=[10]))
    assert np.isnan(work.acute[0, :16]).all()
    assert work.acute[0, 16] == 300
    assert work.acute[0, 15:17].tolist() != [300, 300]
    assert work.withheld[0, 29] == Withheld.HISTORY
    assert work.withheld[0, 30] == Withheld.NO


@pytest.mark.parametrize("value", [-1.0, np.inf])
def test_loads_that_cannot_be_are_refused(value):
    with pytest.raises(BadLoads, match="0 or more"):
        loads([300.0, value])


def test_a_day_outside_is_refused_with_the_days_there_are():
    with pytest.raises(BadLoads, match="2025-08-04 to 2025-08-06"):
        loads([1.0, 2.0, 3.0]).column(FIRST + timedelta(days=3))


def test_rolling_max_ends_on_the_day_itself():
    x = np.array([[5.0, 1.0, 2.0, np.nan, 1.0, 0.0]])
    assert rolling_max(x, 3).tolist() == [[5, 5, 5, 2, 2, 1]]


def test_runs_are_counted_to_the_day():
    active = np.array([[True, True, False, True, True, True, False]])
    assert run_length(active).tolist() == [[1, 2, 0, 1, 2, 3, 0]]


def test_a_row_with_nothing_known_stays_at_its_start():
    x = np.full((1, 4), np.nan)
    assert decayed_sum_over_known(x, np.zeros((1, 4), dtype=bool), 0.9).tolist() == [[0, 0, 0, 0]]


@given(st.lists(st.floats(0, 2000), min_size=1, max_size=60), st.integers(1, 35))
def test_a_rolling_sum_is_the_sum_of_the_days_it_ends_on(days, span):
    x = np.array([days])
    wanted = [sum(days[max(i - span + 1, 0) : i + 1]) for i in range(len(days))]
    np.testing.assert_allclose(rolling_sum(x, span)[0], wanted, rtol=1e-12, atol=1e-9)
    assert (rolling_sum(np.zeros((2, 40)), span) == 0).all()
