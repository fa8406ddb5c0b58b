import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.strategies import CEILINGS, ceilings, histories
from uvren.core.limits import CATALOGUE, make_rule, room_on, room_with_plan
from uvren.core.loads import DailyLoads
from uvren.core.workload import Workload

EXAMPLES = settings(max_examples=60, deadline=None)


def test_every_rule_that_sets_room_is_among_those_tried_here():
    assert {code for code, _, _ in CEILINGS} == {code for code, rule in CATALOGUE.items() if not rule.floor}


def holds(loads, rules, day, row, added):
    """Whether every rule holds on the day for the row with the load added, its silence judged on the load there."""
    column = loads.column(day)
    before = Workload(loads)
    changed = Workload(loads.with_day(day, loads.values[:, column] + added))
    return all(not (rule.speaks(before) & (rule.excess(changed) > 0))[row, column] for rule in rules)


@EXAMPLES
@given(histories(), st.lists(ceilings(), min_size=1, max_size=4))
def test_at_room_all_limits_hold_and_just_above_it_one_fails(loads, rules):
    loads = loads.through(loads.date_of(loads.days - 1))
    day = loads.date_of(loads.days - 1)
    for row, answer in enumerate(room_on(Workload(loads), rules, day)):
        if answer.load is None:
            assert holds(loads, rules, day, row, 1e7)
        elif holds(loads, rules, day, row, 0.0):
            assert holds(loads, rules, day, row, answer.load * (1 - 1e-9))
            assert not holds(loads, rules, day, row, answer.load + 1e-3)
        else:
            assert answer.load == 0.0
            assert answer.binding


@EXAMPLES
@given(histories(), st.sampled_from(["ewma", "coupled", "uncoupled"]), st.floats(0.2, 40.0))
def test_scaling_all_loads_scales_the_room_of_a_ratio_limit(loads, school, factor):
    rule = make_rule("ratio_ceiling", 1.3, {"school": school})
    day = loads.date_of(loads.days - 1)
    scaled = DailyLoads(loads.first_day, loads.load * factor, loads.start)
    for one, other in zip(room_on(Workload(loads), [rule], day), room_on(Workload(scaled), [rule], day), strict=True):
        if one.load is None:
            assert other.load is None
        else:
            assert np.isclose(other.load, one.load * factor, rtol=1e-6, atol=1e-6)


@EXAMPLES
@given(histories(missing=True), st.integers(1, 8))
def test_no_figure_of_a_day_depends_on_a_later_day(loads, later):
    assume(later < loads.days)
    whole = Workload(loads).columns()
    cut = Workload(loads.through(loads.date_of(loads.days - 1 - later))).columns()
    for name, values in cut.items():
        if name == "withheld":
            assert (whole[name][:, :-later] == values).all()
        else:
            # Sums of other lengths may round their last digit otherwise; a later load would show far more.
            np.testing.assert_allclose(whole[name][:, :-later], values, rtol=1e-12, atol=1e-12, err_msg=name)


@EXAMPLES
@given(histories(missing=True), ceilings())
def test_many_athletes_at_once_give_what_each_gives_alone(loads, rule):
    figures, room = Workload(loads).columns(), rule.room(Workload(loads))
    for row in range(loads.load.shape[0]):
        alone = Workload(DailyLoads(loads.first_day, loads.load[row : row + 1], loads.start[row : row + 1]))
        for name, values in alone.columns().items():
            if name == "withheld":
                assert (values[0] == figures[name][row]).all()
            else:
                np.testing.assert_allclose(values[0], figures[name][row], rtol=1e-12, err_msg=name)
        np.testing.assert_allclose(rule.room(alone)[0], room[row], rtol=1e-9, atol=1e-9)


@EXAMPLES
@given(histories(rows=2), st.lists(ceilings(), min_size=1, max_size=3), st.integers(1, 7))
def test_room_with_the_plan_kept_holds_on_every_day_ahead_and_no_more_would(loads, rules, ahead):
    assume(loads.days > 30)
    day, until = loads.date_of(loads.days - 1 - ahead), loads.date_of(loads.days - 1)
    column = loads.column(day)
    speaking = [rule.speaks(Workload(loads)) for rule in rules]

    def kept(row, added):
        changed = Workload(loads.with_day(day, loads.values[:, column] + added))
        return all(
            not (speaks & (rule.excess(changed) > 1e-5))[row, column:].any()
            for rule, speaks in zip(rules, speaking, strict=True)
        )

    for row, answer in enumerate(room_with_plan(loads, rules, day, until)):
        if answer.load is None:
            assert kept(row, 1e6)
        elif answer.load > 0:
            assert kept(row, answer.load * (1 - 1e-6))
            assert not kept(row, answer.load * (1 + 1e-6) + 0.5)


@EXAMPLES
@given(histories(missing=True), ceilings())
def test_room_is_never_said_from_days_that_are_not_known(loads, rule):
    work = Workload(loads)
    if rule.code in ("ratio_ceiling", "week_cap", "week_change_cap", "monotony_cap"):
        assert np.isinf(rule.room(work)[loads.missing_in(7) > 0]).all()
