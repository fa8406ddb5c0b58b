"""After a match: who has played it and recovers, who is short of it, and with which intervals they top up."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.windows import Floats

# Minutes that a top-up has before its intervals, between two series of them, and at most.
WARM_UP, PAUSE, MOST_MINUTES = 10.0, 2.0, 30.0
SERIES = 6
# Fewer are not worth a warm-up.
LEAST = 4


class Form(StrEnum):
    """What a position tops up with."""

    RUNS = "runs"
    IN_PLACE = "in_place"


@dataclass(frozen=True)
class Interval:
    """Seconds of work and of rest, the effort of the whole, and how fast a fast one is, as a share of the speed from
    which metres count as fast; 0 is work in one place, such as in goal.
    """

    form: Form
    name: str
    work: float
    rest: float
    effort: float
    pace: float


INTERVALS = {
    Form.RUNS: Interval(Form.RUNS, "runs", 20, 40, 7, 1.1),
    Form.IN_PLACE: Interval(Form.IN_PLACE, "quick work in place", 15, 45, 7, 0),
}


@dataclass(frozen=True)
class TopUp:
    """So many intervals, some of them ``fast``; the others stay below the speed that counts."""

    interval: Interval
    count: int
    fast: int = 0

    @property
    def minutes(self) -> float:
        """All of it: warm-up, intervals, and a pause between two series."""
        each = (self.interval.work + self.interval.rest) / 60
        return WARM_UP + self.count * each + PAUSE * ((self.count - 1) // SERIES)

    def metres(self, speed: float) -> float:
        """Metres above a ``speed`` in m/s that are to be expected."""
        return self.fast * self.interval.work * self.interval.pace * speed


def fit(interval: Interval, short: Floats, room: Floats, loads: Callable[[TopUp], Floats]) -> TopUp | None:
    """The most intervals that are no more than what somebody is short of, nor than there is room for, on any channel.

    Parameters
    ----------
    short, room : float arrays, shape (channels,)
        ``short`` nan where nothing is known: it holds nobody back.
    loads : callable
        What a top-up comes to on each channel.

    Returns
    -------
    TopUp or None
        None where fewer than are worth a warm-up fit.
    """
    most = np.fmin(np.where(np.isnan(short), np.inf, short), room)
    longest = int((MOST_MINUTES - WARM_UP) * 60 / (interval.work + interval.rest))
    for count in range(longest, LEAST - 1, -1):
        for fast in range(count if interval.pace else 0, -1, -1):
            tried = TopUp(interval, count, fast)
            if tried.minutes <= MOST_MINUTES and bool((loads(tried) <= most + 1e-9).all()):
                return tried
    return None
