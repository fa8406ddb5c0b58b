"""Signals together, signs that stand, and every state of the screen for overtraining."""

from datetime import date, timedelta

import numpy as np
import pytest

from uvren.core.errors import BadReport
from uvren.core.fatigue import (
    Drops,
    RestTrial,
    Screen,
    Signals,
    Trial,
    screen,
    standing_days,
    three_signals,
    trial_length,
)


@pytest.mark.parametrize(
    ("energy", "effort", "jump", "wanted"),
    [
        (0.2, 0.1, 0.0, Signals.COPING),
        (1.2, -1.1, 1.3, Signals.ROOM),
        (-1.2, 0.0, 0.1, Signals.FEELS_IT),
        (0.0, 1.4, -0.5, Signals.FEELS_IT),
        (0.0, 0.0, -1.1, Signals.NERVE),
        (-1.0, 0.0, -1.0, Signals.NOT_RECOVERING),
        (np.nan, 1.0, -1.0, Signals.NOT_RECOVERING),
        (0.0, 0.0, np.nan, Signals.OPEN),
        (np.nan, np.nan, -2.0, Signals.OPEN),
    ],
)
def test_three_signals_say_together_what_none_says_alone(energy, effort, jump, wanted):
    assert three_signals(np.array([energy]), np.array([effort]), np.array([jump]))[0] == wanted


WEEKS = np.array([0.0, 7, 14, 21])


@pytest.mark.parametrize(
    ("answers", "days"),
    [
        ([0, 0, 0, 1], 0),
        ([0, 0, 0, 2], 7),
        ([0, 0, 1, 1], 7),
        ([0, 2, 1, 1], 21),
        ([1, np.nan, 1, np.nan], 14),
        ([2, 2, 2, 0], 0),
        ([np.nan] * 4, 0),
    ],
)
def test_a_sign_stands_until_a_report_says_no(answers, days):
    assert standing_days(np.array([[answers]], dtype=float), WEEKS)[0, 0] == days


@pytest.mark.parametrize(
    ("family_days", "drop", "wanted"),
    [
        ([7, 0, 0], "", Screen.CLEAR),
        ([7, 7, 0], "", Screen.WATCH),
        ([0, 0, 0], "any", Screen.WATCH),
        ([14, 14, 14], "any rested", Screen.WATCH),
        ([14, 14, 14], "any sure", Screen.REST_FIRST),
        ([0, 0, 0], "any sure", Screen.REST_FIRST),
        ([14, 14, 13], "any sure rested", Screen.WATCH),
        ([14, 14, 14], "any sure rested", Screen.SUSPECT),
        ([0, 0, 0], "any sure off_week", Screen.SUSPECT),
    ],
)
def test_suspicion_grows_with_a_sure_drop_that_stands_despite_rest(family_days, drop, wanted):
    told = {name: np.array([name in drop.split()]) for name in ("any", "sure", "rested", "off_week")}
    assert screen(np.array([family_days]), Drops(**told))[0] == wanted


def test_a_rest_trial_is_longer_for_old_signs_and_goes_through_its_states():
    assert (trial_length(42), trial_length(43)) == (7, 14)
    first = date(2026, 3, 1)
    trial = RestTrial(first, 7)
    assert trial.state(first) is Trial.RESTING
    assert trial.state(first + timedelta(days=6)) is Trial.RESTING
    assert trial.state(first + timedelta(days=7)) is Trial.TO_JUDGE
    assert RestTrial(first, 7, better=True).state(first) is Trial.BETTER
    assert RestTrial(first, 7, better=False).state(first) is Trial.NOT_BETTER
    with pytest.raises(BadReport):
        RestTrial(first, 10)
