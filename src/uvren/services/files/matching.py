"""Whose and of which session everything in a file is."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from itertools import pairwise

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files import shape
from uvren.files.errors import Problem
from uvren.services.day.people import PeopleBook
from uvren.services.files import asked, mappings
from uvren.services.files.asked import Question
from uvren.services.files.mappings import FileKind, Spec
from uvren.services.files.read_rows import NEAR
from uvren.services.files.read_samples import Around, Content, Part, Row, Told
from uvren.services.session.recordings import Kept
from uvren.store import queries
from uvren.store.models import (
    Session,
    Squad,
)

# A recording may begin before its session does, and end after it was to end.
EARLY, LATE = timedelta(minutes=45), timedelta(minutes=90)
# Kinds of table whose rows are an athlete's.
OF_PEOPLE = (FileKind.REPORTS, FileKind.TESTS)
# A pause of this length in the samples parts two sessions.
PAUSE = 20 * 60.0


def said_of(session: Session) -> str:
    """A session by its name and day."""
    return f"{session.opponent or session.title}, {say.day(session.day)} {session.day.year}"


@dataclass
class Placed:
    """Samples of one athlete in one session; ``session_id`` is None where there is none at that time."""

    athlete: int
    part: Part
    session_id: str | None
    begins: float
    ends: float
    kept: Kept | None = None


@dataclass
class Matched:
    """Whose and of which session everything in a file is.

    ``people`` are (what the file says, the athlete or None, whether it is known who is meant). ``making`` are sessions
    that the file speaks of and that are not there, by what tells them apart. ``moves`` are first days in the squad that
    go back for it.
    """

    people: list[tuple[str, int | None, bool]]
    placed: list[Placed] = field(default_factory=list)
    rows: list[tuple[Row, int, str | None]] = field(default_factory=list)
    told: list[tuple[Told, int | None]] = field(default_factory=list)
    sessions: dict[str, Session] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)
    questions: list[Question] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    moves: dict[int, date] = field(default_factory=dict)

    def unplaced_said(self, spec: Spec) -> list[str]:
        """The times for which there is no session, in words."""
        spans = {(round(one.begins / 600), one.begins) for one in self.placed if one.session_id is None}
        said: dict[str, None] = {}
        for _, begins in sorted(spans):
            at = datetime.fromtimestamp(begins, spec.tz)
            said.setdefault(f"{say.day(at.date())} {at.year}, {at:%H}:{at.minute // 10 * 10:02d}")
        for row in sorted((row for row, _, session in self.rows if session is None), key=lambda row: row.day):
            said.setdefault(f"{say.day(row.day)} {row.day.year}")
        return list(said)


def around_of(db: DbSession, squad: Squad, name: str, today: date) -> Around:
    """What is known around a file before it is read."""
    spans = queries.squad.memberships_of(db, squad.id, None)
    names = {shape.plain(one.athlete.name) for one in spans}
    last = {name.split()[-1] for name in names if name}
    return Around(today, frozenset(names | last), name.rsplit(".", maxsplit=1)[0])


def match(db: DbSession, squad: Squad, content: Content, spec: Spec, name: str) -> Matched:
    """Match a file's names to people and its times to sessions."""
    days = [row.day for row in content.rows] + [one.day for one in content.told if one.day is not None]
    spans = [(float(np.nanmin(part.columns["t"])), float(np.nanmax(part.columns["t"]))) for part in content.parts]
    days += [datetime.fromtimestamp(moment, spec.tz).date() for span in spans for moment in span]
    if not days:
        return Matched([], told=[(one, None) for one in content.told] if spec.kind not in OF_PEOPLE else [])
    book = PeopleBook(db, squad, min(days))
    matched = Matched([])
    found: dict[str, int | None] = {}
    named = (content.parts, content.rows, content.told if spec.kind in OF_PEOPLE else [])
    for said in dict.fromkeys(one.said for several in named for one in several):
        if said:
            known, athlete = book.find(said)
        else:
            athlete = spec.athlete or (None if spec.of(mappings.Role.ATHLETE) else book.in_file_name(name))
            known = athlete is not None
        matched.people.append((said, athlete, known))
        found[said] = athlete
    first, last = min(days) - timedelta(days=1), max(days) + timedelta(days=1)
    by_day: dict[date, list[Session]] = defaultdict(list)
    for session in queries.session.sessions_between(db, squad.id, first, last):
        by_day[session.day].append(session)
    for part in content.parts:
        athlete = found[part.said]
        if athlete is not None:
            for piece in _pieces(part):
                _place(matched, athlete, piece, [one for day in _days_of(piece, spec) for one in by_day.get(day, ())])
    who = _Who(db, squad, book, found, spec, matched)
    if spec.kind in OF_PEOPLE:
        matched.told = [(one, athlete) for one in content.told
                        if (athlete := who.of(one.said, one.number, one.row, one.day)) is not None]  # fmt: skip
    else:
        matched.told = [(one, None) for one in content.told]
    _match_rows(matched, who, content.rows, by_day, spec)
    who.ask()
    return matched


def _days_of(part: Part, spec: Spec) -> list[date]:
    """The days that a recording touches, with those around them."""
    begins, ends = (datetime.fromtimestamp(float(part.columns["t"][at]), spec.tz).date() for at in (0, -1))
    count = min((ends - begins).days, 3) + 3
    return [begins + timedelta(days=n - 1) for n in range(count)]


class _Who:
    """Whose a row is, by name and number, and whether they were in the squad on its day."""

    def __init__(
        self, db: DbSession, squad: Squad, book: PeopleBook, found: dict[str, int | None], spec: Spec, matched: Matched
    ) -> None:
        self.book, self.found, self.spec, self.matched = book, found, spec, matched
        self.spans: dict[int, list[tuple[date, date | None]]] = defaultdict(list)
        self.names: dict[int, str] = {}
        for one in queries.squad.memberships_of(db, squad.id, None):
            self.spans[one.athlete_id].append((one.from_day, one.to_day))
            self.names[one.athlete_id] = one.athlete.name
        self.early: dict[int, list[date]] = defaultdict(list)
        self.disagree: dict[tuple[str, str], tuple[int, int]] = {}

    def of(self, said: str, number: str, row: int, day: date | None) -> int | None:
        """The athlete of a row; None where nobody is meant, or they were not in the squad."""
        athlete = self.found.get(said)
        if athlete is None:
            return None
        digits = number.strip().lstrip("#0")
        if digits and said:
            known, other = self.book.find(digits)
            if known and other is not None and other != athlete:
                self.disagree[said, digits] = athlete, other
                athlete = other if self.spec.answer("number") == "number" else athlete
        if day is None or any(begins <= day <= (ends or day) for begins, ends in self.spans[athlete]):
            return athlete
        begins = min(begin for begin, _ in self.spans[athlete])
        if day < begins:
            self.early[athlete].append(day)
            return None if self.spec.answer("from_day") == "leave" else athlete
        why = f"{self.names[athlete]} was not in the squad on {say.day(day)} {day.year}."
        self.matched.problems.append(Problem(row, "", said, why))
        return None

    def ask(self) -> None:
        """What was found to be open."""
        if self.disagree and not self.spec.answer("number"):
            (said, number), (_, other) = next(iter(self.disagree.items()))
            self.matched.questions.append(Question(
                "number",
                f"{said} stands beside number {number}, which is {self.names[other]}’s here "
                f"({say.count(len(self.disagree), 'such row', 'such rows')}). Which counts?",
                asked.NUMBERS,
            ))  # fmt: skip
        if not self.early:
            return
        answer = self.spec.answer("from_day")
        if not answer:
            athlete = next(iter(self.early))
            first, begins = min(self.early[athlete]), min(begin for begin, _ in self.spans[athlete])
            others = len(self.early) - 1
            also = f", and so it is for {say.count(others, 'other', 'others')}" if others else ""
            said = (f"{self.names[athlete]} is in the squad from {say.day(begins)} {begins.year}; this file begins on "
                    f"{say.day(first)} {first.year}{also}.")  # fmt: skip
            self.matched.questions.append(Question("from_day", said, asked.MOVE))
        if answer != "leave":
            self.matched.moves = {athlete: min(days) for athlete, days in self.early.items()}


def _match_rows(
    matched: Matched, who: _Who, rows: Sequence[Row], by_day: dict[date, list[Session]], spec: Spec
) -> None:
    keys: dict[date, list[tuple[str, int]]] = defaultdict(list)
    for row in rows:
        key = (row.label.casefold(), row.nth)
        if row.starts is None and key not in keys[row.day]:
            keys[row.day].append(key)
    rows = _near_starts(matched, rows, by_day, spec)
    for row in rows:
        athlete = who.of(row.said, row.number, row.row, row.day)
        if athlete is None:
            continue
        session, why = _session_of(row, by_day.get(row.day, ()), keys[row.day])
        if session is None and why:
            matched.problems.append(Problem(row.row, "", say.day(row.day), why))
            continue
        if session is not None:
            matched.sessions[session.id] = session
        matched.rows.append((row, athlete, session.id if session else None))


def _near_starts(matched: Matched, rows: Sequence[Row], by_day: dict[date, list[Session]], spec: Spec) -> Sequence[Row]:
    """Starts a few minutes apart on a day without a session are offered as one session."""
    starts: dict[date, set[datetime]] = defaultdict(set)
    for row in rows:
        if row.starts is not None and not by_day.get(row.day):
            starts[row.day].add(row.starts)
    first: dict[datetime, datetime] = {}
    for several in starts.values():
        begins = None
        for at in sorted(several):
            begins = at if begins is None or at - begins > NEAR else begins
            if at != begins:
                first[at] = begins
    if not first:
        return rows
    if not spec.answer("near"):
        at = next(iter(first))
        one, other = first[at].astimezone(spec.tz), at.astimezone(spec.tz)
        said = (f"Some starts lie a few minutes apart, as {one:%H:%M} and {other:%H:%M} on {say.day(one.date())} "
                f"{one.year}. What are they?")  # fmt: skip
        matched.questions.append(Question("near", said, asked.NEAR))
    if spec.answer("near") == "each":
        return rows
    return [row if row.starts is None or row.starts not in first else replace(row, starts=first[row.starts])
            for row in rows]  # fmt: skip


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


def _session_of(row: Row, that_day: Sequence[Session], keys: Sequence[tuple[str, int]]) -> tuple[Session | None, str]:
    """The session a row means, or why that cannot be said; (None, nothing) where there is none on that day.

    ``keys`` tell the sessions of this day in the file apart, in its order.
    """
    if not that_day:
        return None, ""
    if row.starts is not None:
        starts = row.starts
        near = min(that_day, key=lambda session: abs(session.starts_at - starts))
        return (near, "") if abs(near.starts_at - starts) <= timedelta(hours=3) else (None, "")
    label = row.label.casefold()
    named = [session for session in that_day
             if label and label in (session.title.casefold(), (session.opponent or "").casefold())]  # fmt: skip
    if len(named) == 1:
        return named[0], ""
    if len(that_day) > len(keys):
        if len(that_day) == 1:
            return that_day[0], ""
        names = " and ".join(session.opponent or session.title for session in that_day)
        return None, f"There are {len(that_day)} sessions on that day ({names}); a time would tell which is meant."
    at = keys.index((label, row.nth))
    return (that_day[at], "") if at < len(that_day) else (None, "")
