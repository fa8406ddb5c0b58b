"""Squad by figure: the last session and the week of everybody, in per cent of a match and in own spreads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.demands import Reference, own_z, percent
from uvren.core.windows import Bools, Floats
from uvren.services.day.loads import KNOWN, Done, channel_loads, definitions_of
from uvren.services.day.matches import read_played, season_until
from uvren.services.session.terms import Figure
from uvren.store import queries
from uvren.store.models import Channel, Session, Squad
from uvren.store.queries.squad import Member

WEEK, WEEKS_BEFORE = 7, 12


@dataclass(frozen=True)
class Cell:
    """A figure: what it was, in per cent of a match, and in own standard deviations from what is usual.

    None where it is not known; ``estimated`` where some of it was not said or measured.
    """

    amount: float | None
    percent: float | None
    z: float | None
    estimated: bool


@dataclass(frozen=True)
class HeatRow:
    """Somebody's figures; ``session`` is None for who was not in it."""

    athlete_id: int
    name: str
    number: int | None
    position: str
    session: list[Cell] | None
    week: list[Cell]


@dataclass(frozen=True)
class Heat:
    """``session`` is the last one up to the day, None before the first."""

    session: Session | None
    figures: list[Figure]
    rows: list[HeatRow]


def read_heat(db: DbSession, squad: Squad, day: date) -> Heat:
    members = queries.squad.members(db, squad.id, day)
    channels = queries.squad.channels(db, squad.id)
    done = season_until(db, squad, day)
    played = read_played(db, squad, channels, {one.athlete_id: one.position for one in members}, done, day)
    measure = played.measure()
    loads = _Loads(done, channels)
    session = _last(db, squad, day, done)
    rows = []
    for member in members:
        match = measure.of(member.athlete_id, member.position)[0]
        last = None if session is None else loads.session(member, session.id, match)
        rows.append(
            HeatRow(
                member.athlete_id, member.name, member.number, member.position, last, loads.week(member, day, match)
            )
        )
    figures = [
        Figure(one.code, "Load" if one.is_main else one.name, one.unit, one.mark, peaks=False) for one in channels
    ]
    return Heat(session, figures, sorted(rows, key=lambda row: row.name))


def _last(db: DbSession, squad: Squad, day: date, done: Done) -> Session | None:
    """The last session that somebody was in."""
    known = set(done.entries.session_id)
    found = queries.session.sessions_between(db, squad.id, done.first, day)
    return next((one for one in reversed(found) if one.done and one.id in known), None)


class _Loads:
    """Loads of the entries of a season: ``load`` and ``known``, shapes (entries, channels)."""

    def __init__(self, done: Done, channels: Sequence[Channel]) -> None:
        self.done, self.entries = done, done.entries
        self.there = np.nan_to_num(self.entries.minutes) > 0
        each = [channel_loads(done, one.code, definitions_of(one)) for one in channels]
        shape = (done.count, 0)
        self.load = (
            np.stack([np.where(e.expected, e.filled.load, np.nan) for e in each], 1) if each else np.zeros(shape)
        )
        self.known = np.stack([np.isin(e.filled.origin, list(KNOWN)) for e in each], 1) if each else np.zeros(shape)

    def session(self, member: Member, session_id: str, match: Reference | None) -> list[Cell] | None:
        """A session against the own ones of its kind before it."""
        mine = self.there & (self.entries.athlete == member.athlete_id)
        at = next((i for i in np.flatnonzero(mine) if self.entries.session_id[i] == session_id), None)
        if at is None:
            return None
        like = mine & (self.entries.kind == self.entries.kind[at]) & (self.entries.day < self.entries.day[at])
        return self._cells(self.load[at], self.load[like], match, self.known[at])

    def week(self, member: Member, day: date, match: Reference | None) -> list[Cell]:
        """The seven days up to a day, against the own sevens before them."""
        mine = self.there & (self.entries.athlete == member.athlete_id)
        ago = day.toordinal() - self.entries.day
        back = ago // WEEK
        # Only whole weeks: the one in which somebody came is none.
        whole = (int(ago[mine].max(initial=0)) + 1) // WEEK
        weeks = range(1, min(whole, WEEKS_BEFORE + 1))
        now = mine & (back == 0)
        before = [self._sum(mine & (back == one)) for one in weeks]
        known = (self.known | np.isnan(self.load))[now].all(axis=0)
        return self._cells(self._sum(now), np.array(before).reshape(-1, self.load.shape[1]), match, known)

    def _sum(self, rows: Bools) -> Floats:
        return np.asarray(np.nan_to_num(self.load[rows]).sum(axis=0))

    def _cells(self, now: Floats, before: Floats, match: Reference | None, known: Bools) -> list[Cell]:
        shares = np.full(now.shape, np.nan) if match is None else percent(match, now)
        spread = [own_z(before[:, i], value) for i, value in enumerate(now)]
        return [
            Cell(_or_none(now[i]), _or_none(shares[i]), _or_none(spread[i]), not known[i] and not np.isnan(now[i]))
            for i in range(now.size)
        ]


def _or_none(value: float) -> float | None:
    return None if np.isnan(value) else float(value)
