"""A lighter week is due on several signs, or when the last one is long ago."""

from dataclasses import replace

import numpy as np

from tests.core.test_notice_kinds import PAST, facts, found, of, series
from uvren.core.day import Tuning
from uvren.core.notices import Severity, Shape

# Six weeks as always, and then one at half.
LIGHTER_WEEK = [*PAST[:-7], *(load / 2 for load in PAST[-7:])]


def lighter(known, past=PAST, **more):
    return found(of(known, past, **more)).get("lighter_due")


def test_a_lighter_week_is_due_on_two_signs_or_when_the_last_is_long_ago():
    down = {"energy": [5.0, 5.0, 5.0], "mood": [6.0, 6.0, 6.0]}
    two = lighter(facts(down, tests=(dropped_now(),)), LIGHTER_WEEK)
    assert (two.severity, two.shape) == (Severity.NOTE, Shape.WAVE)
    listed = Tuning(values={("lighter_due", "listed"): np.ones(1)})
    known = facts(down, tests=(dropped_now(),))
    assert found(replace(of(known, LIGHTER_WEEK), tuning=listed))["lighter_due"].severity is Severity.WATCH
    assert two.sentence == "Squat stalled or down and energy and mood down for days; a lighter week ended just now."
    assert lighter(facts(down), LIGHTER_WEEK) is None
    assert lighter(facts(), LIGHTER_WEEK) is None
    late = lighter(facts())
    assert (late.shape, late.sentence) == (Shape.OVER, "10 weeks since a lighter one.")
    # Twelve weeks of patience, or every fourth week whatever the signs.
    patient = Tuning(values={("lighter_due", "longest"): np.array([12.0])})
    assert "lighter_due" not in found(replace(of(facts()), tuning=patient))
    fixed = Tuning(values={("lighter_due", "longest"): np.array([26.0]), ("lighter_due", "every"): np.array([4.0])})
    assert "lighter_due" in found(replace(of(facts()), tuning=fixed))
    beginner = replace(of(facts(down, tests=(dropped_now(),))), beginner=np.array([True]))
    assert "lighter_due" not in found(beginner)


def dropped_now():
    return replace(series(40, 40.5, 39.8, 40, 36.0), name="Squat")
