"""Whose and of which session everything in a file is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.errors import Problem
from uvren.services.day.people import PeopleBook
from uvren.services.session import mappings
from uvren.services.session.mappings import Spec
from uvren.services.session.read_file import Content, Part, Row
from uvren.store import queries
from uvren.store.models import (
    Session,
    Squad,
)

# A recording may begin before its session does, and end after it was to end.
EARLY, LATE = timedelta(minutes=45), timedelta(minutes=90)
# A pause of this length in the samples parts two sessions.
PAUSE = 20 * 60.0


def said_of(session: Session) -> str:
    """A session by its name and day."""
    return f"{session.opponent or session.title}, {say.day(session.day)}"


@dataclass
class Placed:
    """Samples of one athlete in one session; ``session_id`` is None where there is none at that time."""

    athlete: int
    part: Part
    session_id: str | None
    begins: float
    ends: float


@dataclass
class Matched:
    """Whose and of which session everything in a file is."""

    people: list[tuple[str, int | None, bool]]
    placed: list[Placed] = field(default_factory=list)
    rows: list[tuple[Row, int, str | None]] = field(default_factory=list)
    sessions: dict[str, Session] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)

    def unplaced_said(self, spec: Spec) -> list[str]:
        """The times for which there is no session, in words."""
        spans = {(round(one.begins / 600), one.begins) for one in self.placed if one.session_id is None}
        said: dict[str, None] = {}
        for _, begins in sorted(spans):
            at = datetime.fromtimestamp(begins, spec.tz)
            said.setdefault(f"{say.day(at.date())}, {at:%H}:{at.minute // 10 * 10:02d}")
        for row, _, session in self.rows:
            if session is None:
                said.setdefault(say.day(row.day))
        return list(said)


def match(db: DbSession, squad: Squad, content: Content, spec: Spec, name: str) -> Matched:
    """Match a file's names to people and its times to sessions."""
    days = [row.day for row in content.rows]
    spans = [(float(np.nanmin(part.columns["t"])), float(np.nanmax(part.columns["t"]))) for part in content.parts]
    days += [datetime.fromtimestamp(moment, spec.tz).date() for span in spans for moment in span]
    if not days:
        return Matched([])
    book = PeopleBook(db, squad, max(days))
    matched = Matched([])
    found: dict[str, int | None] = {}
    for said in dict.fromkeys([*(part.said for part in content.parts), *(row.said for row in content.rows)]):
        if said:
            known, athlete = book.find(said)
        else:
            athlete = spec.athlete or (None if spec.of(mappings.Role.ATHLETE) else book.in_file_name(name))
            known = athlete is not None
        matched.people.append((said, athlete, known))
        found[said] = athlete
    first, last = min(days) - timedelta(days=1), max(days) + timedelta(days=1)
    sessions = queries.session.sessions_between(db, squad.id, first, last)
    for part in content.parts:
        athlete = found[part.said]
        if athlete is not None:
            for piece in _pieces(part):
                _place(matched, athlete, piece, sessions)
    for row in content.rows:
        athlete = found[row.said]
        if athlete is not None:
            session, why = _session_of(row, sessions)
            if session is None and why:
                matched.problems.append(Problem(row.row, "", say.day(row.day), why))
                continue
            if session is not None:
                matched.sessions[session.id] = session
            matched.rows.append((row, athlete, session.id if session else None))
    return matched


def _pieces(part: Part) -> list[Part]:
    """The part cut at long pauses. Samples out of order are sorted for it."""
    t = part.columns["t"]
    columns = part.columns
    if t.size > 1 and not (t[1:] >= t[:-1]).all():
        order = np.argsort(t, kind="stable")
        columns = {name: column[order] for name, column in columns.items()}
        t = columns["t"]
    cuts = np.flatnonzero(np.diff(t) > PAUSE) + 1
    if cuts.size == 0:
        return [Part(part.said, part.kind, columns)]
    edges = [0, *cuts.tolist(), t.size]
    return [
        Part(part.said, part.kind, {name: column[a:b] for name, column in columns.items()}) for a, b in pairwise(edges)
    ]


def _place(matched: Matched, athlete: int, part: Part, sessions: Sequence[Session]) -> None:
    t = part.columns["t"]
    # A single sample is of its second.
    begins, ends = float(t[0]), float(t[-1]) + 1.0
    best, most = None, 0.0
    for session in sessions:
        start = session.starts_at.timestamp()
        planned = start + session.planned_minutes * 60
        inside = min(ends, planned) - max(begins, start)
        # Time within the plan counts most; what spills over its edges only tells apart what else would be equal.
        around = min(ends, planned + LATE.total_seconds()) - max(begins, start - EARLY.total_seconds())
        score = max(inside, 0.0) + 0.01 * max(around, 0.0)
        if score > most:
            best, most = session, score
    if best is not None:
        matched.sessions[best.id] = best
    for one in matched.placed:
        if best is not None and one.session_id == best.id and one.athlete == athlete and one.part.kind is part.kind:
            columns = {name: np.concatenate([one.part.columns[name], column]) for name, column in part.columns.items()}
            one.part = Part(part.said, part.kind, columns)
            one.begins, one.ends = min(one.begins, begins), max(one.ends, ends)
            return
    matched.placed.append(Placed(athlete, part, best.id if best else None, begins, ends))


def _session_of(row: Row, sessions: Sequence[Session]) -> tuple[Session | None, str]:
    """The session a row means, or why that cannot be said; (None, nothing) where there is none on that day."""
    that_day = [session for session in sessions if session.day == row.day]
    if row.starts is not None and that_day:
        near = min(that_day, key=lambda session: abs(session.starts_at - row.starts))  # type: ignore[operator]
        return (near, "") if abs(near.starts_at - row.starts) <= timedelta(hours=3) else (None, "")
    if len(that_day) > 1:
        names = " and ".join(session.opponent or session.title for session in that_day)
        return None, f"There are {len(that_day)} sessions on that day ({names}); a time would tell which is meant."
    return (that_day[0], "") if that_day else (None, "")
