"""The corridor: the band of week loads between what keeps the base and what every limit allows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uvren.core.limits.base import TOLERANCE, Rule
from uvren.core.limits.ratio import RatioFloor
from uvren.core.limits.week import WeekFloor
from uvren.core.windows import Floats
from uvren.core.workload import Workload


@dataclass(frozen=True)
class Corridor:
    """Floor and ceiling on the scale of the 7-day load, rows x days, nan where there is none.

    Where the floor lies above the ceiling no week load holds both: there is no band, and ``torn`` (rows x days) has the
    titles of the two limits, empty elsewhere.
    """

    floor: Floats
    ceiling: Floats
    torn: np.ndarray


def corridor(workload: Workload, rules: Sequence[Rule], since: int = 0) -> Corridor:
    """The greatest and the least week load of each day from a column on, the days before taken as they stand.

    Rules on days and on single days close a day but do not bend the band, so they are left out here.
    """
    today = workload.loads.values[:, since:]
    six_before = workload.loads.sum_over(7)[:, since:] - today
    ceiling = np.full(today.shape, np.inf)
    floor = np.full(today.shape, -np.inf)
    floor_by, ceiling_by = (np.full(today.shape, "", dtype=object) for _ in range(2))
    for rule in rules:
        if not rule.bends_corridor:
            continue
        if isinstance(rule, RatioFloor | WeekFloor):
            level = np.where(rule.speaks(workload), rule.level(workload), -np.inf)[:, since:]
            higher = six_before + level
            floor_by = np.where(higher > floor, rule.title.lower(), floor_by)
            floor = np.maximum(floor, higher)
        else:
            lower = six_before + today + rule.room(workload)[:, since:]
            ceiling_by = np.where(lower < ceiling, rule.title.lower(), ceiling_by)
            ceiling = np.minimum(ceiling, lower)
    known = workload.loads.missing_in(7)[:, since:] == 0
    floor, ceiling = np.maximum(floor, 0.0), np.maximum(ceiling, 0.0)
    torn = known & (floor > ceiling + TOLERANCE) & np.isfinite(ceiling)
    return Corridor(
        floor=np.where(known & ~torn & (floor_by != ""), floor, np.nan),
        ceiling=np.where(known & ~torn & np.isfinite(ceiling), ceiling, np.nan),
        torn=np.where(torn, "the " + floor_by + " and the " + ceiling_by, ""),
    )
