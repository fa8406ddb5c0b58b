"""What is not known of the last weeks: sessions without a rating, and what they would come to were they hard."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Unrated
from uvren.core.loads import DailyLoads
from uvren.core.ratings import OWN_DAYS
from uvren.core.units import EffortMinutes
from uvren.core.windows import Bools, Floats, Ints
from uvren.services.day.loads import Definition
from uvren.services.day.recent import Recent
from uvren.store import queries
from uvren.store.models import AnchorKind, SessionKind, Squad
from uvren.store.queries.session import KIND_CODES
from uvren.store.queries.squad import Member

# The upper quartile stands for what is not known; from fewer values of their own the squad's does.
UPPER, LEAST_VALUES = 75, 3
COUNTED_DAYS = 28


@dataclass(frozen=True)
class UnratedSessions:
    """Sessions of the last weeks, an item each: row, day, kind, minutes, effort (nan: not rated), place.

    ``high`` is the rating that stands for a missing one, ``few`` where it is not of their own. ``missing`` and
    ``sessions`` count those of 28 days by row.
    """

    row: Ints
    day: Ints
    kind: Ints
    minutes: Floats
    effort: Floats
    place: list[str | None]
    high: Floats
    few: Bools
    missing: Ints
    sessions: Ints

    def of(self, definition: Definition, done: DailyLoads, known: Callable[[], Floats]) -> Unrated | None:
        """What is not known of a channel; None where every rating is there. Loads end on the desk's day.

        ``known`` gives measured loads of anybody, for who has too few of their own.
        """
        if not (self.missing > 0).any():
            return None
        if isinstance(definition.form, EffortMinutes):
            high = self._rated(definition, done.load, done.first_day)
        else:
            assert done.estimated is not None
            high = _measured(done.load, done.estimated, known)
        return Unrated(DailyLoads(done.first_day, high, done.start, before=done.before), self.missing, self.sessions)

    def leans(self, definition: Definition, done: DailyLoads) -> Bools:
        """Rows for which others' ratings or loads may stand in, having too few of their own."""
        rows = done.load.shape[0]
        out = np.zeros(rows, dtype=bool)
        out[self.row[np.isnan(self.effort) & self.few]] = True
        if isinstance(definition.form, EffortMinutes) or done.estimated is None:
            return out
        last = slice(max(done.days - OWN_DAYS, 0), None)
        known = (done.load[:, last] > 0) & (done.estimated[:, last] <= 0)
        unknown = np.isnan(done.load) | (done.estimated > 0)
        return out | (unknown.any(axis=1) & (known.sum(axis=1) < LEAST_VALUES))

    def _rated(self, definition: Definition, load: Floats, first: date) -> Floats:
        """Days with a missing rating as their sessions come to with the high one; other days as they are."""
        wanted = np.isin(self.kind, list(definition.kinds))
        column = self.day - first.toordinal()
        wanted &= (column >= 0) & (column < load.shape[1])
        each = self.minutes * np.where(np.isnan(self.effort), self.high, self.effort)
        if definition.form.places:
            each = each * definition.form.factor(self.place)
        total, open_day = np.zeros(load.shape), np.zeros(load.shape, dtype=bool)
        np.add.at(total, (self.row[wanted], column[wanted]), each[wanted])
        unrated = wanted & np.isnan(self.effort)
        open_day[self.row[unrated], column[unrated]] = True
        return np.where(open_day, np.maximum(total, np.nan_to_num(load)), np.nan_to_num(load))


def _measured(load: Floats, estimated: Floats, together: Callable[[], Floats]) -> Floats:
    """Days that are missing or estimated at the upper quartile of the athlete's own days with such work."""
    out = np.nan_to_num(load)
    known = np.where((load > 0) & (estimated <= 0), load, np.nan)[:, -OWN_DAYS:]
    for row in np.flatnonzero((np.isnan(load) | (estimated > 0)).any(axis=1)):
        own = known[row][~np.isnan(known[row])]
        values = own if own.size >= LEAST_VALUES else together()
        if values.size:
            open_day = np.isnan(load[row]) | (estimated[row] > 0)
            out[row] = np.where(open_day, np.maximum(out[row], np.percentile(values, UPPER)), out[row])
    return out


def read_unrated(db: DbSession, squad: Squad, row_of: dict[int, int], last: date, recent: Recent) -> UnratedSessions:
    """The sessions of six weeks up to a day; usual ratings come from ``recent``."""
    rows = queries.day.unrated_between(db, squad.id, last - timedelta(days=OWN_DAYS), last, list(row_of))
    athlete, day, kind, minutes, effort, place = zip(*rows, strict=True) if rows else ([],) * 6
    row = np.array([row_of[one] for one in athlete], dtype=np.int64)
    days = np.array([one.toordinal() for one in day], dtype=np.int64)
    efforts = np.array(effort, dtype=np.float64)
    kinds = np.array([KIND_CODES[one] for one in kind], dtype=np.int64)
    usual = _usual_high(recent)
    # Only what is missing is looked for.
    stands = [
        usual(one, of_kind) if given is None else (0.0, False)
        for one, of_kind, given in zip(athlete, kind, effort, strict=True)
    ]
    late = days > (last - timedelta(days=COUNTED_DAYS)).toordinal()
    return UnratedSessions(
        row=row,
        day=days,
        kind=kinds,
        minutes=np.array(minutes, dtype=np.float64),
        effort=efforts,
        place=list(place),
        high=np.array([high for high, _ in stands], dtype=np.float64),
        few=np.array([few for _, few in stands], dtype=bool),
        missing=np.bincount(row[late & np.isnan(efforts)], minlength=len(row_of)),
        sessions=np.bincount(row[late], minlength=len(row_of)),
    )


def _usual_high(recent: Recent) -> Callable[[int, SessionKind], tuple[float, bool]]:
    """The upper quartile of ratings of a kind: the athlete's own, else the squad's, else of all, else the top.

    With whether it is not their own.
    """
    own = _ratings(recent.mine.past, lambda athlete, kind: (athlete, kind))

    @cache
    def usual(athlete: int, kind: SessionKind) -> tuple[float, bool]:
        if len(own[athlete, kind]) >= LEAST_VALUES:
            return float(np.percentile(own[athlete, kind], UPPER)), False
        squads = _ratings(recent.everybody.past, lambda _, kind: kind)
        for given in (squads[kind], [one for of_kind in squads.values() for one in of_kind]):
            if len(given) >= LEAST_VALUES:
                return float(np.percentile(given, UPPER)), True
        return 10.0, True

    return usual


def _ratings(past: Sequence[Any], by: Callable[[int, SessionKind], Any]) -> dict[Any, list[float]]:
    out: dict[Any, list[float]] = defaultdict(list)
    for athlete, _, kind, _, effort, _ in past:
        if effort is not None:
            out[by(athlete, kind)].append(effort)
    return out


def declared_weeks(db: DbSession, members: Sequence[Member], as_of: date) -> Floats:
    """The usual week load that somebody has declared for each, nan for none."""
    athletes = [member.athlete_id for member in members]
    found = {
        athlete: value
        for athlete, _, _, value, _ in queries.squad.anchors_until(db, athletes, as_of, AnchorKind.USUAL_WEEK_LOAD)
    }
    return np.array([found.get(athlete) for athlete in athletes], dtype=np.float64)
