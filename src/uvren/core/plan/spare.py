"""Load that may still be added on each day ahead, with the plan kept."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from uvren.core.plan.course import Course
from uvren.core.plan.judge import coaches
from uvren.core.plan.rows import Row
from uvren.core.windows import Floats


def spare(course: Course, rows: Sequence[Row]) -> dict[str, Floats]:
    """The most that may be added on one day with the plan kept and every row held on it and after.

    Returns
    -------
    dict of channel to float array, shape (athletes, days)
        inf where no row binds; 0 where one is broken already, or where any work would break a rule on days.
    """
    standing = coaches(course)
    loads = course.loads(standing.own, standing.start)
    found = {channel: np.full(ahead.shape, np.inf) for channel, ahead in loads.items()}
    for row in rows:
        mine = loads[row.channel][row.athlete]
        added = found[row.channel][row.athlete]
        days = row.weights > 0
        if row.counts:
            left = row.bound - float((mine > 0) @ row.weights)
            # A day that has work already may have more of it.
            added[days & (mine <= 0) & (left < row.weights - 1e-9)] = 0.0
        else:
            left = row.bound - float(mine @ row.weights)
            added[days] = np.minimum(added[days], max(left, 0.0) / row.weights[days])
    return found
