from datetime import date

import numpy as np
import pytest

from uvren.core.errors import BadLimit, UnknownRule
from uvren.core.limits import CATALOGUE, corridor, make_rule, room_on, room_with_plan
from uvren.core.loads import DailyLoads
from uvren.core.workload import Workload

FIRST = date(2025, 8, 4)


def work(*rows):
    load = np.array(rows, dtype=float)
    return Workload(DailyLoads(FIRST, load, np.zeros(len(rows), dtype=int)))


def room_today(workload, *rules):
    return room_on(workload, rules, workload.loads.date_of(workload.loads.days - 1))[0]


STEADY = [300.0] * 41 + [0.0]


@pytest.mark.parametrize(
    ("code", "value", "settings", "expected"),
    [
        # Six days of 300 before today, 27 days of 300: x <= (1.5 * 8100 - 4 * 1800) / (4 - 1.5).
        ("ratio_ceiling", 1.5, {"school": "coupled"}, (1.5 * 8100 - 4 * 1800) / 2.5),
        ("ratio_ceiling", 1.5, {"school": "uncoupled"}, 1.5 * 300 * 7 - 1800),
        ("week_change_cap", 0.2, {}, 1.2 * 2100 - 1800),
        ("week_cap", 2500, {}, 700),
        ("day_cap", 450, {}, 450),
    ],
)
def test_room_is_what_the_formula_gives(code, value, settings, expected):
    answer = room_today(work(STEADY), make_rule(code, value, settings))
    assert answer.load == pytest.approx(expected, rel=1e-6)


def test_the_binding_limit_and_the_next_one_are_named():
    answer = room_today(work(STEADY), make_rule("day_cap", 500), make_rule("week_cap", 2500), make_rule("day_cap", 900))
    assert (answer.load, answer.binding) == (pytest.approx(500), ("day_cap",))
    assert (answer.next_load, answer.next_binding) == (pytest.approx(700), ("week_cap",))


def test_without_a_limit_nothing_binds():
    answer = room_today(work(STEADY))
    assert answer.load is None
    assert answer.binding == ()


def test_a_broken_limit_leaves_no_room_and_binds_alone():
    over = [300.0] * 41 + [1000.0]
    answer = room_today(work(over), make_rule("day_cap", 800), make_rule("week_cap", 2800))
    assert (answer.load, answer.binding) == (0.0, ("day_cap",))


def test_a_break_before_makes_the_week_change_silent_instead_of_endless():
    rule = make_rule("week_change_cap", 0.2)
    back = work([300.0] * 20 + [0.0] * 14 + [200.0])
    assert rule.silent(back)[0, -1] == "rebuild"
    assert room_today(back, rule).load is None


def test_the_cap_at_the_weeks_end_holds_on_any_day_but_sunday():
    """Weeks of 100 a day, then 200 a day from a Monday on."""
    loads = DailyLoads(date(2026, 1, 5), np.array([[100.0] * 21 + [200.0] * 7]), np.zeros(1, dtype=int))
    daily, at_end = make_rule("week_change_cap", 0.5), make_rule("week_end_change_cap", 0.5)
    workload = Workload(loads)
    assert list(np.flatnonzero(daily.broken(workload)[0])) == [24, 25, 26, 27]
    assert [loads.date_of(int(i)).strftime("%a") for i in np.flatnonzero(at_end.broken(workload)[0])] == ["Sun"]
    # On Saturday it leaves whatever one wants, on Sunday what the week before allows.
    assert np.isinf(at_end.room(workload)[0, 26])
    assert at_end.room(workload)[0, 27] == pytest.approx(1.5 * 700 - 1400)
    assert "the limit, on Sundays, is 50" in at_end.sentence(1.0, 0.5)


def test_days_in_a_row_close_the_day_after_the_last_allowed_one():
    rule = make_rule("days_in_row", 3)
    assert room_today(work([0, 100, 100, 100, 0]), rule).load == 0.0
    assert room_today(work([0, 0, 100, 100, 0]), rule).load is None
    # A day that has work already takes more of it.
    assert room_today(work([0, 0, 100, 100, 50]), rule).load is None
    assert room_today(work([100, 100, 100, 50]), rule).binding == ("days_in_row",)


def test_a_session_without_a_report_counts_as_a_day_with_work():
    rule = make_rule("days_in_row", 3)
    assert room_today(work([0, 100, np.nan, 100, 0]), rule).load == 0.0


def test_days_in_seven_may_go_over_in_one_week_but_not_in_two():
    rule = make_rule("days_in_seven", 4)
    five = [1, 1, 1, 1, 0, 0, 0]
    assert room_today(work([*([0.0] * 7), *five[:-1], 0.0]), rule).load is None
    assert room_today(work([1, 1, 1, 1, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0.0]), rule).load == 0.0


def test_spread_is_silent_below_a_week_and_unbounded_once_past_both_roots():
    rule = make_rule("monotony_cap", 1.5)
    assert room_today(work([100.0] * 5), rule).load is None
    hard = room_today(work([300, 300, 300, 300, 300, 300, 2000.0]), rule)
    assert hard.load is None


def test_week_strain_is_capped_where_its_load_times_its_spread_is():
    # Three days of six with work: 600 in all, SD 116.5 with 100 more today.
    rule = make_rule("strain_cap", 500)
    before = [200.0, 0.0, 200.0, 0.0, 200.0, 0.0]
    answer = room_today(work([*before, 0.0]), rule)
    week = np.array([*before, answer.load])
    assert week.sum() * week.mean() / week.std(ddof=1) == pytest.approx(500, rel=1e-6)
    assert answer.binding == ("strain_cap",)
    assert room_today(work([*before, 300.0]), rule).load == 0.0
    # Nothing but rest so far: a single day has strain of its own, its load times 0.38.
    alone = room_today(work([0.0] * 7), make_rule("strain_cap", 400)).load
    assert alone == pytest.approx(400 * np.sqrt(7), rel=1e-6)
    assert room_today(work([100.0] * 5), rule).load is None


def test_a_week_of_days_alike_breaks_every_cap_on_strain():
    rule = make_rule("strain_cap", 200000)
    assert rule.broken(work([300.0] * 7))[0, -1]
    assert not rule.broken(work([0.0] * 7))[0, -1]
    said = make_rule("strain_cap", 3000).sentence(3400.4, 3000.0).replace("\N{THIN SPACE}", "")
    assert said == "Week strain (load of the last 7 days times their spread) is 3400; the cap is 3000."


def test_a_limit_not_in_force_on_a_day_does_not_bind_it():
    loads = work(STEADY)
    values = np.full((1, 42), 450.0)
    values[0, 41] = np.nan
    rule = make_rule("day_cap", 450).with_value(values)
    assert room_today(loads, rule).load is None
    assert rule.room(loads)[0, 40] == pytest.approx(150, abs=1e-6)


def test_the_corridor_lies_between_floor_and_ceiling_and_takes_the_plan_as_done():
    rules = [
        make_rule("week_change_cap", 0.1),
        make_rule("week_cap", 2200),
        make_rule("ratio_floor", 0.8, {"school": "coupled"}),
    ]
    band = corridor(work(STEADY), rules)
    assert band.ceiling[0, 20] == pytest.approx(2200)
    assert np.isnan(band.floor[0, 10])
    assert band.floor[0, 30] == pytest.approx(1800 + (0.8 * 8100 - 4 * 1800) / (4 - 0.8))
    np.testing.assert_array_equal(band.ceiling[0, :7] > 0, [False] * 6 + [True])


def test_the_week_floor_is_a_floor():
    rule = make_rule("week_floor", 1500)
    loads = work([300.0] * 7 + [0.0] * 7)
    assert rule.broken(loads)[0].tolist() == [False] * 9 + [True] * 5
    assert room_today(loads, rule).load is None
    assert corridor(loads, [rule]).floor[0, 10] == pytest.approx(1500)


def test_every_rule_says_its_figure_with_its_limit():
    loads = work([300.0, 200.0] * 30)
    for code in CATALOGUE:
        rule = make_rule(code, {"day_cap": 100, "days_in_row": 3}.get(code, 1.0))
        figure = float(rule.figure(loads)[0, -1])
        sentence = rule.sentence(figure, float(rule.value[0]))
        assert sentence.endswith(".")
        assert rule.said(1.0)
        assert any(letter.isdigit() for letter in sentence)


def test_the_week_change_sentence_reads_as_staff_would_say_it():
    sentence = make_rule("week_change_cap", 0.15).sentence(0.34, 0.15)
    assert sentence == "Week load is 34\u00a0% above the week before; the limit is 15\u00a0%."


def test_unknown_rules_and_values_out_of_range_are_refused_with_what_would_be_right():
    with pytest.raises(UnknownRule, match="ratio_ceiling"):
        make_rule("speed_cap", 3)
    with pytest.raises(BadLimit, match="between 1 and 60"):
        make_rule("days_in_row", 0)
    with pytest.raises(BadLimit, match="whole number of days"):
        make_rule("days_in_seven", 4.5)
    with pytest.raises(BadLimit, match="ewma, coupled, uncoupled"):
        make_rule("ratio_ceiling", 1.3, {"school": "own"})


def plan_kept(past, plan, *rules):
    """Room today with the plan of the days after kept."""
    loads = work([*past, 0.0, *plan]).loads
    day = loads.date_of(len(past))
    return room_with_plan(loads, rules, day, loads.date_of(loads.days - 1))[0]


def test_a_coming_match_takes_from_todays_room():
    rule = make_rule("week_cap", 2500)
    assert plan_kept([300.0] * 20, [0.0, 0.0], rule).load == pytest.approx(700)
    # Tomorrow's 900 stands on five days of 300 and today: 2,500 - 1,500 - 900.
    assert plan_kept([300.0] * 20, [900.0, 0.0], rule).load == pytest.approx(100)
    assert plan_kept([300.0] * 20, [1200.0, 0.0], rule).load == 0.0


def test_a_rise_planned_for_next_week_may_ask_for_work_today_and_still_leaves_room():
    # In a week's time 1,500 stands against 1,200 and today: a rise of 15 % at most needs 104.3 today.
    rise, cap = make_rule("week_change_cap", 0.15), make_rule("day_cap", 400)
    past, plan = [200.0] * 20, [200.0] * 6 + [300.0]
    assert plan_kept(past, plan, rise, cap).load == pytest.approx(400)
    assert plan_kept(past, plan, rise, make_rule("day_cap", 100)).load == 0.0
