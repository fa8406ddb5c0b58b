"""How matches and court sessions were run, second by second: pods of the last matches and of the sessions between them.

What each came to in fast metres is known already; the runs are drawn so that they come to just that.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.windows import Floats
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.session.entries import EntryChange
from uvren.services.session.recordings import keep_recording
from uvren.simulate.seasons import TODAY
from uvren.store import queries
from uvren.store.models import RecordingKind, Session, SessionKind, Squad

HERTZ = 5
FAST = 5.0
MATCHES, COURTS = 4, 3


@dataclass(frozen=True)
class Pace:
    """How one kind of work is run: seconds on and off (medians), speed on and off (m/s), and how often one stands."""

    on: float
    off: float
    hard: float
    easy: float
    stands: float


GAME = Pace(6, 16, 4.4, 0.8, 0.5)
PARTS = {
    "Warm-up": Pace(30, 20, 2.0, 0.8, 0.2),
    "Throwing and finishing": Pace(8, 40, 3.4, 0.7, 0.4),
    "Open play": Pace(16, 40, 3.6, 1.0, 0.15),
}
# What is faster than this is made faster or slower until it comes to the metres that are known.
QUICK = 3.0


def run(pace: Pace, seconds: int, random: np.random.Generator) -> Floats:
    """Speeds wanted in each second of a piece of work."""
    out = np.zeros(0)
    while out.size < seconds:
        on, off = (max(int(random.lognormal(np.log(median), 0.45)), 2) for median in (pace.on, pace.off))
        # Nobody runs long as fast as short.
        hard = pace.hard * random.uniform(0.6, 1.35) * (on / pace.on) ** -0.2
        easy = 0.1 if random.random() < pace.stands else pace.easy * random.uniform(0.6, 1.6)
        out = np.concatenate([out, np.full(on, hard), np.full(off, easy)])
    return out[:seconds]


def speeds(wanted: Floats, metres: float, random: np.random.Generator, hertz: int = HERTZ) -> Floats:
    """Speeds as a pod writes them (m/s, ``hertz`` times a second) that come to so many metres of fast running."""
    from scipy.signal import lfilter

    # A body takes about a second to get to a new speed.
    keep = 0.3 ** (1 / hertz)
    fine = np.asarray(lfilter([1 - keep], [1.0, -keep], np.repeat(wanted, hertz)))
    noise = random.normal(0, 0.05, fine.size)

    def at(scale: float) -> Floats:
        quick = np.where(fine > QUICK, QUICK + (fine - QUICK) * scale, fine)
        return np.clip(np.round(quick + noise, 2), 0, 9.3)

    low, high = 0.0, 8.0
    for _ in range(30):
        middle = (low + high) / 2
        tried = at(middle)
        low, high = (middle, high) if tried[tried >= FAST].sum() / hertz < metres else (low, middle)
    return at(low)


def record_games(
    db: DbSession, squad: Squad, sessions: Sequence[Session], done: Sequence[EntryChange], random: np.random.Generator
) -> None:
    """Keep what pods recorded of the last matches and court sessions, last night's apart. Does not commit."""
    over = sorted((one for one in sessions if one.day < TODAY), key=lambda one: one.starts_at)
    matches = [one for one in over if one.kind is SessionKind.MATCH][-MATCHES:]
    courts = [one for one in over if one.kind is SessionKind.COURT][-COURTS - 1 : -1]
    chosen = {one.id: one for one in matches + courts}
    given = {
        (work.session_id, work.athlete_id): work.data["value"]
        for work in queries.session.works_of(db, list(chosen))
        if work.what == "given:fast_running"
    }
    changed = set()
    for change in done:
        metres = given.get((change.session_id, change.athlete_id))
        if metres is None or not change.minutes:
            continue
        session = chosen[change.session_id]
        speed = speeds(wanted(session, change.minutes, random), metres, random)
        columns = {"t": np.arange(speed.size) / HERTZ, "speed": speed}
        keep_recording(db, squad, session, change.athlete_id, RecordingKind.POSITION, "pod", session.starts_at, columns)
        changed.add((change.athlete_id, session.day))
    db.flush()
    refresh_daily_loads(db, squad.id, changed)


def wanted(session: Session, minutes: float, random: np.random.Generator) -> Floats:
    """Speeds wanted in each second of somebody's part in a session, part by part."""
    if session.kind is SessionKind.MATCH:
        return run(GAME, int(minutes * 60), random)
    parts = [(PARTS.get(part.name, GAME), part.minutes) for part in session.segments]
    whole = np.concatenate([run(pace, int(length * 60), random) for pace, length in parts])
    return whole[: int(minutes * 60)]
