"""What reports, effort and jumps may mean together, and the screen for overtraining.

Nothing here is a diagnosis: each state names the evidence behind it, and the screen for overtraining always ends with
referring (Meeusen et al. 2013).
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from uvren.core.errors import BadReport
from uvren.core.windows import Bools, Floats, Ints


class Signals(StrEnum):
    """What energy, effort at like load and the jump say together."""

    COPING = "coping"
    ROOM = "has room"
    FEELS_IT = "feels it"
    NERVE = "muscle–nerve fatigue"
    NOT_RECOVERING = "not recovering"
    OPEN = "open"


def three_signals(energy: Floats, effort: Floats, jump: Floats, size: float = 1.0) -> np.ndarray:
    """The state of each row (:class:`Signals`) from three z scores against own norms, shapes alike.

    Effort is at like load, so more of it is worse. Without a jump, or without both of the others, the state is open.
    """
    with np.errstate(invalid="ignore"):
        worse_felt = (energy <= -size) | (effort >= size)
        better_felt = (energy >= size) & (effort <= -size)
        worse_jump, better_jump = jump <= -size, jump >= size
    said = ~np.isnan(jump) & ~(np.isnan(energy) & np.isnan(effort))
    return np.select(
        [~said, worse_jump & worse_felt, worse_jump, worse_felt, better_felt & better_jump],
        [Signals.OPEN, Signals.NOT_RECOVERING, Signals.NERVE, Signals.FEELS_IT, Signals.ROOM],
        default=Signals.COPING,
    )


WATCH_DAYS, WATCH_FAMILIES = 7, 2
SUSPECT_DAYS, SUSPECT_FAMILIES = 14, 3


def standing_days(signs: Floats, weeks: Floats, least: float = 1.0) -> Ints:
    """For how many days each sign has stood, shape (rows, families), from weekly answers (rows, families, weeks).

    A sign stands while each weekly report says at least ``least`` (1: some days). ``weeks`` are the days the reports
    are for, oldest first. A week without a report neither counts nor ends it. The first report of the run speaks for
    the 7 days before it where it says most days (2), else for its own day.
    """
    rows, families = signs.shape[:2]
    out = np.zeros((rows, families), dtype=np.int64)
    if weeks.size == 0:
        return out
    said = ~np.isnan(signs)
    with np.errstate(invalid="ignore"):
        stands = signs >= least
    first = np.full((rows, families), np.nan)
    last = np.full((rows, families), np.nan)
    before = np.zeros((rows, families))
    going = np.ones((rows, families), dtype=bool)
    # A handful of weeks, newest first.
    for i in range(weeks.size - 1, -1, -1):
        going &= ~(said[..., i] & ~stands[..., i])
        here = going & stands[..., i]
        last = np.where(here & np.isnan(last), weeks[i], last)
        first = np.where(here, weeks[i], first)
        before = np.where(here, np.where(np.nan_to_num(signs[..., i]) >= 2, 7, 0), before)
    return np.where(np.isnan(first), 0, last - first + before).astype(np.int64)


class Screen(StrEnum):
    """Where someone stands in the screen for overtraining."""

    CLEAR = "clear"
    WATCH = "watch"
    REST_FIRST = "rest first"
    SUSPECT = "suspect"


@dataclass(frozen=True)
class Drops:
    """Measured performance by row: ``any`` result down, ``sure`` of it, and what rest there was since it began.

    ``rested``: two days off before the last result; ``off_week``: seven or more. It was still down after them.
    """

    any: Bools
    sure: Bools
    rested: Bools
    off_week: Bools


def screen(family_days: Ints, drops: Drops) -> np.ndarray:
    """The state of each row (:class:`Screen`); suspicion grows with evidence (after Meeusen et al. 2013).

    Parameters
    ----------
    family_days : int array, rows x families
        For how many days each family of sign has stood. That somebody says performance is down is one of them.
    drops : Drops
        What was measured.
    """
    week = np.sum(family_days >= WATCH_DAYS, axis=-1)
    fortnight = np.sum(family_days >= SUSPECT_DAYS, axis=-1)
    suspect = drops.sure & (drops.off_week | (drops.rested & (fortnight >= SUSPECT_FAMILIES)))
    rest_first = drops.sure & ~drops.rested & ~drops.off_week
    watch = (week >= WATCH_FAMILIES) | drops.any
    return np.select(
        [suspect, rest_first, watch], [Screen.SUSPECT, Screen.REST_FIRST, Screen.WATCH], default=Screen.CLEAR
    )


class Trial(StrEnum):
    """State of a rest trial."""

    OFFERED = "offered"
    RESTING = "resting"
    TO_JUDGE = "to be judged"
    BETTER = "better"
    NOT_BETTER = "not better"


SHORT_TRIAL, LONG_TRIAL = 7, 14
OLD_SIGNS_DAYS = 42


def trial_length(signs_days: int) -> int:
    """Days off that are offered: 7, or 14 where the signs are older than six weeks."""
    return LONG_TRIAL if signs_days > OLD_SIGNS_DAYS else SHORT_TRIAL


@dataclass(frozen=True)
class RestTrial:
    """Days off to see whether they help. ``better`` is what a person judged at the end, None until then."""

    first: date
    days: int
    better: bool | None = None

    def __post_init__(self) -> None:
        if self.days not in (SHORT_TRIAL, LONG_TRIAL):
            raise BadReport(f"A rest trial lasts {SHORT_TRIAL} or {LONG_TRIAL} days.", field="days")

    @property
    def last(self) -> date:
        """The last day off."""
        return self.first + timedelta(days=self.days - 1)

    def rests(self, day: date, as_of: date) -> bool:
        """Whether ``day`` is a day off, as it stands on ``as_of``: until the end, and on until somebody has judged it.

        Not better means to stay off. Days after an end still to come are open.
        """
        if day < self.first or self.better:
            return False
        return day <= self.last or as_of > self.last

    def state(self, as_of: date) -> Trial:
        if self.better is not None:
            return Trial.BETTER if self.better else Trial.NOT_BETTER
        return Trial.RESTING if as_of <= self.last else Trial.TO_JUDGE
