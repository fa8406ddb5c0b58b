"""Days of the week ahead that are too close for a system to recover between them, and what helps."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.recovery import Clash, clashes, cold_water
from uvren.core.season import PhaseKind
from uvren.services.day.desk import SquadDesk
from uvren.services.week.reading import DAYS, Changes, open_week
from uvren.store import queries
from uvren.store.models import SessionKind, Squad

# Matches further back or ahead are not close to anything.
_AROUND = timedelta(days=7)


@dataclass(frozen=True)
class TooClose:
    """Two heavy days of somebody for one system: the second one, and both in words."""

    athlete_id: int
    name: str
    day: date
    system: str
    said: str


@dataclass(frozen=True)
class Recovering:
    """Conflicts of a week, and what holds of cold water in it."""

    conflicts: list[TooClose]
    cold: str


def read_recovering(db: DbSession, squad: Squad, first: date, today: date) -> Recovering:
    """Heavy days from a day on that follow another one before a window's early end, with the plan as it is."""
    desks = open_week(db, squad, first, today, Changes()).desks
    if not desks:
        return Recovering([], "")
    main = next(one for one in desks if one.channel.is_main)
    desk = main.desk
    works = [one.part(0, desk.today + DAYS) for one in desk.work]
    found = [_told(main, one) for one in clashes(works, desk.today, desk.beginner)]
    return Recovering(sorted(found, key=lambda one: (one.day, one.name)), _cold(db, squad, first))


def _told(main: SquadDesk, one: Clash) -> TooClose:
    member = main.members[one.row]
    before, day = (main.desk.planned.date_of(each.column) for each in (one.one, one.other))
    said = (
        f"heavy {one.other.work.name.lower()} {one.hours:.0f} h after heavy {one.one.work.name.lower()} on "
        f"{say.day(before)}; {one.system} wants {one.wanted:.0f} h or more"
    )
    return TooClose(member.athlete_id, member.name, day, one.system.value, said)


def _cold(db: DbSession, squad: Squad, day: date) -> str:
    sessions = queries.session.sessions_between(db, squad.id, day - _AROUND, day + _AROUND)
    matches = [one.day for one in sessions if one.kind is SessionKind.MATCH]
    before, after = [one for one in matches if one < day], [one for one in matches if one >= day]
    apart = (after[0] - before[-1]).days if before and after else None
    building = any(
        one.kind is PhaseKind.PREPARATION and one.first_day <= day <= one.last_day
        for one in queries.season.phases(db, squad.id)
    )
    return cold_water(building, apart)
