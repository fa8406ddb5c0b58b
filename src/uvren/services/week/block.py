"""Blocks: weeks ahead made from one week, where they take everybody, and saved as sessions of each week."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.plan.block import MOST_WEEKS, WEEK, Projected, project
from uvren.core.windows import Floats
from uvren.services.club import audit
from uvren.services.day.desk import open_desks
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.services.versions import check_seen
from uvren.services.week.compared import planned_loads
from uvren.services.week.reading import edition_of
from uvren.store import queries
from uvren.store.models import PlannedWeek, Session, SessionKind, Squad
from uvren.store.types import new_ulid

LEAST_SHARE, MOST_SHARE = 0.1, 3.0
# A lighter week has no effort above this; sessions are planned in steps of so many minutes.
EFFORT_CAP, STEP, SHORTEST, LONGEST = 6.0, 5.0, 5.0, 600.0
LONGEST_GOAL = 120


@dataclass(frozen=True)
class WeekWanted:
    """A week of a block: its share of the week it is made from, whether it is lighter, and what it is for."""

    share: float
    lighter: bool
    goal: str = ""


@dataclass(frozen=True)
class WeekAhead:
    """Where the squad (a mean of its people), or one of them, is at the end of a week; None where there is no figure.

    ``over`` counts those who are over a hard limit on some day of it, ``names`` says who.
    """

    first: date
    share: float
    lighter: bool
    goal: str
    load: float
    base: float | None
    balance: float | None
    ceiling: float | None
    floor: float | None
    over: int
    names: list[str]


@dataclass(frozen=True)
class Block:
    """Weeks from ``first`` on, made from the week of ``of``, for so many people.

    ``edition`` is the version of what is planned in them, which is sent to plan them.
    """

    first: date
    of: date
    people: int
    made_from: str
    said: str
    weeks: list[WeekAhead]
    edition: str


def monday(day: date) -> date:
    return day - timedelta(days=day.weekday())


def read_block(
    db: DbSession,
    squad: Squad,
    first: date,
    of: date,
    wanted: Sequence[WeekWanted],
    athlete_id: int | None,
    today: date,
) -> Block | None:
    """Where a block would take the squad, or one person of it; None where nobody is in it. Raises Invalid."""
    first, of = _checked(first, of, wanted, today)
    desks = open_desks(db, squad, first, today)
    if not desks:
        return None
    main = next(one for one in desks if one.channel.is_main)
    week, _ = planned_loads(db, squad, main, of, WEEK, matches=False)
    fixed, _ = planned_loads(db, squad, main, first, WEEK * len(wanted), matches=True)
    found = project(main.desk, week, [one.share for one in wanted], fixed)
    rows = [i for i, one in enumerate(main.members) if athlete_id in (None, one.athlete_id)]
    if not rows:
        raise Invalid("This athlete is not in the squad then.", field="athlete_id")
    names = np.array([one.name for one in main.members])
    weeks = [_week(found, rows, names, first, i, one) for i, one in enumerate(wanted)]
    made_from, edition = _made_from(_template(db, squad, of)), _edition(db, squad, first, of, len(wanted))
    return Block(first, of, len(rows), made_from, _said(weeks, len(rows)), weeks, edition)


def check_edition(db: DbSession, squad: Squad, first: date, of: date, weeks: int, edition: str) -> None:
    """Hold the weeks of a block for a change of them. Raises Stale where they, or what they rest on, are others now."""
    queries.squad.hold(db, squad.id)
    now = _edition(db, squad, first, of, weeks)
    check_seen(edition, now, "Somebody planned these weeks meanwhile.", yours={}, theirs={})


def _edition(db: DbSession, squad: Squad, first: date, of: date, weeks: int) -> str:
    last = first + timedelta(weeks=weeks) - timedelta(days=1)
    sessions = [*_template(db, squad, of), *queries.session.sessions_between(db, squad.id, first, last)]
    kept = [(one.first_day, one.share, one.goal) for one in kept_weeks(db, squad, first, weeks)]
    return f"{edition_of(db, sessions)}{hashlib.sha256(repr(kept).encode()).hexdigest()[:8]}"


def _checked(first: date, of: date, wanted: Sequence[WeekWanted], today: date) -> tuple[date, date]:
    first, of = monday(first), monday(of)
    if first < monday(today):
        raise Invalid("A block begins this week or later.", field="first")
    if not 1 <= len(wanted) <= MOST_WEEKS:
        raise Invalid(f"A block has 1 to {MOST_WEEKS} weeks.", field="weeks")
    for i, one in enumerate(wanted):
        if not LEAST_SHARE <= one.share <= MOST_SHARE:
            raise Invalid("A week is a tenth to three times the week it is made from.", field=f"weeks.{i}.share")
        if len(one.goal) > LONGEST_GOAL:
            raise Invalid(f"Say what a week is for in up to {LONGEST_GOAL} letters.", field=f"weeks.{i}.goal")
    return first, of


def _week(
    found: Projected, rows: Sequence[int], names: np.ndarray, first: date, i: int, wanted: WeekWanted
) -> WeekAhead:
    def mean(values: Floats) -> float | None:
        known = values[rows, i][~np.isnan(values[rows, i])]
        # A mean of the few for whom there is a figure would say something of nobody else.
        return float(known.mean()) if known.size > len(rows) / 2 else None

    over = [row for row in rows if found.over[row, i]]
    return WeekAhead(
        first=first + timedelta(weeks=i),
        share=wanted.share,
        lighter=wanted.lighter,
        goal=wanted.goal,
        load=mean(found.load) or 0.0,
        base=mean(found.base),
        balance=mean(found.balance),
        ceiling=mean(found.ceiling),
        floor=mean(found.floor),
        over=len(over),
        names=sorted(names[over].tolist()),
    )


def _template(db: DbSession, squad: Squad, of: date) -> list[Session]:
    """Sessions of the week that a block is made from; matches are the calendar's own."""
    found = queries.session.sessions_between(db, squad.id, of, of + timedelta(days=WEEK - 1))
    return [one for one in found if one.kind is not SessionKind.MATCH and one.planned_minutes > 0]


def _made_from(sessions: Sequence[Session]) -> str:
    if not sessions:
        return "Nothing is planned in that week: choose another one to make the block from."
    minutes = sum(one.planned_minutes for one in sessions)
    return f"{say.count(len(sessions), 'session')}, {minutes:g} min, matches aside"


def _said(weeks: Sequence[WeekAhead], people: int) -> str:
    over = [one for one in weeks if one.over]
    if not over:
        return "With all of it every limit holds."
    first = over[0]
    who = "a limit does not hold" if people == 1 else f"{say.count(first.over, 'person', 'people')} of {people} over"
    return f"{say.count(len(over), 'week')} over a limit, the first from {say.day(first.first)}: {who}."


@dataclass(frozen=True)
class ToMake:
    """A session of a week of a block: one to be made, or ``there`` already and to be made as long."""

    there: Session | None
    of: Session
    day: date
    minutes: float
    effort: float


def sessions_of(
    db: DbSession, squad: Squad, first: date, of: date, wanted: Sequence[WeekWanted], today: date
) -> list[ToMake]:
    """The sessions that a block comes to; what is there at the same time under the same name is changed.

    Days that have gone by stay as they were.
    """
    template = _template(db, squad, of)
    last = first + timedelta(weeks=len(wanted)) - timedelta(days=1)
    zone = ZoneInfo(squad.time_zone)

    def key(day: date, one: Session) -> tuple[date, SessionKind, str, time]:
        # By the squad's own clock, also where that changes within the block.
        return day, one.kind, one.title, one.starts_at.astimezone(zone).time()

    there = {key(one.day, one): one for one in queries.session.sessions_between(db, squad.id, first, last)}
    found = []
    for i, week in enumerate(wanted):
        for one in template:
            day = first + timedelta(weeks=i, days=(one.day - of).days)
            known = there.get(key(day, one))
            if day < today or (known is not None and known.done):
                continue
            minutes = min(max(SHORTEST, round(one.planned_minutes * week.share / STEP) * STEP), LONGEST)
            effort = min(one.planned_effort, EFFORT_CAP) if week.lighter else one.planned_effort
            found.append(ToMake(known, one, day, minutes, effort))
    return found


def keep_weeks(db: DbSession, squad: Squad, first: date, wanted: Sequence[WeekWanted], *, stamp: Stamp) -> None:
    """Keep what each week is for; one kept before gives way. Does not commit."""
    weeks = [(first + timedelta(weeks=i), one) for i, one in enumerate(wanted)]
    put_back_weeks(db, squad, first, len(wanted), weeks, stamp=stamp)


def put_back_weeks(
    db: DbSession, squad: Squad, first: date, many: int, weeks: Sequence[tuple[date, WeekWanted]], *, stamp: Stamp
) -> None:
    """Let these be the weeks that are kept of so many from a day on. Does not commit. Raises Invalid."""
    last = first + timedelta(weeks=many)
    if any(not first <= day < last for day, _ in weeks) or len({day for day, _ in weeks}) < len(weeks):
        raise Invalid("These are no weeks of this block.", field="weeks")
    for old in kept_weeks(db, squad, first, many):
        db.delete(old)
    db.flush()
    db.add_all(
        PlannedWeek(id=new_ulid(), squad_id=squad.id, first_day=day, goal=one.goal.strip()[:LONGEST_GOAL],
                    share=one.share, lighter=one.lighter, set_by=stamp.by, set_at=stamp.now)
        for day, one in weeks
    )  # fmt: skip
    audit.note(db, "block_planned", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, weeks=len(weeks))
    db.flush()


def kept_weeks(db: DbSession, squad: Squad, first: date, weeks: int) -> list[PlannedWeek]:
    """Weeks of a block that are kept from a day on."""
    return queries.week.planned_weeks(db, squad.id, first, first + timedelta(weeks=weeks) - timedelta(days=1))
