"""A week of a squad: its sessions, and for each person and day the load that is planned against the room there is."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Hashable, Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property
from threading import Lock
from typing import Any, TypeVar, cast
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.day import Standing
from uvren.core.day.room import TITLES
from uvren.core.day.week import DayAhead, days_ahead
from uvren.core.limits import title_of
from uvren.services.day.desk import AHEAD_DAYS, ChannelName, SquadDesk, name_of, open_desks
from uvren.services.day.kept import unchanged
from uvren.services.day.plan import followed
from uvren.services.errors import Invalid
from uvren.store import queries
from uvren.store.models import DayMarkKind, Session, SessionKind, Squad

DAYS = AHEAD_DAYS
# Load by which a plan may be over without being said to be: less than a minute of easy work.
SLIGHT = 0.5
LONGEST = 600.0
MOST_KEPT = 50
Found = TypeVar("Found")


@dataclass(frozen=True)
class Changes:
    """What is other than planned: a session's minutes or day, and one athlete's minutes in a session."""

    sessions: Mapping[str, float] = field(default_factory=dict)
    own: Mapping[tuple[int, str], float] = field(default_factory=dict)
    days: Mapping[str, date] = field(default_factory=dict)

    def and_(self, more: Changes) -> Changes:
        """These with others, which win."""
        return Changes({**self.sessions, **more.sessions}, {**self.own, **more.own}, {**self.days, **more.days})


@dataclass(frozen=True)
class SessionHead:
    """A session of the week: its day and minutes as planned, and ``typed``, its minutes with what is tried out."""

    id: str
    title: str
    kind: SessionKind
    at: str
    day: date
    minutes: float
    typed: float
    effort: float
    done: bool


@dataclass(frozen=True)
class WeekDay:
    """A day with its sessions; ``goal`` is what the week is for that begins on it, as a block says."""

    day: date
    sessions: list[SessionHead]
    goal: str = ""


@dataclass(frozen=True)
class Cell:
    """A person's day on a channel: what is planned, and the room for it (None: no figure, ``words`` say why).

    ``over`` is by how much the plan is too much, ``by`` what it goes over; ``also`` names other channels it is too much
    on. ``words`` are why a day is closed, or what makes room an upper bound.
    """

    plan: float
    room: float | None
    over: float
    by: str
    also: list[str]
    words: str
    closed: bool


@dataclass(frozen=True)
class WeekRow:
    athlete_id: int
    name: str
    number: int | None
    position: str
    stands: str
    cells: list[Cell]


@dataclass(frozen=True)
class Week:
    """Seven days from a morning on. ``edition`` is the version of the plan that is sent with a change of it."""

    first: date
    channel: ChannelName
    channels: list[ChannelName]
    days: list[WeekDay]
    rows: list[WeekRow]
    over_cells: int
    over_people: int
    said: str
    edition: str


@dataclass
class _Once:
    lock: Lock = field(default_factory=Lock)
    found: Any = None


@dataclass(frozen=True)
class Opened:
    """What a week is read from: a desk for each channel as ``planned`` and with what is tried out, and its sessions.

    Nothing is moved to days ``kept_free``: they are said to be off, or the day before a match that is right behind the
    week. ``kept`` is what was worked out from it, for as long as it holds; see :meth:`once`.
    """

    planned: list[SquadDesk]
    desks: list[SquadDesk]
    sessions: list[Session]
    edition: str
    changes: Changes
    goals: Mapping[date, str] = field(default_factory=dict)
    kept_free: Set[date] = frozenset()
    kept: dict[Hashable, _Once] = field(default_factory=dict, compare=False, repr=False)

    def once(self, what: Hashable, find: Callable[[], Found], worth: Callable[[Found], bool]) -> Found:
        """What several ask for of the week with these changes: found for the first while the others wait.

        It is kept where it is ``worth`` that.
        """
        if len(self.kept) > MOST_KEPT:
            self.kept.clear()
        changes = tuple(tuple(sorted(one.items())) for one in vars(self.changes).values())
        slot = self.kept.setdefault((what, changes), _Once())
        with slot.lock:
            if slot.found is not None:
                return cast(Found, slot.found)
            found = find()
            slot.found = found if worth(found) else None
            return found

    @cached_property
    def ahead(self) -> Mapping[str, list[DayAhead]]:
        """The days of the week by the code of a channel."""
        return {one.channel.code: days_ahead(one.desk, DAYS) for one in self.desks}

    def minutes(self, session: Session) -> float:
        return self.changes.sessions.get(session.id, session.planned_minutes)

    def day(self, session: Session) -> date:
        return self.changes.days.get(session.id, session.day)


def open_week(db: DbSession, squad: Squad, first: date, today: date, changes: Changes) -> Opened:
    """The week from ``first`` on. Raises Invalid for changes of what is not a session of it still to come."""
    opened = unchanged(db, squad, ("week", first, today), lambda db, squad: _as_planned(db, squad, first, today))
    open_ = {one.id for one in opened.sessions if not one.done}
    for name, minutes in changes.sessions.items():
        if name not in open_:
            raise Invalid("This is no session of the week that is still to come.", field="sessions")
        if not 0 <= minutes <= LONGEST:
            raise Invalid(f"Minutes are 0 to {LONGEST:g}.", field=f"sessions.{name}")
    for name, day in changes.days.items():
        if name not in open_ or not first <= day <= first + timedelta(days=DAYS - 1):
            raise Invalid("A session moves within the week, while it is still to come.", field=f"sessions.{name}")
    if any(session not in open_ or minutes < 0 for (_, session), minutes in changes.own.items()):
        raise Invalid("This is nobody's part in a session still to come.", field="own")
    return with_changes(opened, changes)


def _as_planned(db: DbSession, squad: Squad, first: date, today: date) -> Opened:
    desks = open_desks(db, squad, first, today, with_work=True)
    last = first + timedelta(days=DAYS - 1)
    sessions = queries.session.sessions_between(db, squad.id, first, last)
    goals = {one.first_day: one.goal for one in queries.week.planned_weeks(db, squad.id, first, last)}
    marks = queries.session.day_marks(db, squad.id, first, last)
    free = {day for day, one in marks.items() if one.mark is DayMarkKind.OFF}
    after = last + timedelta(days=1)
    if queries.session.sessions_between(db, squad.id, after, after, SessionKind.MATCH):
        free.add(last)
    return Opened(desks, desks, sessions, edition_of(db, sessions), Changes(), goals, frozenset(free))


def with_changes(opened: Opened, changes: Changes) -> Opened:
    """A week with more tried out in it, beside what is tried out already."""
    if changes == Changes():
        return opened
    planned, all_ = {one.id: one.planned_minutes for one in opened.sessions}, opened.changes.and_(changes)
    return replace(opened, desks=[_tried(one, all_, planned) for one in opened.planned], changes=all_)


def holds(opened: Opened) -> bool:
    """Whether nobody is over anything on any day."""
    people = range(len(opened.desks[0].members))
    return not any(_over(day, row) > 0 for days in opened.ahead.values() for day in days for row in people)


def edition_of(db: DbSession, sessions: Sequence[Session]) -> str:
    """A word for the plan as it is: another as soon as somebody changes any of it, and not when it is rated."""
    own = sorted(
        (row.session_id, row.athlete_id, str(row.planned_minutes), str(row.planned_effort))
        for row in queries.day.own_plans(db, [one.id for one in sessions])
        if row.planned_minutes is not None or row.planned_effort is not None
    )
    kept = [(one.id, one.version) for one in sessions], own
    return hashlib.sha256(repr(kept).encode()).hexdigest()[:26]


def _tried(opened: SquadDesk, changes: Changes, planned: Mapping[str, float]) -> SquadDesk:
    """The desk with other minutes in its plan."""
    plan, desk = opened.plan, opened.desk
    minutes, column = plan.minutes.copy(), plan.column.copy()
    for i, (session, row) in enumerate(zip(plan.session, plan.row.tolist(), strict=True)):
        if session in changes.sessions:
            after = followed(float(minutes[i]), planned[session], changes.sessions[session])
            minutes[i] = minutes[i] if after is None else after
        minutes[i] = changes.own.get((opened.members[row].athlete_id, session), minutes[i])
        if session in changes.days:
            column[i] = desk.planned.column(changes.days[session])
    tried = plan.changed(minutes, column)
    shape = desk.planned.load.shape
    before, after_ = (one.loads(shape, opened.channel.code, opened.definition, opened.rate) for one in (plan, tried))
    load = desk.planned.load - before + after_
    # What was taken away and put back may leave a rounding error below nothing.
    load = np.where(np.abs(load) < 1e-9, 0.0, load)
    return replace(opened, plan=tried, desk=replace(desk, planned=replace(desk.planned, load=load)))


def read_week(
    db: DbSession, squad: Squad, first: date, today: date, *, channel: str | None = None,
    changes: Changes | None = None, audiences: Set[Audience],
) -> Week | None:  # fmt: skip
    """The week as it is planned, or with what is tried out; None where nobody is in the squad. Raises Invalid."""
    changes = changes or Changes()
    opened = open_week(db, squad, first, today, changes)
    if not opened.desks:
        return None
    return week_of(squad, first, opened, channel, audiences)


def week_of(squad: Squad, first: date, opened: Opened, channel: str | None, audiences: Set[Audience]) -> Week:
    desks = opened.desks
    shown = next((one for one in desks if one.channel.code == channel), desks[0])
    rows = [_row(shown, desks, opened.ahead, row, audiences) for row in range(len(shown.members))]
    over = [[cell.over > 0 or bool(cell.also) for cell in row.cells] for row in rows]
    cells, people = sum(map(sum, over)), sum(map(any, over))
    return Week(
        first=first,
        channel=name_of(shown.channel),
        channels=[name_of(one.channel) for one in desks],
        days=_heads(squad, first, opened),
        rows=rows,
        over_cells=cells,
        over_people=people,
        said=_said(cells, people, len(rows)),
        edition=opened.edition,
    )


def _said(cells: int, people: int, everybody: int) -> str:
    if not cells:
        return f"The plan holds every limit for {'all ' if everybody > 1 else ''}{everybody}."
    return f"The plan goes over a limit in {say.count(cells, 'cell')}, for {people} of {everybody}."


def _heads(squad: Squad, first: date, opened: Opened) -> list[WeekDay]:
    zone = ZoneInfo(squad.time_zone)

    def head(one: Session) -> SessionHead:
        return SessionHead(
            id=one.id,
            title=one.opponent or one.title,
            kind=one.kind,
            at=f"{one.starts_at.astimezone(zone):%H:%M}",
            day=one.day,
            minutes=one.planned_minutes,
            typed=opened.minutes(one),
            effort=one.planned_effort,
            done=one.done,
        )

    days = (first + timedelta(days=i) for i in range(DAYS))
    return [
        WeekDay(day, [head(one) for one in opened.sessions if opened.day(one) == day], opened.goals.get(day, ""))
        for day in days
    ]


def _row(
    shown: SquadDesk,
    desks: Sequence[SquadDesk],
    ahead: Mapping[str, list[DayAhead]],
    row: int,
    audiences: Set[Audience],
) -> WeekRow:
    member = shown.members[row]
    standing = shown.standing[row]
    cells = []
    for i, day in enumerate(ahead[shown.channel.code]):
        also = [one.channel.name for one in desks if one is not shown and _over(ahead[one.channel.code][i], row) > 0]
        cells.append(_cell(shown, day, row, i, standing if i == 0 else None, also, audiences))
    stands = standing.said(audiences)
    return WeekRow(member.athlete_id, member.name, member.number, member.position, stands, cells)


def _over(day: DayAhead, row: int) -> float:
    plan, room = float(day.plan[row]), day.rooms[row].room.load
    return 0.0 if room is None or plan <= room + SLIGHT else plan - room


def _cell(
    shown: SquadDesk, day: DayAhead, row: int, i: int, standing: Standing | None, also: list[str],
    audiences: Set[Audience],
) -> Cell:  # fmt: skip
    plan, room = float(day.plan[row]), day.rooms[row]
    closed = bool(shown.off[row, shown.desk.today + i])
    if closed:
        why = "" if standing is None else standing.why_closed(audiences)
        return Cell(plan, 0.0, 0.0, "", [], why or "does not train", closed=True)
    over = _over(day, row)
    by = ", ".join(TITLES.get(key) or title_of(key).lower() for key in room.room.binding) if over > 0 else ""
    words = room.why or room.unknown or ("no limit binds" if room.room.load is None else "")
    return Cell(plan, room.room.load, over, by, also, words, closed=False)
