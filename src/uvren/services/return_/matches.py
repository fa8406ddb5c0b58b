"""What a match is for a position on each channel, from the days on which those who played it had one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.demands import PLAYED
from uvren.store import queries
from uvren.store.models import Channel, Session, SessionKind, Squad
from uvren.store.queries.squad import Member

SEASON_DAYS = 180


@dataclass(frozen=True)
class MatchLoad:
    """A match of a position: its mean load by channel of ``n`` who played 60 % of one and more, and their minutes."""

    loads: Mapping[str, float]
    minutes: float
    n: int


def match_loads(
    db: DbSession, squad: Squad, members: Sequence[Member], channels: Sequence[Channel], as_of: date
) -> dict[str, MatchLoad]:
    """By position, and under ``""`` for everybody; the load of the day on which the match was."""
    first, last = as_of - timedelta(days=SEASON_DAYS), as_of - timedelta(days=1)
    matches = {
        one.id: one
        for one in queries.session.sessions_between(db, squad.id, first, last)
        if one.kind is SessionKind.MATCH and one.planned_minutes > 0
    }
    position = {member.athlete_id: member.position for member in members}
    played: dict[tuple[int, date], float] = {}
    for entry in queries.session.entries_of(db, list(matches)):
        whole = matches[entry.session_id].planned_minutes
        if entry.athlete_id in position and entry.minutes is not None and entry.minutes >= PLAYED * whole:
            played[entry.athlete_id, matches[entry.session_id].day] = entry.minutes
    if not played:
        return {}
    loads: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    codes = {channel.id: channel.code for channel in channels}
    for channel, athlete, day, load, _ in queries.day.daily_loads(db, list(codes), list(position), last, first):
        if (int(athlete), date.fromordinal(int(day))) in played and not np.isnan(load):
            for key in (position[int(athlete)], ""):
                loads[key][codes[int(channel)]].append(float(load))
    minutes: dict[str, list[float]] = defaultdict(list)
    for (athlete, _), each in played.items():
        for key in (position[athlete], ""):
            minutes[key].append(each)
    return {
        key: MatchLoad(
            {code: float(np.mean(mine)) for code, mine in loads[key].items()},
            float(np.mean(minutes[key])),
            len(minutes[key]),
        )
        for key in loads
    }


def matches_ahead(db: DbSession, squad: Squad, first: date, last: date, but: Collection[str] = ()) -> list[Session]:
    """Matches still to come, in order of time."""
    found = queries.session.sessions_between(db, squad.id, first, last)
    return [one for one in found if one.kind is SessionKind.MATCH and not one.done and one.id not in but]


def usual_minutes(db: DbSession, squad: Squad, athlete_id: int, before: date) -> float | None:
    """Minutes that somebody played of a match before a day, as a mean of those they were in; None without one."""
    first, last = before - timedelta(days=SEASON_DAYS), before - timedelta(days=1)
    matches = [
        one.id for one in queries.session.sessions_between(db, squad.id, first, last) if one.kind is SessionKind.MATCH
    ]
    mine = [
        entry.minutes
        for entry in queries.session.entries_of(db, matches)
        if entry.athlete_id == athlete_id and entry.minutes
    ]
    return float(np.mean(mine)) if mine else None
