"""The squad's drills: parts of its sessions by their name, with what a minute of each comes to."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.demands import SPEED, likeness
from uvren.core.live import efforts
from uvren.core.recordings import Samples
from uvren.services.day.drilled import code_of, plain_name
from uvren.services.day.matches import SEASON_DAYS
from uvren.services.session.tracks import Track, fast_of, tracks_of
from uvren.store import queries
from uvren.store.models import Segment, Session, SessionKind, Squad

# Recordings that are looked at: of matches, and of sessions for the drills.
MOST_GAMES, MOST_DRILLS = 60, 90


@dataclass(frozen=True)
class Running:
    """What somebody runs in a minute: metres in all, and above the squad's speed; of so many recordings."""

    people: int
    metres: float
    fast: float


@dataclass(frozen=True)
class Count:
    """How often somebody does something in a minute, such as a full throw."""

    what: str
    a_minute: float


@dataclass(frozen=True)
class Drill:
    """A part by its name, over the sessions of a season that had it.

    ``minutes`` and ``weight`` are usual ones, medians. ``effort`` is the mean rating of those sessions by the part's
    weight, which is its load of a minute too; None where nobody rated one. ``running`` is None where it was not
    recorded, and ``positions`` tells it apart. ``like`` is how like the game it is.
    """

    name: str
    times: int
    last: date
    minutes: float
    weight: float
    effort: float | None
    rated: int
    running: Running | None
    positions: Mapping[str, Running]
    counts: list[Count]
    like: float | None


@dataclass
class _Pieces:
    """What is known of a drill, as it is read."""

    name: str
    parts: list[Segment] = field(default_factory=list)
    days: list[date] = field(default_factory=list)
    efforts: list[float] = field(default_factory=list)
    ran: list[tuple[str, Samples]] = field(default_factory=list)
    counted: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    counted_minutes: float = 0.0


def read_drills(db: DbSession, squad: Squad, until: date, games: list[Samples] | None = None) -> list[Drill]:
    """Parts of sessions up to a day, those most like the game first, then those done most often.

    ``games`` are recordings of matches, where they are read already.
    """
    if games is None:
        games = _games(db, squad, until)
    found = _read(db, squad, until)
    # Of one speed for everybody: a drill is held against another, not somebody against themselves.
    fast = fast_of(queries.squad.channels(db, squad.id), until)
    drills = [_drill(one, games, fast) for one in found.values()]
    return sorted(drills, key=lambda one: (-(one.like or 0.0), -one.times, one.name))


@dataclass(frozen=True)
class Library:
    """The drills, and what a minute of a match is beside them, as it was recorded."""

    drills: list[Drill]
    match: Running | None


def read_library(db: DbSession, squad: Squad, until: date) -> Library:
    games = _games(db, squad, until)
    fast = fast_of(queries.squad.channels(db, squad.id), until)
    return Library(read_drills(db, squad, until, games), _running(games, fast) if games else None)


def _games(db: DbSession, squad: Squad, until: date) -> list[Samples]:
    last = queries.session.last_positions(db, squad.id, until, MOST_GAMES, matches=True)
    return [track.samples for track in tracks_of(db, last)]


def pieces_of(part: Segment, tracks: Iterable[Track]) -> list[tuple[int, Samples]]:
    """(athlete, samples) of those who were recorded in a part."""
    begin, end = part.begins * 60, (part.begins + part.minutes) * 60
    found = ((track.athlete_id, track.samples.between(begin, end)) for track in tracks)
    return [(athlete, piece) for athlete, piece in found if piece.t.size > 1]


def _read(db: DbSession, squad: Squad, until: date) -> dict[str, _Pieces]:
    between = queries.session.sessions_between(db, squad.id, until - timedelta(days=SEASON_DAYS), until)
    done = [one for one in between if one.done and one.segments and one.kind is not SessionKind.MATCH]
    ids = [one.id for one in done]
    ratings: dict[str, list[float]] = defaultdict(list)
    people: dict[str, int] = defaultdict(int)
    for entry in queries.session.entries_of(db, ids):
        people[entry.session_id] += bool(entry.minutes)
        if entry.effort is not None and entry.minutes:
            ratings[entry.session_id].append(entry.effort)
    recorded = defaultdict(list)
    for each in queries.session.last_positions(db, squad.id, until, MOST_DRILLS, matches=False):
        recorded[str(each.session_id)].append(each)
    position = {one.athlete_id: one.position for one in queries.squad.members(db, squad.id, until)}
    counted = queries.field.counts_of(db, ids)
    out: dict[str, _Pieces] = {}
    for session in done:
        tracks = tracks_of(db, recorded[session.id], session)
        mean = float(np.mean(ratings[session.id])) if ratings[session.id] else None
        parts = session.segments
        hard = efforts(mean or 0.0, [one.minutes for one in parts], [one.weight for one in parts])
        for part, effort in zip(parts, hard, strict=True):
            mine = out.setdefault(code_of(part), _Pieces(plain_name(part.name)))
            mine.parts.append(part)
            mine.days.append(session.day)
            if mean is not None:
                mine.efforts.append(effort)
            mine.ran += [(position.get(athlete, ""), piece) for athlete, piece in pieces_of(part, tracks)]
            _count(mine, session, part, counted.get(session.id, []), people[session.id])
    return out


def _count(
    mine: _Pieces, session: Session, part: Segment, counted: Sequence[tuple[float, float, str]], people: int
) -> None:
    """Add what was counted while a part ran; a session in which nothing was counted says nothing of it."""
    if not counted or not people:
        return
    begin = session.starts_at.timestamp() + part.begins * 60
    for at, amount, what in counted:
        if begin <= at < begin + part.minutes * 60:
            mine.counted[what] += amount
    mine.counted_minutes += part.minutes * people


def _drill(of: _Pieces, games: list[Samples], fast: float) -> Drill:
    by_position: dict[str, list[Samples]] = defaultdict(list)
    for position, piece in of.ran:
        by_position[position].append(piece)
    all_of = [piece for _, piece in of.ran]
    return Drill(
        name=of.name,
        times=len(of.parts),
        last=max(of.days),
        minutes=float(np.median([part.minutes for part in of.parts])),
        weight=float(np.median([part.weight for part in of.parts])),
        effort=float(np.mean(of.efforts)) if of.efforts else None,
        rated=len(of.efforts),
        running=_running(all_of, fast) if all_of else None,
        positions={name: _running(mine, fast) for name, mine in sorted(by_position.items()) if name},
        counts=[Count(what, amount / of.counted_minutes) for what, amount in sorted(of.counted.items()) if amount > 0],
        like=likeness(all_of, games, SPEED).overlap if all_of and games else None,
    )


def _running(parts: Sequence[Samples], fast: float) -> Running:
    minutes = max(sum(part.seconds for part in parts) / 60, 1e-9)
    metres = sum(float(part.value @ part.held) for part in parts)
    quick = sum(float(part.value[part.value >= fast] @ part.held[part.value >= fast]) for part in parts)
    return Running(len(parts), metres / minutes, quick / minutes)
