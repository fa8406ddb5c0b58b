"""From session entries to daily loads: session-RPE, and estimates where a rating is missing."""

from __future__ import annotations

from dataclasses import dataclass, replace
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
    GIVEN = 4


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
    effort, origin, count = _estimated(entries)
    load = session_rpe(entries.minutes, effort)
    origin[np.isnan(load)] = Origin.MISSING
    return FilledEntries(load, effort, origin, count)


def fill_loads(entries: Entries, load: Floats) -> FilledEntries:
    """Load of each entry on a channel that is measured, not rated; ``load`` (shape (n,)) is nan where it is missing.

    What is missing is estimated as a rating is, from load a minute in place of effort. No minutes is no load.
    """
    load = np.where(entries.minutes == 0, 0.0, load)
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = np.where(entries.minutes > 0, load / entries.minutes, np.nan)
    # What is measured stands, with or without minutes; only the rest is estimated.
    measured = ~np.isnan(load)
    effort, origin, count = _estimated(replace(entries, effort=np.where(measured & np.isnan(rate), 0.0, rate)))
    origin[measured] = Origin.MEASURED
    filled = np.where(measured, load, entries.minutes * effort)
    origin[np.isnan(filled)] = Origin.MISSING
    return FilledEntries(filled, effort, origin, count)


def _estimated(entries: Entries) -> tuple[Floats, Ints, Ints]:
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
    return effort, origin, count


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
class DaySums:
    """Load by day, an item each: ``load`` nan when a session of the day stays unknown, and how much is an estimate."""

    key: Ints
    load: Floats
    estimated: Floats
    sessions: Ints


def sum_days(key: Ints, load: Floats, origin: Ints) -> DaySums:
    """Add up entries (shapes (n,)) by a key that stands for an athlete's day."""
    unique, day = np.unique(key, return_inverse=True)
    guessed = (origin == Origin.OWN_MEDIAN) | (origin == Origin.TEAM_MEDIAN)
    return DaySums(
        key=unique,
        # Rounded to what a sum of decimal fractions can be trusted for.
        load=np.round(np.bincount(day, weights=load, minlength=unique.size), 9),
        estimated=np.bincount(day, weights=np.where(guessed, load, 0.0), minlength=unique.size).astype(np.float64),
        sessions=np.bincount(day, minlength=unique.size),
    )
