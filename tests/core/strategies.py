"""Loads for property tests: whole histories of several athletes with rest days, and limits of every kind."""

from datetime import date

import numpy as np
from hypothesis import strategies as st

from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads

FIRST = date(2025, 8, 4)

CEILINGS = [
    ("ratio_ceiling", (0.9, 2.0), {"school": "ewma"}),
    ("ratio_ceiling", (0.9, 2.0), {"school": "coupled"}),
    ("ratio_ceiling", (0.9, 2.0), {"school": "uncoupled"}),
    ("week_change_cap", (0.0, 0.8), {}),
    ("week_end_change_cap", (0.0, 0.8), {}),
    ("week_cap", (500.0, 5000.0), {}),
    ("day_cap", (100.0, 1500.0), {}),
    ("balance_floor", (-150.0, 50.0), {}),
    ("days_in_row", (1, 6), {}),
    ("days_in_seven", (2, 7), {}),
    ("monotony_cap", (0.8, 3.0), {}),
    ("strain_cap", (500.0, 12000.0), {}),
    ("return_week", (200.0, 3000.0), {}),
    ("return_day", (50.0, 900.0), {}),
]


@st.composite
def histories(draw, rows=3, missing=False):
    """Loads of ``rows`` athletes over 10 to 90 days, with rest days and, if asked for, missing ones."""
    days = draw(st.integers(10, 90))
    random = np.random.default_rng(draw(st.integers(0, 2**32 - 1)))
    load = random.gamma(4, 90, (rows, days)) * (random.random((rows, days)) < draw(st.floats(0.3, 1.0)))
    if missing:
        load[random.random((rows, days)) < 0.05] = np.nan
    start = random.integers(0, 5, rows)
    load[np.arange(days) < start[:, None]] = 0.0
    return DailyLoads(FIRST, np.round(load, 1), start)


@st.composite
def ceilings(draw):
    code, (low, high), settings = draw(st.sampled_from(CEILINGS))
    value = draw(st.integers(low, high)) if isinstance(low, int) else draw(st.floats(low, high))
    return make_rule(code, value, settings)
