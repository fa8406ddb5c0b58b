"""Whether a session was like the game, which drill to change and how, and the drills that are like it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.demands import SPEED, Change, Likeness, likeness, to_change
from uvren.core.demands.likeness import bouts
from uvren.core.recordings import Samples
from uvren.services.session.drills import MOST_GAMES, Drill, pieces_of, read_drills
from uvren.services.session.pattern import NextTime, next_time
from uvren.services.session.sessions import find_session
from uvren.services.session.tracks import Track, tracks_of
from uvren.store import queries
from uvren.store.models import Session, Squad

# What the bins of speed are called, and those that are told apart in a sentence.
BINS = ("standing", "walking", "easy running", "quick running", "fast running", "sprinting")
# Below this a share of the time is as in a match.
TELLS = 0.03
# A part of the least weight is a warm-up or its end: nobody makes a game of it.
WARMS_UP = 1.0
# How long runs and rests last, in seconds, for the two small pictures.
LENGTHS = (0, 4, 8, 12, 16, 20, 24, 28, 32, 36)
RESTS = (0, 8, 16, 24, 32, 40, 48, 56, 64, 72)


@dataclass(frozen=True)
class ToChange:
    """A part of the session that would be liker the game if it were done otherwise, and where it comes next."""

    part: str
    minutes: float
    change: Change
    next: NextTime | None


@dataclass(frozen=True)
class GameLike:
    """A session held against matches.

    ``shares`` are training's and the match's by bin; ``runs`` and ``rests`` the shares of bouts by length, training's
    and the match's. ``after`` is the whole session's likeness with all changes. ``sentences`` say it.
    """

    people: int
    games: int
    found: Likeness
    runs: tuple[list[float], list[float]]
    rests: tuple[list[float], list[float]]
    changes: list[ToChange]
    after: float | None
    drills: list[Drill]
    said: str


def read_game_like(db: DbSession, squad: Squad, session_id: str) -> GameLike | None:
    """None where the session or no match was recorded. Raises NotFound."""
    session = find_session(db, squad, session_id)
    recorded = [one for one in queries.session.recordings_of(db, session.id) if one.counts]
    mine = [_within(track, session) for track in tracks_of(db, recorded, session)]
    last = queries.session.last_positions(db, squad.id, session.day, MOST_GAMES, matches=True)
    games = [track.samples for track in tracks_of(db, [one for one in last if one.session_id != session.id])]
    if not mine or not games:
        return None
    found = likeness([track.samples for track in mine], games, SPEED)
    changes, after = _changes(db, squad, session, mine, games, found)
    return GameLike(
        people=len(mine),
        games=len(games),
        found=found,
        runs=(_lengths(mine, 0, LENGTHS), _lengths(games, 0, LENGTHS)),
        rests=(_lengths(mine, 1, RESTS), _lengths(games, 1, RESTS)),
        changes=changes,
        after=after,
        drills=read_drills(db, squad, session.day, games),
        said=_said(found),
    )


def _within(track: Track, session: Session) -> Track:
    """The part of a track that belongs to the session: from its first part to the end of its last one."""
    if not session.segments:
        return track
    begin = min(one.begins for one in session.segments) * 60
    end = max(one.begins + one.minutes for one in session.segments) * 60
    return replace(track, samples=track.samples.between(begin, end))


def _changes(
    db: DbSession, squad: Squad, session: Session, tracks: Sequence[Track], games: list[Samples], found: Likeness
) -> tuple[list[ToChange], float | None]:
    """The two parts that would gain most, and how like the game the session would be with them."""
    each = []
    for part in session.segments:
        pieces = [piece for _, piece in pieces_of(part, tracks)]
        change = to_change(pieces, games, SPEED, part.minutes) if pieces and part.weight > WARMS_UP else None
        if change is not None:
            following = next_time(db, squad, session, part.name, change.on, change.off)
            each.append(ToChange(part.name, part.minutes, change, following))
    each.sort(key=lambda one: (one.change.now - one.change.after) * one.minutes)
    chosen = each[:2]
    whole = sum(part.minutes for part in session.segments)
    if not chosen or found.overlap is None:
        return [], None
    gained = sum((one.change.after - one.change.now) * one.minutes for one in chosen) / whole
    return chosen, min(found.overlap + gained, 1.0)


def _lengths(of: Sequence[Track] | Sequence[Samples], which: int, edges: Sequence[float]) -> list[float]:
    """Share of the bouts of work (0) or rest (1) by length; the last bin has no end."""
    samples = [one.samples if isinstance(one, Track) else one for one in of]
    lengths = np.concatenate([np.zeros(0), *(bouts(one, SPEED)[which] for one in samples)])
    counts = np.bincount(np.searchsorted(edges, lengths, side="right") - 1, minlength=len(edges))
    return [float(count) for count in counts / max(lengths.size, 1)]


def _said(found: Likeness) -> str:
    """``75 % of the time was spent as in a match. Too little standing, too little fast running.``"""
    if found.overlap is None or found.training.share is None or found.match.share is None:
        return ""
    off = [(a - b, name) for a, b, name in zip(found.training.share, found.match.share, BINS, strict=True)]
    # What is missing says what to do; what there is too much of follows from it.
    little = [name for by, name in sorted(off) if by <= -TELLS][:2]
    said = f"{say.percent(found.overlap)} of the time was spent as in a match."
    if not little:
        return said
    words = ", ".join(f"too little {name}" for name in little)
    return f"{said} {words[0].upper()}{words[1:]}."
