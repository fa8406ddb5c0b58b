"""Whether a date can be met, how far one will be by then, and three ways where it cannot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise

import numpy as np

from uvren.core.errors import BadPlan
from uvren.core.returns.climb import DAYS, Climb, climb
from uvren.core.windows import Floats

MINUTES_STEP = 5.0


@dataclass(frozen=True)
class Fit:
    """How a plan stands to a date: what may be done then by channel, in per cent of the usual week.

    ``days_short`` is by how many days the date comes too soon, 0 where it fits; ``earliest`` is the first day that
    would do.
    """

    target: date
    needed: float
    shares: Mapping[str, float]
    earliest: date
    days_short: int

    @property
    def fits(self) -> bool:
        return self.days_short == 0


def fit(found: Climb, target: date, needed: float = 100.0) -> Fit:
    """How far each channel will be on a date, and when the main one is far enough."""
    earliest = found.reaches(needed)
    shares = {code: found.share_on(target, code) for code in found.terms.parts}
    return Fit(target, needed, shares, earliest, max(0, (earliest - target).days))


def shortened(found: Climb, target: date, needed: float, as_of: date) -> tuple[float, ...] | None:
    """Steps that reach ``needed`` per cent by a date in even rises from the week now running.

    What is held behind the rest stays so. None where the date is in the week now running, or before it, and where it
    fits as it is.
    """
    terms = found.terms
    now, then = ((day - terms.first).days // DAYS for day in (max(as_of, terms.first), target))
    if then <= now or found.share_on(target, terms.main) >= needed:
        return None
    here = found.weeks[min(now, len(found.weeks) - 1)]
    behind = terms.shares[: here.step]
    rises = np.linspace(here.share, needed, then - now + 1)[1:]
    steps = (*behind, *(round(float(one), 1) for one in rises))
    rest = tuple(one for one in (*terms.shares, 100.0) if one > needed)
    return (*steps, *dict.fromkeys(rest))


def steepest(shares: Sequence[float]) -> float:
    """The greatest rise from one step to the next, as a part of the lower one; 0 for a single step."""
    return max((b / a - 1 for a, b in pairwise(shares)), default=0.0)


def with_shares(found: Climb, shares: Sequence[float], done: Floats, as_of: date) -> Climb:
    """The same plan with other steps. Raises BadPlan."""
    return climb(replace(found.terms, shares=tuple(shares)), done, as_of)


def match_minutes(found: Climb, day: date, usual: float, load: float) -> float:
    """Minutes of a match that a plan has room for on a day, in steps of five, at most ``usual``.

    Parameters
    ----------
    usual : float
        Minutes that are usual, more than 0.
    load : float
        What so many minutes come to on the main channel; 0 where it is not known, and the day's load stops nothing.

    A match is open play: no greater part of it than the week allows, nor more than its most load of a day.
    """
    if usual <= 0:
        raise BadPlan("usual minutes are more than 0", field="usual")
    if day < found.terms.first:
        return 0.0
    week = found.on(day)
    if week is None:
        return usual
    by_play = usual * week.open_share / 100
    by_load = found.day_in(week, found.terms.main) / load * usual if load > 0 else usual
    return float(np.floor(min(usual, by_play, by_load) / MINUTES_STEP + 1e-9) * MINUTES_STEP)
