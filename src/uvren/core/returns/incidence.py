"""How often people of a squad are hurt or ill: per 1,000 hours of exposure, with an interval, never of one person."""

from __future__ import annotations

from dataclasses import dataclass

PER = 1000.0
LEVEL = 0.95


@dataclass(frozen=True)
class Incidence:
    """``n`` cases and the days they cost in so many hours, and per 1,000 of them with an interval of 95 %.

    The interval is exact for counts (Garwood 1936); figures are None without any hour.
    """

    n: int
    days_lost: int
    hours: float
    rate: float | None
    low: float | None
    high: float | None
    days_rate: float | None


def incidence(n: int, days_lost: int, hours: float) -> Incidence:
    """Cases and days lost per 1,000 hours.

    Parameters
    ----------
    n, days_lost : int
    hours : float
        Exposure of everybody together: training, match, or both.
    """
    if hours <= 0:
        return Incidence(n, days_lost, hours, None, None, None, None)
    low, high = poisson_interval(n)
    return Incidence(n, days_lost, hours, *(one / hours * PER for one in (n, low, high, days_lost)))


def poisson_interval(n: int, level: float = LEVEL) -> tuple[float, float]:
    """The interval of the expected count behind ``n`` counted ones (Garwood 1936)."""
    # Imported where it is used: who counts no cases need not wait for it.
    from scipy.special import chdtri

    tail = (1 - level) / 2
    low = 0.0 if n == 0 else float(chdtri(2 * n, 1 - tail)) / 2
    return low, float(chdtri(2 * n + 2, tail)) / 2
