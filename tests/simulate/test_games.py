"""How matches and sessions are run in the demo: they come to the metres that are known, and look like what they are."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvren.core.demands import SPEED, likeness
from uvren.core.recordings import Samples
from uvren.simulate.games import FAST, GAME, HERTZ, PARTS, run, speeds


def samples(speed):
    return Samples(np.arange(speed.size) / HERTZ, speed, np.full(speed.size, 1 / HERTZ))


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 500), st.integers(0, 10**6))
def test_the_runs_come_to_the_fast_metres_that_are_known(metres, seed):
    random = np.random.default_rng(seed)
    speed = speeds(run(GAME, 3000, random), metres, random)
    fast = speed[speed >= FAST].sum() / HERTZ
    # As near as one sample of a fast run is.
    assert fast <= metres
    assert fast == pytest.approx(metres, abs=40)
    assert speed.size == 3000 * HERTZ
    assert speed.min() >= 0
    assert speed.max() <= 9.3


def test_open_play_is_nearer_to_the_game_than_a_warm_up_and_not_the_game():
    random = np.random.default_rng(3)
    games = [samples(speeds(run(GAME, 3600, random), 300, random)) for _ in range(4)]
    like = {
        name: likeness([samples(speeds(run(pace, 1800, random), 60, random)) for _ in range(4)], games, SPEED).overlap
        for name, pace in PARTS.items()
    }
    again = likeness([samples(speeds(run(GAME, 3600, random), 300, random)) for _ in range(4)], games, SPEED).overlap
    assert like["Warm-up"] < like["Open play"] < again - 0.05
