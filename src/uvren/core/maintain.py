"""What keeps somebody as they are, and what of it a week still owes."""

from __future__ import annotations

import numpy as np

from uvren.core.windows import Floats

# Strength and endurance are kept for weeks with about a third of the usual volume, as long as it is as hard as before
# (Spiering et al. 2021, J Strength Cond Res 35:1449).
KEEPS = 1 / 3
# The own weeks that say what is usual, and how many of them somebody must have trained in.
WEEKS, LEAST = 8, 4
WEEK = 7


def usual_week(load: Floats, today: int) -> Floats:
    """Median of the own weeks before the seven days that end today.

    Parameters
    ----------
    load : float array, shape (n, days)
        nan where it is not known counts as nothing done.
    today : int
        Column of today.

    Returns
    -------
    float array, shape (n,); nan for whom fewer than four of eight weeks had any.
    """
    end = today + 1 - WEEK
    first = max(end - WEEKS * WEEK, end % WEEK) if end > 0 else 0
    known = np.nan_to_num(load[:, first : max(end, 0)])
    weeks = known.reshape(load.shape[0], -1, WEEK).sum(axis=2)
    trained = (weeks > 0).sum(axis=1)
    if weeks.shape[1] == 0:
        return np.full(load.shape[0], np.nan)
    return np.where(trained >= LEAST, np.median(weeks, axis=1), np.nan)


def owed(load: Floats, today: int) -> Floats:
    """What is left of the least that keeps somebody, after the seven days that end today; shapes as above."""
    done = np.nan_to_num(load[:, max(today + 1 - WEEK, 0) : today + 1]).sum(axis=1)
    return np.asarray(np.maximum(usual_week(load, today) * KEEPS - done, 0.0))
