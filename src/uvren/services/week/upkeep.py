"""What a week leaves people short of, and gives them too often: the least that keeps them, and days with work."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.limits.days import DaysInRow, DaysInSeven
from uvren.core.maintain import KEEPS, usual_week
from uvren.core.plan.fewer_days import FewerDays, fewer_days
from uvren.core.windows import Bools
from uvren.services.day.desk import SquadDesk
from uvren.services.week.reading import DAYS, Changes, Opened, open_week
from uvren.store.models import SessionKind, Squad

# Less than this of a unit is not worth a word.
SLIGHT = 1.0


@dataclass(frozen=True)
class Short:
    """Somebody whose planned week is under the least that keeps them, channel by channel in words."""

    athlete_id: int
    name: str
    said: str


@dataclass(frozen=True)
class TooOften:
    """Somebody with more days with work planned than a rule on days holds; ``leave_out`` are the days to drop."""

    athlete_id: int
    name: str
    leave_out: list[date]
    said: str


@dataclass(frozen=True)
class Upkeep:
    """``days_said`` is how many days with work the week may have and for how many; empty without a rule on days."""

    short: list[Short]
    days_said: str
    often: list[TooOften]


def read_upkeep(db: DbSession, squad: Squad, first: date, today: date) -> Upkeep:
    """The seven days from one on, with the plan as it is."""
    opened = open_week(db, squad, first, today, Changes())
    if not opened.desks:
        return Upkeep([], "", [])
    days_said, often = _often(first, opened)
    return Upkeep(_short(opened), days_said, often)


def _short(opened: Opened) -> list[Short]:
    lacking: dict[int, list[str]] = defaultdict(list)
    main = opened.desks[0]
    for one in opened.desks:
        today = one.desk.today
        planned = one.desk.planned.values[:, today : today + DAYS].sum(axis=1)
        least = usual_week(one.desk.done.load, today) * KEEPS
        for row in np.flatnonzero(least - planned >= SLIGHT):
            if one.standing[row].owes and not one.off[row, today : today + DAYS].all():
                name = "load" if one.channel.is_main else one.channel.name.lower()
                has, keeps = say.numbers(float(planned[row]), float(least[row]))
                lacking[int(row)].append(f"{name} {has} planned, {keeps} keep it")
    people = [(main.members[row], "; ".join(said)) for row, said in lacking.items()]
    return [Short(one.athlete_id, one.name, said[0].upper() + said[1:]) for one, said in sorted(
        people, key=lambda each: each[0].name)]  # fmt: skip


def _often(first: date, opened: Opened) -> tuple[str, list[TooOften]]:
    """How many days with work there may be, by the rule that leaves fewest; and who is planned for more."""
    fewest: dict[int, int] = {}
    often: dict[int, TooOften] = {}
    for one in opened.desks:
        may = _may(opened, one)
        for rule in (*one.desk.hard, *one.desk.advisory):
            if not isinstance(rule, DaysInRow | DaysInSeven):
                continue
            here = slice(one.desk.today, one.desk.today + DAYS)
            in_force = ~np.isnan(np.broadcast_to(rule.value, one.desk.planned.load.shape)[:, here]).all(axis=1)
            found = fewer_days(rule, one.desk.planned, one.desk.today, may)
            for row in np.flatnonzero(in_force):
                athlete = one.members[row].athlete_id
                if isinstance(rule, DaysInSeven):
                    fewest[athlete] = min(found[row].most, fewest.get(athlete, DAYS))
                if found[row].leave_out != () and athlete not in often:
                    often[athlete] = _told(first, one, int(row), rule, found[row])
    return _days_said(list(fewest.values())), sorted(often.values(), key=lambda each: each.name)


def _may(opened: Opened, one: SquadDesk) -> Bools:
    """Days that may be left out: without a match for that athlete, and with nothing done on them yet."""
    today, plan = one.desk.today, one.plan
    may = np.ones((len(one.members), DAYS), dtype=bool)
    matches = {session.id for session in opened.sessions if session.kind is SessionKind.MATCH}
    for session, row, column, minutes in zip(plan.session, plan.row, plan.column, plan.minutes, strict=True):
        if session in matches and minutes > 0 and 0 <= column - today < DAYS:
            may[row, column - today] = False
    may[:, 0] &= one.desk.done.values[:, today] == 0
    return may


def _told(first: date, one: SquadDesk, row: int, rule: DaysInRow | DaysInSeven, found: FewerDays) -> TooOften:
    member, work = one.members[row], "" if one.channel.is_main else f" of {one.channel.name.lower()}"
    said = f"{say.count(found.planned, 'day')}{work} planned"
    if isinstance(rule, DaysInSeven):
        said += f", room for {found.most}"
    else:
        said += f", one after another at most {rule.value_at(one.desk.ahead, row, one.desk.today):g}"
    days = [first + timedelta(days=day) for day in found.leave_out or ()]
    if found.leave_out is None:
        said += ": matches and what is done already are too many"
    else:
        said += f": leave out {say.listed([say.day(day) for day in days])}"
    return TooOften(member.athlete_id, member.name, days, said)


def _days_said(most: list[int]) -> str:
    if not most:
        return ""
    counts = sorted(((days, most.count(days)) for days in set(most)), reverse=True)
    parts = [f"{say.count(days, 'day')} with work for {people}" for days, people in counts]
    return f"Room for {say.listed(parts)}."
