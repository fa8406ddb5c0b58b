"""Returns with a known tissue: what is assumed of it, and that the ways back differ as they are said to."""

import numpy as np
import pytest

from uvren.core.returns import School
from uvren.simulate.tissue import (
    LIVING,
    MARGIN,
    Person,
    by_paper,
    by_plan,
    capacity,
    most_asked,
    no_ramp,
    people,
    table,
)

KEPT = np.ones(20)


def person(days_off, kept=KEPT):
    return Person(days_off, 14.0, 45.0, kept)


def test_a_tissue_bears_what_it_is_used_to_and_loses_it_more_slowly_than_it_gains():
    steady = capacity(np.ones(60), 14)
    assert steady == pytest.approx(MARGIN)
    off = capacity(np.concatenate([np.ones(30), np.zeros(200)]), 14)
    assert off[60] < MARGIN
    # Daily life keeps something of it.
    assert off[-1] == pytest.approx(LIVING * MARGIN, rel=0.02)
    lost = off[30] - off[50]
    gained = np.diff(capacity(np.concatenate([np.zeros(200), np.ones(40)]), 14)[[-40, -20]])[0]
    assert gained > lost


def test_a_usual_week_is_never_too_much_and_a_longer_break_costs_more():
    assert most_asked(np.ones(100), np.ones(100), 14, 50) == pytest.approx(1 / MARGIN)
    most = [no_ramp(person(days)).muscle for days in (7, 21, 42, 84)]
    assert most == sorted(most)
    assert most[0] < 1 < most[-1]


def test_a_ramp_asks_less_than_none_and_a_plan_less_than_a_ramp_on_paper():
    hurried = np.where(np.arange(20) % 4 == 1, 0.5, 1.12)
    one = person(84, hurried)
    none, paper, plan = no_ramp(one), by_paper(one, School.STANDARD), by_plan(one)
    assert plan.muscle < paper.muscle < none.muscle
    assert plan.tendon < paper.tendon < none.tendon
    # What it costs: days.
    assert none.days_to_full < paper.days_to_full <= plan.days_to_full


def test_a_plan_that_is_kept_takes_as_long_as_its_steps_say():
    assert by_plan(person(64)).days_to_full == 42
    half = np.ones(20)
    half[1] = 0.5
    # The second week was missed: its step is held, and all that follows a week later.
    assert by_plan(person(64, half)).days_to_full == 49


def test_the_table_has_every_way_over_the_same_people():
    found = people(30, np.random.default_rng(3))
    assert {7 <= one.days_off < 127 for one in found} == {True}
    rows = table(found)
    assert [row.name for row in rows] == [
        "no ramp", "faster steps, by paper", "standard steps, by paper", "slower steps, by paper",
        "standard steps, kept by a plan",
    ]  # fmt: skip
    for row in rows:
        assert max(row.muscle, row.tendon) <= row.either <= row.muscle + row.tendon
    assert rows[-1].either < rows[0].either
    # Whoever bears more is asked for too much less often.
    for tight, wide in zip(table(found, 1.3), table(found, 1.7), strict=True):
        assert wide.either <= tight.either
