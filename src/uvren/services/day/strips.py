"""An athlete's corridor as a strip of days."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from uvren.core.day import Desk, band
from uvren.core.windows import Bools

State = Literal["measured", "estimated", "missing", "rest", "planned", "before"]
Side = Literal["over", "under", ""]


@dataclass(frozen=True)
class Strip:
    """Week load, day's load and corridor by day, as long as :attr:`Morning.days`; None where there is none.

    ``state`` is measured, estimated, missing, rest, planned or before (no history yet); ``side`` is over, under or
    empty, as the week load stands to the corridor. ``torn`` names two limits that no week load of today holds both.
    """

    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[State]
    side: list[Side]
    torn: str


def strips(desk: Desk, to_come: Bools, begin: int) -> list[Strip]:
    """Week load, load and corridor of each row from a column on."""
    window = slice(begin, None)
    corridor = band(desk, begin)
    loads = desk.planned
    assert loads.estimated is not None
    before = (loads.age < 1)[:, window]
    missing = loads.missing[:, window]
    week = np.where((loads.missing_in(7) > 0) | (loads.age < 1), np.nan, loads.sum_over(7))[:, window]
    load = np.where(before | missing, np.nan, loads.values[:, window])
    floor, ceiling = corridor.floor, corridor.ceiling
    state = np.select(
        [before, missing, to_come[:, window], loads.estimated[:, window] > 0, load > 0],
        ["before", "missing", "planned", "estimated", "measured"],
        default="rest",
    )
    with np.errstate(invalid="ignore"):
        side = np.select([week > ceiling + 0.5, week < floor - 0.5], ["over", "under"], default="")
    columns = [_listed(values) for values in (week, load, floor, ceiling)]
    return [
        Strip(
            week=columns[0][row],
            load=columns[1][row],
            floor=columns[2][row],
            ceiling=columns[3][row],
            state=state[row].tolist(),
            side=side[row].tolist(),
            torn=str(corridor.torn[row, desk.today - begin]),
        )
        for row in range(week.shape[0])
    ]


def _listed(values: np.ndarray) -> list[list[float | None]]:
    """Rows as lists, nan as None; a tenth of a unit is finer than any screen shows."""
    tidy = np.round(values, 1).astype(object)
    tidy[np.isnan(values)] = None
    return tidy.tolist()


REASONS = {
    "history": "not enough history",
    "missing": "ratings are missing",
    "estimated": "too much of it is estimated",
    "rebuild": "base load is too low to compare with",
}
