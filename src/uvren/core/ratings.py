"""From session entries to daily loads: session-RPE, and estimates where a rating is missing."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from uvren.core.errors import BadLoads
from uvren.core.windows import Bools, Floats, Ints

OWN_DAYS = 42
LEAST_VALUES = 3
EFFORT_STEP = 0.5
EFFORT_MOST = 10.0
MINUTES_MOST = 600


class Origin(IntEnum):
    """Where the load of an entry or a day comes from."""

    MEASURED = 0
    OWN_MEDIAN = 1
    TEAM_MEDIAN = 2
    MISSING = 3


@dataclass(frozen=True)
class Entries:
    """Entries of athletes in sessions, one array item each.

    ``athlete``, ``session`` and ``kind`` are whole-number codes; ``day`` counts days from any fixed day;
    ``minutes`` and ``effort`` are nan where not reported.
    """

    athlete: Ints
    session: Ints
    kind: Ints
    day: Ints
    minutes: Floats
    effort: Floats

    def __post_init__(self) -> None:
        shapes = {a.shape for a in vars(self).values()}
        if len(shapes) != 1:
            raise BadLoads("all columns of the entries must be of one length", field="entries")


@dataclass(frozen=True)
class FilledEntries:
    """Load of each entry, with the rating that stands in where none was given.

    ``effort`` is the rating used, ``origin`` how it came about, ``n`` the ratings behind an estimate.
    A load is nan where it stays unknown.
    """

    load: Floats
    effort: Floats
    origin: Ints
    n: Ints


def session_rpe(minutes: Floats, effort: Floats) -> Floats:
    """Minutes x rating (Foster et al. 2001). No minutes is no load, whatever the rating."""
    return np.where(minutes == 0, 0.0, minutes * effort)


def fill(entries: Entries) -> FilledEntries:
    """Session-RPE load of each entry; a missing rating is estimated where there is something to go by.

    First the athlete's own median for that kind of session over the 42 days before, at least 3 ratings; else
    the median of the teammates in the same session, at least 3; else the load is unknown.
    """
    rated = ~np.isnan(entries.effort) & (np.nan_to_num(entries.minutes) > 0)
    origin = np.full(entries.day.shape, int(Origin.MEASURED), dtype=np.int64)
    count = np.zeros(entries.day.shape, dtype=np.int64)
    effort = entries.effort.copy()
    # Missing ratings are few: only they are looked at one by one.
    for i in np.flatnonzero(np.isnan(entries.effort) & (entries.minutes != 0)):
        own = _own_ratings(entries, rated, int(i))
        team = entries.effort[rated & (entries.session == entries.session[i])]
        if own.size >= LEAST_VALUES:
            effort[i], origin[i], count[i] = np.median(own), Origin.OWN_MEDIAN, own.size
        elif team.size >= LEAST_VALUES:
            effort[i], origin[i], count[i] = np.median(team), Origin.TEAM_MEDIAN, team.size
        else:
            origin[i] = Origin.MISSING
    load = session_rpe(entries.minutes, effort)
    origin[np.isnan(load)] = Origin.MISSING
    return FilledEntries(load, effort, origin, count)


def _own_ratings(entries: Entries, rated: Bools, i: int) -> Floats:
    day = entries.day[i]
    alike = (entries.athlete == entries.athlete[i]) & (entries.kind == entries.kind[i])
    before = (entries.day < day) & (entries.day >= day - OWN_DAYS)
    return np.asarray(entries.effort[rated & alike & before])


def typical_effort(ratings: Floats, fallback: float = 5.0) -> float:
    """The athlete's median rating, to half a point: the effort at which room is given in minutes."""
    known = ratings[~np.isnan(ratings)]
    if known.size < LEAST_VALUES:
        return fallback
    return float(np.round(np.median(known) / EFFORT_STEP) * EFFORT_STEP) or fallback


@dataclass(frozen=True)
class DaySum:
    """Load of one athlete on one day: ``load`` None when a session of the day stays unknown."""

    load: float | None
    estimated: float
    sessions: int


def sum_day(load: Floats, origin: Ints) -> DaySum:
    """Add up the entries of one athlete's day (shapes (entries,))."""
    guessed = (origin == Origin.OWN_MEDIAN) | (origin == Origin.TEAM_MEDIAN)
    estimated = float(np.nansum(np.where(guessed, load, 0.0)))
    total = None if np.isnan(load).any() else float(load.sum())
    return DaySum(total, estimated, int(load.size))
