"""Cleaning and holding samples, and what they come to, on series small enough to work out by hand."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvren.core.errors import BadRecording
from uvren.core.recordings import (
    Bands,
    HeartAnchors,
    Samples,
    Sex,
    Side,
    clean_heart_rate,
    clean_speed,
    heart_rate_metrics,
    hold,
    impact_metrics,
    impacts_in_order,
    in_order,
    peak_means,
    position_metrics,
    rows_of,
    speed_from_degrees,
    speed_from_metres,
)
from uvren.core.recordings.position import EARTH_RADIUS, hard_changes


def seconds(count, step=1.0):
    return np.arange(count) * step


def test_rows_out_of_order_are_sorted_and_the_first_row_of_a_time_counts():
    t, value, index = in_order(np.array([3.0, 1.0, 3.0, 2.0]), np.array([30.0, 10.0, 99.0, 20.0]))
    assert t.tolist() == [1, 2, 3]
    assert value.tolist() == [10, 20, 30]
    assert index.tolist() == [1, 3, 0]


def test_an_empty_first_row_of_a_time_does_not_hide_the_second():
    _, value, _ = in_order(np.array([1.0, 1.0]), np.array([np.nan, 7.0]))
    assert value.tolist() == [7]


def test_times_and_values_of_different_length_are_refused():
    with pytest.raises(BadRecording, match="one length"):
        in_order(np.zeros(2), np.zeros(3))


def test_a_sample_is_held_to_the_next_but_not_across_a_long_gap():
    held = hold(np.array([0.0, 1, 2, 3, 60, 61]), 10)
    assert held.tolist() == [1, 1, 1, 1, 1, 0]


@given(st.lists(st.floats(0, 5000), min_size=2, max_size=60, unique=True), st.floats(1, 30))
def test_coverage_never_exceeds_what_was_recorded(times, longest):
    t = np.sort(np.array(times))
    samples = Samples(t, np.ones(t.size), hold(t, longest))
    assert 0 <= samples.coverage <= 1 + 1e-9 or np.median(np.diff(t)) > longest


def test_heart_rate_drops_what_is_out_of_range_and_lone_spikes_but_not_a_step():
    hr = np.array([100.0, 0, 101, 160, 102, 103, 150, 151, 300, 152])
    samples = clean_heart_rate(seconds(10), hr)
    assert samples.dropped == 3
    assert samples.value.tolist() == [100, 101, 102, 103, 150, 151, 152]


def test_infinite_heart_rates_are_artefacts():
    samples = clean_heart_rate(seconds(4), np.array([100.0, np.inf, -np.inf, 101]))
    assert samples.dropped == 2
    assert samples.value.tolist() == [100, 101]


def test_an_hour_at_half_reserve_has_banisters_impulse_by_hand():
    samples = clean_heart_rate(seconds(3601), np.full(3601, 125.0))
    men = heart_rate_metrics(samples, HeartAnchors(200, 50, Sex.MALE))
    assert men.banister == pytest.approx(60 * 0.5 * 0.64 * np.exp(1.92 * 0.5))
    women = heart_rate_metrics(samples, HeartAnchors(200, 50, Sex.FEMALE))
    assert women.banister == pytest.approx(60 * 0.5 * 0.86 * np.exp(1.67 * 0.5))


def test_a_value_on_an_edge_belongs_to_the_zone_above():
    hr = np.repeat([94.9, 95.0, 133.0, 171.0], 60)
    found = heart_rate_metrics(clean_heart_rate(seconds(240), hr), HeartAnchors(190))
    assert np.round(found.edwards_minutes, 2).tolist() == [1, 0, 1, 0, pytest.approx(59 / 60, abs=0.01)]


def test_without_an_anchor_its_figures_are_not_known():
    found = heart_rate_metrics(clean_heart_rate(seconds(60), np.full(60, 120.0)), HeartAnchors())
    assert found.mean_hr == pytest.approx(120)
    assert found.banister is found.edwards is found.three_zone is found.near_threshold_minutes is None


def test_anchors_in_the_wrong_order_are_refused():
    with pytest.raises(BadRecording, match="above the resting"):
        HeartAnchors(hr_max=60, hr_rest=70)
    with pytest.raises(BadRecording, match="above the first"):
        HeartAnchors(threshold_1=170, threshold_2=150)


def test_an_empty_recording_comes_to_nothing_rather_than_an_error():
    nothing = np.zeros(0)
    assert heart_rate_metrics(clean_heart_rate(nothing, nothing), HeartAnchors(190, 50, Sex.MALE)).mean_hr is None
    found = position_metrics(clean_speed(nothing, nothing), 5, 7)
    assert (found.distance, found.sprints, found.top_speed) == (0, 0, None)


def test_distance_and_sprints_of_a_run_worked_out_by_hand():
    speed = np.concatenate([np.full(100, 2.0), np.full(10, 7.0), np.full(100, 2.0), np.full(9, 7.0), [2.0]])
    found = position_metrics(clean_speed(seconds(speed.size, 0.1), speed), fast=5, sprint=7)
    assert found.distance == pytest.approx(200 * 0.2 + 19 * 0.7)
    assert found.distance_fast == pytest.approx(19 * 0.7)
    assert found.sprints == 1


def test_hard_changes_need_size_and_time():
    up = np.concatenate([np.zeros(5), np.linspace(0, 3, 11), np.full(5, 3.0), np.linspace(3, 2, 5), np.full(5, 2.0)])
    assert hard_changes(clean_speed(seconds(up.size, 0.1), up)) == (1, 1)
    gentle = np.concatenate([np.zeros(5), np.linspace(0, 3, 16), np.full(5, 3.0)])
    assert hard_changes(clean_speed(seconds(gentle.size, 0.1), gentle)) == (0, 0)
    short = np.concatenate([np.zeros(5), [0.3, 0.6, 0.9], np.full(5, 0.9)])
    assert hard_changes(clean_speed(seconds(short.size, 0.1), short)) == (0, 0)


def test_a_position_jump_of_three_kilometres_is_dropped_and_adds_no_distance():
    t = seconds(601)
    x = 2.0 * t
    x[300] += 3000
    samples = speed_from_metres(t, x, np.zeros(601))
    assert samples.dropped == 1
    assert position_metrics(samples, 5, 7).distance == pytest.approx(1200, abs=3)


def test_a_lasting_jump_costs_one_step():
    t = seconds(601)
    samples = speed_from_metres(t, 2.0 * t + np.where(t >= 300, 3000, 0), np.zeros(601))
    assert samples.dropped == 1
    assert samples.value.max() == pytest.approx(2)


def test_degrees_and_metres_give_the_same_speed():
    t = seconds(120)
    latitude = 59 + np.degrees(3.0 * t / EARTH_RADIUS)
    samples = speed_from_degrees(t, latitude, np.full(120, 10.0))
    assert np.allclose(samples.value, 3.0, rtol=1e-3)


def test_degrees_outside_the_globe_are_counted_as_artefacts():
    samples = speed_from_degrees(seconds(4), np.array([59.0, 59, 400, 59]), np.full(4, 10.0))
    assert samples.dropped == 1


def test_impacts_by_side_and_band_by_hand():
    g = np.array([1.9, 2.0, 3.9, 4.0, 201, 12])
    found = impact_metrics(g, np.array([False, False, True, True, True, False]), Bands((2, 4), (1, 3)))
    assert (found.left.count, found.left.load) == (2, 4)
    assert (found.right.count, found.right.load) == (2, 4)
    assert (found.asymmetry_percent, found.stronger) == (0, None)


def test_impacts_on_one_side_only_are_wholly_uneven():
    found = impact_metrics(np.array([5.0]), np.array([True]))
    assert (found.asymmetry_percent, found.stronger) == (100, Side.RIGHT)
    assert impact_metrics(np.zeros(0), np.zeros(0, dtype=bool)).asymmetry_percent is None


@pytest.mark.parametrize(
    ("edges", "weights"), [((), ()), ((2, 4), (1,)), ((4, 2), (1, 2)), ((0, 2), (1, 1)), ((2,), (-1,))]
)
def test_bands_that_make_no_sense_are_refused(edges, weights):
    with pytest.raises(BadRecording):
        Bands(edges, weights)


def test_the_peak_minute_is_found_where_it_is():
    amount = np.zeros(600)
    amount[120:180] = 1.0
    found = peak_means(seconds(600), amount, (1, 5, 20))
    assert found == {1: pytest.approx(1.0), 5: pytest.approx(0.2), 20: None}


@settings(max_examples=40)
@given(st.integers(60, 400), st.integers(0, 2**31))
def test_peak_windows_agree_with_looking_at_every_window(length, seed):
    amount = np.random.default_rng(seed).random(length)
    wanted = max(amount[i : i + 60].mean() for i in range(length - 59))
    assert peak_means(seconds(length), amount, (1,))[1] == pytest.approx(wanted)


def test_a_segment_takes_no_time_beyond_its_end():
    samples = clean_speed(np.array([0.0, 1, 2, 3, 4]), np.full(5, 3.0))
    part = samples.between(1, 2.5)
    assert part.t.tolist() == [1, 2]
    assert part.seconds == pytest.approx(1.5)


def test_stretches_of_equal_codes():
    assert rows_of(np.array([4, 4, 7, 9, 9])) == [(4, 0, 2), (7, 2, 3), (9, 3, 5)]


def test_a_landing_on_both_feet_is_two_impacts_and_a_row_told_twice_is_one():
    t = np.array([1.0, 1.0, 1.0, 2.0])
    g = np.array([5.0, 6.0, 9.0, 4.0])
    right = np.array([False, True, True, False])
    at, peak, side = impacts_in_order(t, g, right)
    assert (at.tolist(), peak.tolist(), side.tolist()) == ([1, 1, 2], [5, 6, 4], [False, True, False])
    assert impact_metrics(peak, side).count == 3


def test_two_bursts_with_a_gap_between_their_samples_are_two_sprints():
    burst = np.arange(0, 2, 0.1)
    t = np.concatenate([burst, burst + 10])
    assert position_metrics(clean_speed(t, np.full(t.size, 8.0)), 5, 7).sprints == 2
    assert position_metrics(clean_speed(np.arange(0, 4, 0.1), np.full(40, 8.0)), 5, 7).sprints == 1


@pytest.mark.parametrize("rate", [1, 10])
def test_a_pod_that_lies_still_makes_no_distance_and_a_walk_keeps_its_own(rate):
    random = np.random.default_rng(3)
    t = np.arange(0, 1200, 1 / rate)
    noise = random.normal(0, 0.1, (2, t.size))
    still = position_metrics(speed_from_metres(t, 50 + noise[0], 20 + noise[1]), None, None)
    assert still.distance < 5
    walk = position_metrics(speed_from_metres(t, 1.5 * t, np.zeros(t.size)), None, None)
    assert walk.distance == pytest.approx(1.5 * t[-1], rel=0.01)
