import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from uvren.core.errors import BadTest
from uvren.core.jumps import countermovement_jump, drop_jump
from uvren.core.trials import (
    Better,
    Change,
    Combine,
    asymmetry,
    change,
    combined,
    error_between_days,
    error_within_day,
    side_matters,
    smallest_worthwhile,
    typical_error,
    unlikely,
)
from uvren.simulate.plate import RATE, TrueJump, countermovement, drop

NAN = float("nan")


def test_the_best_of_the_trials_is_the_highest_or_the_lowest_and_a_missing_one_does_not_count():
    trials = np.array([[30.0, 34.0, NAN], [NAN, NAN, NAN]])
    assert combined(trials, Combine.BEST, Better.HIGHER)[0] == 34
    assert combined(trials, Combine.BEST, Better.LOWER)[0] == 30
    assert combined(trials, Combine.MEAN, Better.HIGHER)[0] == 32
    assert np.isnan(combined(trials, Combine.MEAN, Better.HIGHER)[1])


def test_typical_error_is_the_sd_of_differences_by_root_two():
    trials = np.array([[30.0, 31.0], [40.0, 39.0], [35.0, 37.0], [33.0, 33.5]])
    assert typical_error(trials) == pytest.approx(np.std([1, -1, 2, 0.5], ddof=1) / np.sqrt(2))
    assert np.isnan(typical_error(np.array([[30.0, 31.0]])))


@given(st.floats(0.5, 5), st.integers(0, 2**31))
def test_typical_error_recovers_the_noise_of_the_trials(noise, seed):
    random = np.random.default_rng(seed)
    trials = random.normal(40, 6, (4000, 1)) + random.normal(0, noise, (4000, 3))
    assert typical_error(trials) == pytest.approx(noise, rel=0.05)


def test_the_smallest_worthwhile_change_is_a_fifth_of_the_spread_between_athletes():
    assert smallest_worthwhile(np.array([30.0, 40.0, 50.0, NAN])) == pytest.approx(2)
    assert np.isnan(smallest_worthwhile(np.array([30.0, 40.0])))


@pytest.mark.parametrize(
    ("value", "before", "better", "said"),
    [
        (43.0, 40.0, Better.HIGHER, Change.UNCLEAR), (43.1, 40.0, Better.HIGHER, Change.BETTER),
        (36.9, 40.0, Better.HIGHER, Change.WORSE), (36.9, 40.0, Better.LOWER, Change.BETTER),
        (43.1, NAN, Better.HIGHER, Change.UNKNOWN),
    ],
)  # fmt: skip
def test_a_change_counts_beyond_both_the_typical_error_and_the_smallest_worthwhile_one(value, before, better, said):
    assert change(value, before, 2.0, 1.0, better) is said
    assert change(value, before, 1.0, 3.0, better) is said


def test_with_no_bar_known_nothing_is_said_of_a_change():
    assert change(50, 40, NAN, NAN, Better.HIGHER) is Change.UNKNOWN


def test_a_value_far_from_the_own_ones_is_unlikely_and_a_first_one_is_not():
    own = np.array([38.0, 40.0, 42.0])
    assert [unlikely(value, own, 1.0) for value in (41.0, 50.0, 53.0, 4.1, 400.0)] == [False, False, True, True, True]
    assert not unlikely(400.0, np.array([]), 1.0)


def test_asymmetry_is_of_the_stronger_side_and_keeps_it():
    assert asymmetry(90, 100).percent == pytest.approx(10)
    assert (asymmetry(90, 100).stronger, asymmetry(90, 100, Better.LOWER).stronger) == ("right", "left")
    assert asymmetry(80, 80).stronger is None
    with pytest.raises(BadTest):
        asymmetry(0, 80)


@pytest.mark.parametrize(
    ("percents", "matters"),
    [
        ([3, 4, 3, 12, 13, 11], True),
        ([3, 4, 3, 12, -13, 11], False),
        ([3, 4, 3, 12, 9, 11], False),
        ([12, 13], False),
        ([14, 19, 16, 12, 13, 11], False),
        ([12, 13, 11], True),
    ],
)
def test_a_side_difference_matters_beyond_the_own_norm_and_ten_per_cent_three_times_running(percents, matters):
    assert side_matters(np.array(percents, dtype=float)) is matters


@given(st.floats(50, 120), st.floats(0.15, 0.6), st.floats(0.4, 0.6), st.integers(0, 1000))
@example(50.0, 0.150390625, 0.5, 611)  # one sample of the quiet standing lies beyond the threshold
def test_the_plates_true_jump_is_recovered(mass, height, share, seed):
    true = TrueJump(mass, height, share)
    found = countermovement_jump(*countermovement(true, np.random.default_rng(seed)), RATE)
    assert found.mass == pytest.approx(mass, rel=0.002)
    assert found.height_impulse == pytest.approx(height, rel=0.03, abs=0.004)
    assert found.height_flight == pytest.approx(height, rel=0.01)
    assert found.left_share == pytest.approx(share, abs=0.002)
    assert found.take_off_seconds == pytest.approx(0.72, abs=0.05)
    assert found.reactive_index == pytest.approx(found.height_impulse / found.take_off_seconds)


@given(st.floats(50, 110), st.floats(0.12, 0.45), st.floats(0.15, 0.35), st.integers(0, 1000))
def test_contact_and_flight_of_a_drop_jump_are_recovered(mass, height, contact, seed):
    true = TrueJump(mass, height, 0.48)
    found = drop_jump(*drop(true, contact, np.random.default_rng(seed)), RATE)
    assert found.contact_seconds == pytest.approx(contact, abs=0.006)
    assert found.height_flight == pytest.approx(height, rel=0.02)
    assert found.left_share == pytest.approx(0.48, abs=0.003)


@pytest.mark.parametrize(
    "force",
    [np.full(3000, 400.0), np.zeros(3000), np.concatenate([np.full(2000, 400.0), np.zeros(1000)]),
     np.array([np.nan] * 3000), np.zeros(10)],
)  # fmt: skip
def test_a_trace_without_a_jump_is_refused_with_a_sentence(force):
    with pytest.raises(BadTest):
        countermovement_jump(force, force, RATE)


def test_someone_who_does_not_stand_still_is_asked_to():
    left, right = countermovement(TrueJump(80, 0.4), np.random.default_rng(1))
    left[:800] += np.linspace(-150, 150, 800)
    with pytest.raises(BadTest, match="Stand still"):
        countermovement_jump(left, right, RATE)


def test_with_no_true_change_at_most_one_result_in_ten_speaks():
    random = np.random.default_rng(7)
    results = 40 + random.normal(0, 1.0, (2000, 5))
    said = [
        change(float(own[-1]), float(np.median(own[:-1])), 1.0, 0.5, Better.HIGHER) is Change.WORSE for own in results
    ]
    assert np.mean(said) <= 0.10


def test_the_error_between_days_is_of_the_figure_that_stands():
    random = np.random.default_rng(8)
    days = 40 + random.normal(0, 1.0, (30, 4, 3))
    best = days.max(axis=2)
    error = error_between_days(best.tolist())
    assert error == pytest.approx(best.std(axis=1, ddof=1).mean(), rel=0.15)
    # Within a day nothing is known of other days; the best of three is surer than one trial.
    within = error_within_day(days[:, 0, :], Combine.BEST)
    assert within == pytest.approx(0.748, rel=0.25)
    assert np.isnan(error_between_days([[40.0, 41.0], [42.0]]))


def test_sides_of_times_are_divided_like_those_of_strengths_by_the_stronger():
    assert asymmetry(1.0, 1.1, Better.LOWER).percent == pytest.approx(10)
    assert asymmetry(1.0, 1.1, Better.LOWER).stronger == "left"


def with_shift(left, right, at=300):
    """Somebody shifts their weight up and down before they jump, and stands still again."""
    wave = 60 * np.sin(np.linspace(0, 2 * np.pi, 150))
    left = left.copy()
    left[at : at + 150] += wave
    quiet_left, quiet_right = left[:100], right[:100]
    return np.concatenate([quiet_left] * 12 + [left]), np.concatenate([quiet_right] * 12 + [right])


def test_the_last_movement_before_the_flight_is_the_jump():
    true = TrueJump(75, 0.35)
    left, right = countermovement(true, np.random.default_rng(1))
    plain = countermovement_jump(left, right, 1000)
    shifted = countermovement_jump(*with_shift(left, right), 1000)
    assert shifted.take_off_seconds == pytest.approx(plain.take_off_seconds, abs=0.03)
    assert shifted.height_impulse == pytest.approx(plain.height_impulse, abs=0.01)


def test_a_jump_that_was_not_weighed_or_not_measured_is_refused_with_the_reason():
    true = TrueJump(75, 0.35)
    left, right = countermovement(true, np.random.default_rng(1))
    with pytest.raises(BadTest, match="Stand still for a second"):
        countermovement_jump(left[700:], right[700:], 1000)
    restless = left.copy()
    restless[:1200] += 25 * np.sin(np.arange(1200) / 20)
    with pytest.raises(BadTest, match="Stand still for a second"):
        countermovement_jump(restless, right, 1000)
    longer = [np.insert(one, 2100, np.zeros(90)) for one in (left, right)]
    with pytest.raises(BadTest, match="more than 10 % apart"):
        countermovement_jump(*longer, 1000)
