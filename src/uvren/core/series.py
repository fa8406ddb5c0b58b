"""Day-by-day series of several athletes and channels, laid out as one matrix of loads."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

import numpy as np

from uvren.core.errors import BadLoads
from uvren.core.loads import DailyLoads
from uvren.core.windows import Ints


@dataclass(frozen=True, slots=True)
class LoadRow:
    """One line of work: ``load`` None is a session without a report."""

    athlete: str
    day: date
    channel: str
    load: float | None
    estimated: bool = False


@dataclass(frozen=True)
class LoadTable:
    """Loads of every athlete on every channel they have, one row each.

    ``keys`` holds (athlete, channel) for each row of ``loads``, sorted; ``channels`` the channels in the
    order in which they were first met.
    """

    keys: tuple[tuple[str, str], ...]
    channels: tuple[str, ...]
    loads: DailyLoads

    def on_channel(self, channel: str) -> tuple[tuple[str, ...], DailyLoads]:
        """Athletes that have the channel, and their loads on it."""
        if channel not in self.channels:
            raise BadLoads(
                f"there is no channel {channel!r}; channels are {', '.join(self.channels)}",
                field="channel",
            )
        rows: Ints = np.array([i for i, key in enumerate(self.keys) if key[1] == channel])
        loads = DailyLoads(
            self.loads.first_day,
            self.loads.load[rows],
            self.loads.start[rows],
            None if self.loads.estimated is None else self.loads.estimated[rows],
        )
        return tuple(self.keys[i][0] for i in rows), loads


def tabulate(rows: Iterable[LoadRow]) -> LoadTable:
    """Add up lines of one athlete, channel and day; a day with an unknown line is missing as a whole.

    An athlete's history begins on their first day on any channel and ends, for everyone, on the last day
    there is. A day without a line is a day of rest. Raises BadLoads when there are no lines.
    """
    rows = list(rows)
    if not rows:
        raise BadLoads("there are no loads to look at", field="load")
    first = min(row.day for row in rows)
    last = max(row.day for row in rows)
    channels = tuple(dict.fromkeys(row.channel for row in rows))
    keys = tuple(sorted({(row.athlete, row.channel) for row in rows}))
    index = {key: i for i, key in enumerate(keys)}
    shape = (len(keys), (last - first).days + 1)

    at = np.array([index[row.athlete, row.channel] for row in rows])
    column = np.array([(row.day - first).days for row in rows])
    value = np.array([np.nan if row.load is None else row.load for row in rows], dtype=np.float64)
    estimate = np.array([row.load if row.estimated and row.load else 0.0 for row in rows])

    load = np.zeros(shape)
    np.add.at(load, (at, column), value)
    estimated = np.zeros(shape)
    np.add.at(estimated, (at, column), estimate)

    begins: dict[str, int] = {}
    for row in rows:
        day = (row.day - first).days
        begins[row.athlete] = min(day, begins.get(row.athlete, day))
    start = np.array([begins[athlete] for athlete, _ in keys], dtype=np.int64)
    return LoadTable(keys, channels, DailyLoads(first, load, start, estimated))
