"""What was planned against what was done: the last weeks of the squad, and the last one person by person."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.units import EffortMinutes
from uvren.core.windows import Floats
from uvren.services.day.desk import SquadDesk
from uvren.services.day.plan import planned_for
from uvren.services.week.reading import Changes, open_week
from uvren.store import queries
from uvren.store.models import SessionKind, Squad
from uvren.store.queries.session import KIND_CODES

WEEKS, DAYS = 4, 7


@dataclass(frozen=True)
class Planned:
    """Loads of seven days up to ``last``: planned and done, and of what was done its spread and the week's strain.

    ``done``, ``spread`` and ``strain`` are None where a rating is missing or every day was alike.
    """

    first: date
    last: date
    planned: float
    done: float | None
    minutes_planned: float
    minutes_done: float
    spread: float | None
    strain: float | None


@dataclass(frozen=True)
class PersonPlanned:
    athlete_id: int
    name: str
    week: Planned


@dataclass(frozen=True)
class Compared:
    """Weeks of the squad, the last one last, as means of a person; and that one by person, furthest from plan first."""

    said: str
    weeks: list[Planned]
    people: list[PersonPlanned]


def read_compared(db: DbSession, squad: Squad, first: date, today: date) -> Compared | None:
    """The four weeks before a day; None where nobody is in the squad. Loads are of the main channel."""
    desks = open_week(db, squad, first, today, Changes()).desks
    if not desks:
        return None
    main = next(one for one in desks if one.channel.is_main)
    planned, minutes = _planned(db, squad, main, first)
    people = [
        PersonPlanned(member.athlete_id, member.name, _week(main, first, planned, minutes, [row], 0))
        for row, member in enumerate(main.members)
    ]
    everybody = list(range(len(main.members)))
    weeks = [_week(main, first, planned, minutes, everybody, back) for back in reversed(range(WEEKS))]
    people.sort(key=lambda one: (-abs(_off(one.week)), one.name))
    return Compared(_said(weeks[-1]), weeks, people)


def _planned(db: DbSession, squad: Squad, main: SquadDesk, first: date) -> tuple[Floats, Floats]:
    """Load and minutes planned for each row on each of the days before ``first``, and minutes done.

    Shapes (rows, days) and (2, rows, days).
    """
    return planned_loads(db, squad, main, first - timedelta(days=WEEKS * DAYS), WEEKS * DAYS)


def planned_loads(
    db: DbSession, squad: Squad, main: SquadDesk, begin: date, days: int, *, matches: bool | None = None
) -> tuple[Floats, Floats]:
    """:func:`_planned` of so many days from ``begin`` on; of matches alone, of all but them, or (None) of both."""
    sessions = queries.session.sessions_between(db, squad.id, begin, begin + timedelta(days=days - 1))
    own = {(row.session_id, row.athlete_id): row for row in queries.day.own_plans(db, [one.id for one in sessions])}
    row_of = {member.athlete_id: i for i, member in enumerate(main.members)}
    load = np.zeros((len(row_of), days))
    minutes = np.zeros((2, *load.shape))
    definition = main.definition
    rated = isinstance(definition.form, EffortMinutes)
    for one in sessions:
        if matches is not None and (one.kind is SessionKind.MATCH) is not matches:
            continue
        day = (one.day - begin).days
        for athlete, row in row_of.items():
            mine = own.get((one.id, athlete))
            planned, effort = planned_for(one, mine)
            minutes[0, row, day] += planned
            if mine is not None and mine.minutes is not None:
                minutes[1, row, day] += mine.minutes
            if KIND_CODES[one.kind] in definition.kinds:
                each = effort if rated else float(np.nan_to_num(main.rate[row]))
                given = ((mine and mine.planned_loads) or {}).get(main.channel.code)
                load[row, day] += planned * each if given is None else given
    return load, minutes


def _week(main: SquadDesk, first: date, planned: Floats, minutes: Floats, rows: list[int], back: int) -> Planned:
    """Seven days that ended ``back`` weeks ago, as a mean of these rows."""
    end = WEEKS * DAYS - back * DAYS
    span = slice(end - DAYS, end)
    work, column = main.desk.now, main.desk.today - 1 - back * DAYS

    def mean(values: Floats) -> float | None:
        known = values[rows, column] if column >= 0 else np.array([np.nan])
        known = known[~np.isnan(known)]
        return float(known.mean()) if known.size else None

    total = minutes[:, rows, span].sum(axis=2).mean(axis=1)
    last = first - timedelta(days=1 + back * DAYS)
    return Planned(
        first=last - timedelta(days=DAYS - 1),
        last=last,
        planned=float(planned[rows, span].sum(axis=1).mean()),
        done=mean(work.week_load),
        minutes_planned=float(total[0]),
        minutes_done=float(total[1]),
        spread=mean(work.monotony),
        strain=mean(work.strain),
    )


def _off(week: Planned) -> float:
    """How far what was done is from the plan, as a share of it."""
    return 0.0 if week.done is None or week.planned <= 0 else week.done / week.planned - 1


def _said(week: Planned) -> str:
    if week.planned <= 0:
        return "Nothing was planned in the last seven days."
    if week.done is None:
        return "What was done in the last seven days is not known of anybody."
    share = say.percent(week.done / week.planned)
    return f"In the last seven days {share} of the planned load was done, a person."
