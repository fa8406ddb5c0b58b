"""Figures and sentences that do not contradict themselves, and figures that are withheld where too little is known."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from uvren.core import words
from uvren.core.limits import corridor, make_rule, title_of
from uvren.core.limits.days import DaysInSeven
from uvren.core.loads import DailyLoads
from uvren.core.workload import APP, School, Workload

FIRST = date(2025, 8, 4)


def loads_of(*days, estimated=None):
    guess = None if estimated is None else np.array([estimated], dtype=float)
    return DailyLoads(FIRST, np.array([days], dtype=float), np.zeros(1, dtype=int), guess)


def plain(text):
    return text.replace("\u2009", " ").replace("\u00a0", " ")


@pytest.mark.parametrize(
    ("code", "figure", "value", "said"),
    [
        ("week_change_cap", 0.104, 0.10, "Week load is 10.4 % above the week before; the limit is 10.0 %."),
        ("week_change_cap", 0.34, 0.15, "Week load is 34 % above the week before; the limit is 15 %."),
        ("week_cap", 2400.4, 2400, "Week load is 2 400.4; the cap is 2 400.0."),
        ("day_cap", 812, 700, "The day's load is 812; the cap is 700."),
        ("week_floor", 999.96, 1000, "Week load is 999.96; the floor is 1 000.00."),
        ("balance_floor", -40.3, -40, "Balance is −40.3 the morning after; the floor is −40.0."),
    ],
)
def test_a_figure_and_its_limit_are_never_said_alike_when_they_differ(code, figure, value, said):
    assert plain(make_rule(code, value).sentence(figure, value)) == said


def test_the_weighted_ratio_is_never_called_week_load():
    weighted = make_rule("ratio_ceiling", 1.3).sentence(1.35, 1.3)
    assert plain(weighted) == "Weighted recent load is 35 % above weighted base load; the ceiling is 30 % above."
    rolling = make_rule("ratio_ceiling", 1.3, {"school": School.COUPLED}).sentence(0.8, 1.3)
    assert plain(rolling) == "Week load is 20 % below base load; the ceiling is 30 % above."


def test_limits_on_the_weighted_ratio_are_not_called_by_a_week():
    assert title_of("ratio_ceiling:ewma") == make_rule("ratio_ceiling", 1.3).title == "Ceiling on the weighted ratio"
    assert title_of("ratio_floor:coupled") == "Floor on week load over base load"
    assert title_of("day_cap") == "Cap on a day's load"


def test_seven_equal_days_have_a_spread_and_a_sentence_and_no_nan():
    alike = Workload(loads_of(*[300] * 40), APP)
    assert alike.monotony[0, -1] == pytest.approx(20)
    assert np.isfinite(alike.strain[0, -1])
    said = make_rule("monotony_cap", 2.0).sentence_at(alike, 0, 39)
    assert said == "All seven days are alike, so spread is at its highest (20); the cap is 2."
    # The plain definition leaves it open, and a week of nothing has no spread at all.
    assert np.isnan(Workload(loads_of(*[300] * 40)).monotony[0, -1])
    assert np.isnan(Workload(loads_of(*[300] * 20, *[0] * 8), APP).monotony[0, -1])


def test_a_week_that_is_estimated_as_a_whole_shows_no_ratio_and_no_ceiling():
    days = [300.0] * 63
    guessed = [0.0] * 56 + [300.0] * 7
    work = Workload(loads_of(*days, estimated=guessed), APP)
    assert str(work.withheld[0, -1]) == "estimated"
    for code, value in (("week_cap", 5000), ("monotony_cap", 2.0), ("week_change_cap", 0.25)):
        assert str(make_rule(code, value).silent(work)[0, -1]) == "estimated"
    part = Workload(loads_of(*days, estimated=[0.0] * 61 + [300.0] * 2), APP)
    assert str(part.withheld[0, -1]) == ""
    # Two of seven days are more than a quarter of the week.
    assert str(make_rule("week_cap", 5000).silent(part)[0, -1]) == "estimated"


def test_with_21_of_28_days_unknown_there_is_no_ratio():
    days = [300.0] * 40 + [np.nan] * 21 + [300.0] * 7
    assert str(Workload(loads_of(*days), APP).withheld[0, -1]) == "missing"
    assert str(Workload(loads_of(*days)).withheld[0, -1]) == ""


def test_balance_begins_from_what_was_there_before_and_is_silent_for_28_days():
    steady = loads_of(*[300] * 60)
    from_nothing = Workload(steady)
    begun = Workload(replace(steady, before=np.array([300.0])), APP)
    assert from_nothing.exp_chronic[0, -1] < 250
    np.testing.assert_allclose(begun.exp_chronic[0], 300)
    np.testing.assert_allclose(begun.balance[0, 1:], 0, atol=1e-9)
    rule = make_rule("balance_floor", -50)
    assert [str(rule.silent(begun)[0, day]) for day in (26, 27)] == ["history", ""]
    assert str(rule.silent(from_nothing)[0, 5]) == ""


SEVEN = "7 days with work in the last 7; the limit is 5 on average, and 6 in one week."
FOURTEEN = "12 days with work in the last 14; the limit is 10 (5 a week on average)."


def test_days_in_seven_says_which_of_its_two_rules_broke_with_its_own_count():
    rule = make_rule("days_in_seven", 5, {"over": 1})
    full = Workload(loads_of(*[300] * 30))
    assert rule.sentence_at(full, 0, 29) == SEVEN
    averaged = Workload(loads_of(*([300] * 6 + [0]) * 4))
    assert rule.broken(averaged)[0, -1]
    assert rule.sentence_at(averaged, 0, 27) == FOURTEEN


def test_over_is_the_own_number_of_each_row_and_day():
    loads = DailyLoads(FIRST, np.array([[300.0] * 6 + [0.0]] * 2), np.zeros(2, dtype=int))
    rule = DaysInSeven(np.full((2, 7), 5.0), over=np.array([[0.0] * 7, [2.0] * 7]))
    assert rule.broken(Workload(loads))[:, -2].tolist() == [True, False]
    assert rule.at(np.array([1])).broken(Workload(loads.of_rows(np.array([1]))))[0, -2] == np.False_


def test_a_floor_above_the_ceiling_draws_no_band_and_names_both():
    work = Workload(loads_of(*[300, 0] * 30), APP)
    band = corridor(work, [make_rule("week_floor", 2000), make_rule("week_cap", 1200)])
    assert np.isnan(band.floor[0, -1])
    assert np.isnan(band.ceiling[0, -1])
    assert band.torn[0, -1] == "the floor on week load and the cap on week load"
    whole = corridor(work, [make_rule("week_floor", 800), make_rule("week_cap", 1200)])
    assert (whole.floor[0, -1], whole.torn[0, -1]) == (pytest.approx(800), "")


def test_a_spread_is_said_with_a_digit_that_is_not_zero():
    assert [words.spread(one) for one in (0.9, 0.05, 0.004)] == ["0.9", "0.05", "0.004"]
