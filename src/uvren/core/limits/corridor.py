"""The corridor: the band of week loads between what keeps the base and what every limit allows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uvren.core.limits.base import Rule
from uvren.core.limits.ratio import RatioFloor
from uvren.core.limits.week import WeekFloor
from uvren.core.windows import Floats
from uvren.core.workload import Workload


@dataclass(frozen=True)
class Corridor:
    """Floor and ceiling on the scale of the 7-day load, rows x days, nan where there is none."""

    floor: Floats
    ceiling: Floats


def corridor(workload: Workload, rules: Sequence[Rule]) -> Corridor:
    """The greatest and the least week load of each day, the days before taken as they stand.

    Rules on days and on single days close a day but do not bend the band, so they are left out here.
    """
    six_before = workload.loads.sum_over(7) - workload.loads.values
    today = workload.loads.values
    ceiling = np.full(today.shape, np.inf)
    floor = np.full(today.shape, -np.inf)
    for rule in rules:
        if not rule.bends_corridor:
            continue
        if isinstance(rule, RatioFloor | WeekFloor):
            level = np.where(rule.speaks(workload), rule.level(workload), -np.inf)
            floor = np.maximum(floor, six_before + level)
        else:
            ceiling = np.minimum(ceiling, six_before + today + rule.room(workload))
    known = workload.loads.missing_in(7) == 0
    return Corridor(
        floor=np.where(known & np.isfinite(floor), np.maximum(floor, 0.0), np.nan),
        ceiling=np.where(known & np.isfinite(ceiling), np.maximum(ceiling, 0.0), np.nan),
    )
