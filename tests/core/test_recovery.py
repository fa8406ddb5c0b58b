"""Recovery windows: heavy days, how long a window is open, and the hours between."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.recovery import (
    HEAVY,
    WINDOWS,
    System,
    Work,
    clashes,
    cold_water,
    heaviness,
    hours_between,
    last_heavy,
    open_hours,
)
from uvren.core.units.catalogue import FORMS

MONTH = [200.0, 0.0, 300.0, 250.0, 0.0, 200.0, 0.0] * 4


def work(days, systems=(System.MUSCLE,), begins=18.0, ends=19.0, name="Court"):
    load = np.array([days])
    return Work(name, systems, load, np.full(len(days), begins), np.full(len(days), ends))


def test_a_day_is_measured_against_the_own_active_days_of_28_before_it():
    active = np.array([value for value in MONTH if value > 0])
    z = heaviness(np.array([[*MONTH, 400.0]]))[0, -1]
    assert z == pytest.approx((400 - active.mean()) / active.std(ddof=1))


def test_rest_unknown_days_and_too_few_active_days_have_no_heaviness():
    few = np.array([[100.0, 0.0, 200.0, 0.0, 900.0]])
    assert np.isnan(heaviness(few)).all()
    z = heaviness(np.array([[*MONTH, 0.0, np.nan]]))[0]
    assert np.isnan(z[-2:]).all()


def test_where_every_day_was_alike_no_day_is_heavy():
    assert np.isnan(heaviness(np.full((1, 40), 300.0))).all()


@given(st.lists(st.floats(1, 1000), min_size=30, max_size=40), st.floats(0.1, 10))
def test_heaviness_knows_no_unit(days, factor):
    load = np.array([days])
    np.testing.assert_allclose(heaviness(load * factor), heaviness(load), rtol=1e-6, atol=1e-6)


@given(st.sampled_from(sorted(WINDOWS)), st.floats(0, 6), st.floats(0, 6))
def test_a_window_is_longer_the_harder_the_day_and_stays_between_its_ends(system, one, other):
    window = WINDOWS[system]
    low, high = sorted((one, other))
    assert window.early <= open_hours(window, low) <= open_hours(window, high) <= window.late
    assert open_hours(window, low, beginner=True) == window.late


def test_a_day_heavy_by_two_kinds_of_work_counts_once_by_the_heavier():
    court = work([*MONTH, 400.0])
    lifting = work([*MONTH, 900.0], name="Lifting")
    both = [court, lifting]
    found = last_heavy(both, [heaviness(one.load) for one in both], System.MUSCLE, 0, len(MONTH))
    assert [(one.column, one.work.name) for one in found if one.column == len(MONTH)] == [(len(MONTH), "Lifting")]
    assert last_heavy(both, [heaviness(one.load) for one in both], System.NERVE, 0, len(MONTH)) == []


def test_hours_run_from_the_end_of_the_one_to_the_beginning_of_the_other():
    of = work([*MONTH, 900.0, 900.0])
    one, other = last_heavy([of], [heaviness(of.load)], System.MUSCLE, 0, len(MONTH) + 1)[-2:]
    assert hours_between(one, other) == 23
    unknown = work([*MONTH, 900.0, 900.0], begins=np.nan)
    one, other = last_heavy([unknown], [heaviness(unknown.load)], System.MUSCLE, 0, len(MONTH) + 1)[-2:]
    assert hours_between(one, other) == 24


def test_every_form_of_work_says_which_systems_it_loads():
    for form in FORMS.values():
        assert form.systems
        assert set(form.systems) <= set(WINDOWS)


def test_a_day_is_heavy_only_when_it_is_a_fifth_above_usual_as_well():
    alike = np.array([[300.0, 301, 299, 300, 302, 298] * 4 + [310.0]])
    assert heaviness(alike)[0, -1] < HEAVY
    assert heaviness(np.append(alike[:, :-1], [[370.0]], axis=1))[0, -1] >= HEAVY


def test_two_heavy_days_clash_inside_the_early_end_and_a_beginners_inside_the_late_one():
    late = work([*MONTH, 420.0, 420.0, 0.0, 0.0], begins=18.0, ends=19.5)
    (clash,) = clashes([late], first=28)
    assert (clash.row, clash.one.column, clash.other.column, clash.system) == (0, 28, 29, System.MUSCLE)
    assert (clash.hours, clash.wanted) == (22.5, 24)
    # From the next day on there is nothing to be seen of it, and an hour later in the day there is no clash.
    assert clashes([late], first=30) == []
    apart = work([*MONTH, 420.0, 420.0, 0.0, 0.0], begins=18.0, ends=18.0)
    assert clashes([apart], first=28) == []
    assert clashes([apart], 28, np.array([True]))[0].wanted == 72


def test_of_systems_the_one_with_most_to_wait_for_is_told():
    both = work([*MONTH, 420.0, 430.0], (System.ENERGY, System.NERVE))
    (clash,) = clashes([both], first=29)
    assert (clash.system, clash.wanted) == (System.NERVE, 48)


@given(st.lists(st.sampled_from([0.0, 200.0, 300.0, 500.0]), min_size=5, max_size=9))
def test_a_clash_is_of_heavy_days_and_nearer_than_is_wanted(days):
    of = work([*MONTH, *days], (System.MUSCLE, System.NERVE))
    z = heaviness(of.load)[0]
    for clash in clashes([of], first=28):
        assert clash.one.column < clash.other.column >= 28
        assert min(z[clash.one.column], z[clash.other.column]) >= 1.5
        assert clash.hours < clash.wanted


def test_cold_water_is_for_close_matches_and_no_routine_while_building():
    assert "may be used" in cold_water(building=True, days_between=3)
    assert "builds" in cold_water(building=True, days_between=7)
    assert "not needed" in cold_water(building=False, days_between=None)
