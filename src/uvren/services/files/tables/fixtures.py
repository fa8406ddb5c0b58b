"""Matches and other sessions to come, from a list or from a calendar's file."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime, time

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.errors import Problem
from uvren.services.day.people import folded
from uvren.services.files.making import USUAL_EFFORT, kind_said
from uvren.services.files.mappings import Role, Spec
from uvren.services.files.matching import Matched
from uvren.services.files.read_samples import Told
from uvren.services.files.tables.table import Report, Table, Undo, stood
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Session, SessionKind, Squad, Venue

MATCH_MINUTES, MATCH_EFFORT, MATCH_HOUR = 90.0, 7.0, 15
# Said of a session by a calendar's file; what staff say in its place is theirs, and stays.
IN_THE_CALENDAR = "Called off in the calendar"
_AGAINST = re.compile(r"^(vs?\.?|@|at|against)\s*\b", re.IGNORECASE)


@dataclass(frozen=True)
class Fixture:
    """A session that a list or a calendar speaks of; ``uid`` is that of its event in a calendar's file."""

    new: NewSession
    day: date
    uid: str
    called_off: bool

    @property
    def key(self) -> tuple[date | datetime, str]:
        """What tells it apart: in a list its day and name, in a calendar, which has two of a day, its start too."""
        name = folded(self.new.opponent or self.new.title)
        return (self.new.starts_at if self.uid else self.day, name)


def fixtures(matched: Matched, spec: Spec) -> list[Fixture]:
    """What the rows speak of, each at its time, or at the usual one where they say none."""
    out = []
    for one, _ in matched.told:
        if one.day is None:
            continue
        title = one.words.get(Role.SESSION, "").strip()
        opponent = _AGAINST.sub("", one.words.get(Role.OPPONENT, "").strip()) or _opponent_in(title)
        kind = SessionKind.MATCH if one.words.get(Role.OPPONENT) else kind_said(title) or spec.made_kind
        starts = one.starts or datetime.combine(one.day, time(MATCH_HOUR), spec.tz).astimezone(UTC)
        match = kind in (None, SessionKind.MATCH)
        new = NewSession(
            starts, kind or SessionKind.MATCH, (title or "Match")[:120],
            min(max(one.numbers.get(Role.MINUTES, MATCH_MINUTES), 1.0), 600.0),
            one.numbers.get(Role.EFFORT, MATCH_EFFORT if match else USUAL_EFFORT),
            opponent=(opponent[:100] or None) if match else None, venue=_venue(one) if match else None,
            place=one.words.get(Role.PLACE, "").strip() or None,
        )  # fmt: skip
        out.append(Fixture(new, one.day, one.words.get(Role.EVENT, ""), Role.CALLED_OFF in one.words))
    return out


def _opponent_in(title: str) -> str:
    """Whom a title names: “Match v Northby”, “@ Northby”."""
    found = re.search(r"(?:^|\s)(?:vs?\.?|against|@)\s+(.+)$", title, re.IGNORECASE)
    return found[1].strip() if found else ""


def _venue(one: Told) -> Venue | None:
    said = one.words.get(Role.VENUE, "") or one.words.get(Role.PLACE, "")
    title = one.words.get(Role.OPPONENT, "") or one.words.get(Role.SESSION, "")
    if "@" in title or said.casefold() in ("a", "away"):
        return Venue.AWAY
    return Venue.HOME if said.casefold() in ("h", "home") else None


def _check(db: DbSession, squad: Squad, matched: Matched, spec: Spec, today: date) -> None:
    nameless = [one for one, _ in matched.told
                if not one.words.get(Role.OPPONENT) and not one.words.get(Role.SESSION)]  # fmt: skip
    for one in nameless:
        matched.problems.append(Problem(one.row, "", "", "It has no opponent and no name."))
    gone = {id(one) for one in nameless}
    matched.told = [(one, athlete) for one, athlete in matched.told if id(one) not in gone]
    timeless = sum(one.starts is None for one, _ in matched.told)
    if timeless:
        matched.notes.append(f"{say.count(timeless, 'row')} without a start: {MATCH_HOUR}:00 is taken.")


def _found(squad: Squad, matched: Matched, spec: Spec, today: date) -> list[str]:
    out = []
    for one in fixtures(matched, spec):
        at = one.new.starts_at.astimezone(spec.tz)
        off = ", called off" if one.called_off else ""
        out.append(f"{one.new.opponent or one.new.title}, {say.day(at.date())} {at.year}, {at:%H:%M}{off}")
    return out


def _write(
    db: DbSession, squad: Squad, matched: Matched, spec: Spec, undo: Undo, *, stamp: Stamp, today: date
) -> Report:
    wanted = fixtures(matched, spec)
    own = queries.session.of_calendar(db, squad.id, [one.uid for one in wanted if one.uid])
    days = [one.day for one in wanted] or [today]
    standing = queries.session.planned_between(db, squad.id, min(days), max(days))
    there = {(at, folded(one.opponent or one.title)) for one in standing for at in (one.day, one.starts_at)}
    fresh: list[Fixture] = []
    changed, stands = 0, 0
    undo["events"] = []
    for one in wanted:
        if one.uid in own:
            changed += _follow(db, own[one.uid], one, undo)
        elif one.key in there:
            stands += 1
        else:
            there.add(one.key)
            fresh.append(one)
    # A place counts only where the squad has it on its list: it can weigh on loads.
    places = {place.name for place in queries.squad.places(db, squad.id)}
    made = plan_sessions(db, squad, [one.new for one in fresh])
    for session, one in zip(made, fresh, strict=True):
        session.calendar_uid, session.called_off = one.uid or None, IN_THE_CALENDAR if one.called_off else None
        session.place = session.place if session.place in places else None
    db.flush()
    undo["sessions"] = [one.id for one in made]
    matched.sessions |= {one.id: one for one in made}
    return {
        "fixtures": len(made),
        "changed": changed,
        "kept_apart": stood(stands, "session"),
    }


def _follow(db: DbSession, session: Session, one: Fixture, undo: Undo) -> bool:
    """Let a session be as its event is now. One in which something was entered took place and stays."""
    by_staff = session.called_off is not None and session.called_off != IN_THE_CALENDAR
    off = session.called_off if by_staff else IN_THE_CALENDAR if one.called_off else None
    now = (one.new.starts_at, one.new.title, one.new.opponent, off)
    if (session.starts_at, session.title, session.opponent, session.called_off) == now:
        return False
    if queries.session.is_written_in(db, session.id):
        return False
    undo["events"].append([session.id, session.starts_at.isoformat(), session.day.isoformat(), session.title,
                           session.opponent, session.called_off])  # fmt: skip
    session.starts_at, session.title, session.opponent, session.called_off = now
    session.day = one.day
    session.version += 1
    return True


def _take_away(db: DbSession, squad: Squad, undo: Undo, kept: list[str], *, stamp: Stamp, today: date) -> None:
    for session_id, starts_at, day, title, opponent, off in undo.get("events", []):
        session = queries.session.any_session(db, session_id)
        if session is None or queries.session.is_written_in(db, session_id):
            continue
        session.starts_at, session.day = datetime.fromisoformat(starts_at), date.fromisoformat(day)
        session.title, session.opponent, session.called_off = title, opponent, off
        session.version += 1


FIXTURES = Table(_check, _found, _write, _take_away)
