"""Aims, lanes and faults: what is to be seen of somebody while the session runs."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.live import Fault, Height, Pulse, Relation, aim, efforts, judge, pulse, relation, used
from uvren.core.recordings import clean_heart_rate

FINE = Pulse(85.0, 160.0, 100.0, 0.0, 0.0, None)


@given(st.lists(st.tuples(st.floats(1, 60), st.floats(1, 4)), min_size=1, max_size=6), st.floats(1, 5))
def test_the_parts_of_a_session_come_to_its_effort(parts, effort):
    minutes, weights = zip(*parts, strict=True)
    found = efforts(effort, minutes, weights)
    if max(found) < 10:
        assert np.average(found, weights=minutes) == pytest.approx(effort)
    assert all(a >= b for (a, w), (b, v) in zip(zip(found, weights), zip(found[1:], weights[1:])) if w > v)  # noqa: B905


def test_an_aim_is_higher_on_a_hard_day_and_held_down_before_a_match_or_for_who_goes_no_harder():
    hard, easy = aim(9), aim(3)
    assert (hard.low, hard.high, hard.held) == (84.5, 96.5, False)
    assert easy.high < hard.low
    before = aim(9, before_match=True)
    assert (before.high, before.held) == (74.0, True)
    assert before.low < before.high
    capped = aim(9, cap=5)
    assert capped.high == aim(5).high
    assert capped.held
    assert not aim(5, cap=9).held


def series(values, step=1.0):
    return clean_heart_rate(np.arange(len(values)) * step, np.array(values, dtype=float))


def read(values, low=60.0, high=80.0, maximum=200.0, now=None, late=0.0):
    samples = series(values)
    aims = (np.full(samples.t.size, low), np.full(samples.t.size, high))
    return pulse(samples, samples.t + late, aims, maximum, samples.t[-1] if now is None else now)


def wobbling(level, n):
    return [level + i % 3 for i in range(n)]


def test_how_long_the_aim_has_been_missed_is_counted_from_when_it_was_left_last():
    found = read(wobbling(140, 100) + wobbling(172, 200))
    assert found.share == pytest.approx(86.5, abs=0.5)
    # The mean of fifteen seconds takes a while to go over.
    assert found.above == pytest.approx(192, abs=5)
    assert (found.below, found.fault) == (0.0, None)
    assert read(wobbling(172, 100) + wobbling(100, 200)).below == pytest.approx(193, abs=6)
    assert read(wobbling(140, 100)).above == 0.0


def test_a_value_is_held_for_a_while_then_missing_and_a_late_one_is_called_late():
    values = wobbling(150, 60)
    assert read(values).fault is None
    assert read(values, now=59 + 8).fault is Fault.HELD
    gone = read(values, now=59 + 16)
    assert (gone.fault, gone.share, gone.bpm, gone.at) == (Fault.MISSING, None, values[-1], 59.0)
    assert read(values, late=18).fault is Fault.LATE
    assert pulse(series([]), np.zeros(0), (np.zeros(0), np.zeros(0)), 200, 10).fault is Fault.MISSING


@pytest.mark.parametrize(
    "values",
    [[150.0] * 60, [*wobbling(150, 60), 150.0, 188.0, 190.0], wobbling(209, 60)],
    ids=["the same for long", "a jump", "over the own maximum"],
)
def test_a_sensor_in_doubt_says_nothing_of_the_athlete(values):
    found = read(values)
    assert (found.fault, found.share, found.above) == (Fault.DOUBTFUL, None, 0.0)


def test_four_hundred_beats_are_no_heart_rate():
    found = read([*wobbling(150, 60), 400.0])
    assert found.bpm < 160


def test_load_so_far_goes_by_the_own_relation_with_its_error():
    found = relation(np.array([300.0, 330, 270, 300, 310, np.nan]), np.array([100.0, 110, 90, 100, 100, 100]))
    assert (found.ratio, found.n) == (3.0, 5)
    assert relation(np.array([300.0] * 4), np.array([100.0] * 4)) is None
    t = np.arange(600.0)
    so_far = used(np.full(600, 0.05), t, Relation(3.0, 0.1, 8), 150.0, 600.0)
    assert (so_far.load, so_far.error, so_far.left) == (pytest.approx(90), pytest.approx(9), pytest.approx(60))
    # Nine a minute: sixty are used up in under seven minutes.
    assert so_far.minutes == pytest.approx(60 / 9, rel=0.01)
    assert used(np.full(600, 0.05), t, Relation(3.0, 0.1, 8), 80.0, 600.0).minutes == 0.0
    assert used(np.zeros(600), t, Relation(3.0, 0.1, 8), 80.0, 600.0).minutes == float("inf")
    assert used(np.zeros(600), t, Relation(3.0, 0.1, 8), None, 600.0).left is None


@pytest.mark.parametrize(
    ("above", "below", "held", "height", "sentence"),
    [
        (30, 0, False, Height.REST, ""),
        (90, 0, False, Height.LOOK, "above the aim for 1 min"),
        (360, 0, False, Height.ACT, "above the aim for 6 min"),
        (100, 0, True, Height.ACT, "above the aim for 1 min"),
        (40, 0, True, Height.LOOK, "above the aim for 40 s"),
        (0, 240, False, Height.LOOK, "under the aim for 4 min"),
        # The day before a match nobody is asked to go harder.
        (0, 240, True, Height.REST, ""),
    ],
)
def test_lanes_grow_as_the_aim_is_missed(above, below, held, height, sentence):
    lane = judge(Pulse(85.0, 160.0, 0.0, above, below, None), None, aim(7, before_match=held), 30)
    assert (lane.height, lane.sentence) == (height, sentence)


def test_room_that_is_soon_used_up_is_to_be_acted_on_unless_the_session_is_over_before():
    def with_left(left, minutes, planned=30.0):
        from uvren.core.live import Used

        return judge(FINE, Used(100, 10, left, minutes), aim(7), planned)

    assert with_left(60, 7.6).sentence == "room is used up in about 8 min at this pace"
    assert with_left(-1, 0.0).sentence == "room is used up"
    assert with_left(60, 7.6, planned=5).height is Height.REST
    assert with_left(600, 60.0).height is Height.REST


def test_what_is_missing_is_looked_at_and_never_called_above_or_below():
    for fault, said in ((Fault.MISSING, "no signal now"), (Fault.DOUBTFUL, "the sensor is in doubt")):
        lane = judge(Pulse(None, 150.0, 10.0, 0.0, 0.0, fault), None, aim(7), 30)
        assert (lane.height, lane.sentence, lane.mark) == (Height.LOOK, said, "missing")
    assert judge(Pulse(80.0, 150.0, 10.0, 0.0, 0.0, Fault.LATE), None, aim(7), 30).height is Height.REST
