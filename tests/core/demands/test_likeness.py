"""Whether training is like the game: reference cases, properties, and drills whose answer is known."""

import json
from dataclasses import asdict
from importlib import import_module
from pathlib import Path
from unittest import mock

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import wasserstein_distance

from uvren.core.demands import SPEED, Measure, likeness, shape, to_change
from uvren.core.errors import BadRecording
from uvren.core.recordings import Samples, clean_speed

# The package has a function of the same name.
by_steps = import_module("uvren.core.demands.likeness")
REFERENCE = Path(__file__).parents[2] / "reference"
CASES = json.loads((REFERENCE / "likeness.json").read_text())


def read(name):
    columns = np.genfromtxt(REFERENCE / name, delimiter=",", names=True)
    return clean_speed(columns["t"], columns["speed"])


def holds(found, wanted):
    for key, value in wanted.items():
        if isinstance(value, dict):
            holds(found[key], value)
        else:
            assert found[key] == (pytest.approx(value, rel=1e-6, abs=1e-9) if value is not None else None), key


@pytest.mark.parametrize("case", CASES, ids=lambda case: f"from {case['work']} m/s")
def test_the_reference_cases(case):
    measure = Measure(tuple(case["edges"]), case["work"], case["gap"], case["least"])
    found = likeness([read("training.csv")], [read("match.csv")], measure)
    holds(asdict(found), case["answer"])


def samples(values, step=1.0):
    values = np.array(values, dtype=np.float64)
    return Samples(np.arange(values.size) * step, values, np.full(values.size, step))


speeds = st.lists(st.floats(0, 9), min_size=2, max_size=60)


@given(speeds, speeds)
def test_overlap_and_distance_are_those_of_distributions(one, other):
    found = likeness([samples(one)], [samples(other)], SPEED)
    assert 0 <= found.overlap <= 1 + 1e-9
    assert found.distance == pytest.approx(wasserstein_distance(one, other), abs=1e-9)
    back = likeness([samples(other)], [samples(one)], SPEED)
    assert (back.overlap, back.distance) == (pytest.approx(found.overlap), pytest.approx(found.distance))
    same = likeness([samples(one)], [samples(one)], SPEED)
    assert (same.overlap, same.distance) == (pytest.approx(1.0), pytest.approx(0.0))


@given(speeds, speeds)
def test_of_very_many_values_the_distance_is_right_to_a_step(one, other):
    with mock.patch.object(by_steps, "MOST_SORTED", 0):
        found = likeness([samples(one)], [samples(other)], SPEED).distance
    step = (max(*one, *other) - min(*one, *other)) / by_steps.STEPS
    assert abs(found - wasserstein_distance(one, other)) <= step + 1e-9


@given(speeds, st.integers(1, 40))
def test_a_recording_in_two_pieces_has_the_shares_of_the_whole(values, at):
    whole = shape([samples(values)], SPEED)
    parts = shape([samples(values[:at]), samples(values[at:])], SPEED)
    assert parts.share == pytest.approx(whole.share)
    # A bout that is cut in two is two, and no bout goes across.
    assert parts.work.n <= whole.work.n + 1


def test_short_rests_belong_to_the_work_around_them_and_short_work_is_rest():
    measure = Measure((0, 2), work=2.0, gap=2.0, least=3.0)
    #        work 2, rest 1 (belongs), work 2: one of 5; rest 4; work 2: too short; rest 2; work 3
    values = [3, 3, 0, 3, 3, 0, 0, 0, 0, 3, 3, 0, 0, 3, 3, 3, 0]
    found = shape([samples(values)], measure)
    assert (found.work.n, found.work.median) == (2, 4.0)
    assert (found.rest.n, found.rest.median) == (1, 8.0)


def test_without_time_nothing_is_said():
    found = likeness([], [samples([1, 2, 3])], SPEED)
    assert (found.overlap, found.distance, found.training.share) == (None, None, None)
    assert found.training.work.per_minute is None


@pytest.mark.parametrize("wrong", [{"edges": ()}, {"edges": (1.0, 1.0)}, {"gap": -1.0}, {"least": -1.0}])
def test_what_cannot_be_looked_at_is_refused(wrong):
    with pytest.raises(BadRecording):
        Measure(**({"edges": (0.0, 2.0), "work": 2.0, "gap": 1.0, "least": 1.0} | wrong))


def done(on, off, minutes, random, slower=-0.25):
    """Somebody who does a drill so many seconds on and off; short runs are faster, as in the game."""
    parts, fast = [], 5.2 * (on / 10) ** slower
    while sum(part.size for part in parts) < minutes * 60:
        run, rest = (max(round(float(random.lognormal(np.log(length), 0.25))), 2) for length in (on, off))
        parts += [random.normal(fast, 0.5, run), np.abs(random.normal(0.7, 0.4, rest))]
    return samples(np.clip(np.concatenate(parts)[: int(minutes * 60)], 0, 9))


def test_a_drill_is_brought_nearer_to_the_game_by_the_pattern_that_does_it():
    """What is estimated is what comes out when the drill is then done so: to a tenth, over fifty squads."""
    off_by, gained = [], []
    for seed in range(50):
        random = np.random.default_rng(seed)
        match = [done(8, 20, 40, random) for _ in range(4)]
        drill = [done(24, 30, 18, random) for _ in range(6)]
        change = to_change(drill, match, SPEED, 18)
        assert (change.was_on, change.was_off) == (pytest.approx(24, abs=4), pytest.approx(30, abs=5))
        assert change.runs == pytest.approx(18 * 60 / (change.on + change.off), abs=1)
        after = [done(change.on, change.off, 18, random) for _ in range(6)]
        came = likeness(after, match, SPEED).overlap
        off_by.append(abs(came - change.after))
        gained.append(came - change.now)
        assert change.now == pytest.approx(likeness(drill, match, SPEED).overlap, abs=1e-6)
    assert np.median(off_by) < 0.05
    assert max(off_by) < 0.1
    assert min(gained) > 0.1


def test_a_drill_that_is_like_the_game_stays_as_it_is():
    random = np.random.default_rng(5)
    match = [done(8, 20, 40, random) for _ in range(4)]
    assert to_change([done(8, 20, 18, random)], match, SPEED, 18) is None
    assert to_change([], match, SPEED, 18) is None
    assert to_change([samples([0.0] * 60)], match, SPEED, 18) is None
