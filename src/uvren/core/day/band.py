"""The corridor as the app draws it: where a hard limit is silent it opens nothing."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from uvren.core.day.desk import Desk
from uvren.core.day.room import RAMP, TITLES, fitted
from uvren.core.limits.base import TOLERANCE
from uvren.core.limits.corridor import Corridor, corridor
from uvren.core.returns import ramp_on
from uvren.core.windows import Bools, Floats
from uvren.core.workload import Withheld


def band(desk: Desk, begin: int = 0) -> Corridor:
    """The corridor of every row with the plan kept, rows x days of ``desk.planned`` from ``begin`` on.

    Where a hard limit on week loads rests because there is no base to compare with, the ramp after a layoff is the
    ceiling; where it rests because ratings are missing or estimated there is no ceiling, for none can be told.
    """
    found = corridor(desk.ahead, [fitted(rule, desk.planned) for rule in (*desk.hard, *desk.advisory)], begin)
    without_base, hidden = _resting(desk, begin)
    most = _ramps(desk, without_base, begin)
    told = (
        (found.torn == "") & (desk.planned.missing_in(7)[:, begin:] == 0) & ~hidden & ~(without_base & np.isnan(most))
    )
    ceiling = np.where(told, np.fmin(found.ceiling, most), np.nan)
    with np.errstate(invalid="ignore"):
        torn = found.floor > ceiling + TOLERANCE
    return replace(
        found,
        floor=np.where(torn, np.nan, found.floor),
        ceiling=np.where(torn, np.nan, ceiling),
        torn=np.where(torn, f"the floor and the {TITLES[RAMP]}", found.torn),
    )


def _resting(desk: Desk, begin: int) -> tuple[Bools, Bools]:
    """Days on which a hard limit on week loads rests for want of a base, and for want of ratings; rows x days."""
    shape = desk.planned.load.shape
    without_base, hidden = (np.zeros((shape[0], shape[1] - begin), dtype=bool) for _ in range(2))
    for rule in desk.hard:
        if rule.floor or not rule.bends_corridor:
            continue
        full = fitted(rule, desk.planned)
        in_force = ~np.isnan(np.broadcast_to(full.value, shape))[:, begin:]
        silent = full.reasons(desk.ahead)[:, begin:]
        without_base |= in_force & np.isin(silent, (Withheld.HISTORY, Withheld.REBUILD))
        hidden |= in_force & np.isin(silent, (Withheld.MISSING, Withheld.ESTIMATED))
    return without_base, hidden


def _ramps(desk: Desk, wanted: Bools, begin: int) -> Floats:
    """The most week load that the ramp allows on the days that want one, nan elsewhere; rows x days."""
    most = np.full(wanted.shape, np.nan)
    declared = np.full(desk.rows, np.nan) if desk.declared is None else desk.declared
    for row, column in np.argwhere(wanted):
        ramp = ramp_on(
            desk.planned,
            int(row),
            begin + int(column),
            float(declared[row]),
            history_days=desk.settings.history_days - 1,
        )
        if ramp is not None:
            most[row, column] = ramp.most
    return most
