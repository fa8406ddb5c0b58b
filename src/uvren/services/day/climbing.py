"""How far people on their way back are in their own week: what they did of it, and what they read of it themselves."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.returns import Climb
from uvren.core.windows import Floats, rolling_sum
from uvren.services.day.day import Part
from uvren.services.day.drilled import OwnDrill, own_drills
from uvren.services.day.returns import Returning, read_returning
from uvren.store.models import Squad

WEEK = 7


@dataclass(frozen=True)
class OwnStep:
    """A week of the own way back, in per cent of the own usual week; ``here`` is the one that runs."""

    first: date
    share: float
    here: bool


@dataclass(frozen=True)
class OwnClimb:
    """A kind of work against the own usual week, in per cent: of the last seven days, and what this week may hold.

    ``done`` is None where a rating is missing; ``opens`` is the day on which it begins, where it is held.
    """

    name: str
    done: float | None
    most: float
    opens: date | None


@dataclass(frozen=True)
class OwnReturn:
    """The own way back in plain words: where one is, each kind of work, each drill, what comes next. Nobody else is in
    it.
    """

    said: str
    steps: list[OwnStep]
    climbs: list[OwnClimb]
    drills: list[OwnDrill]
    next: list[str]


def own_return(db: DbSession, squad: Squad, part: Part, today: date) -> OwnReturn | None:
    """An athlete's own way back; None for who is on none."""
    member = part.day.members[part.row]
    found = read_returning(db, squad, [member], today, today, today).get(member.athlete_id)
    if found is None or not found.runs_on(today):
        return None
    climb, first, off = found.climb, found.plan.first_day, found.plan.first_off
    if today < first:
        return OwnReturn(f"You are back on {say.day(first)}.", [], [], [], [])
    week = None if climb is None else climb.on(today)
    if climb is None or week is None:
        return OwnReturn(
            "Your way back goes on step by step; your clinician says when.", [], [], [], _stages(found, today)
        )
    again = " This week is like the one before, so that it settles." if week.again else ""
    share = say.percent(week.share / 100)
    return OwnReturn(
        said=f"Week {climb.weeks.index(week) + 1} of your way back: up to {share} of your usual week.{again}",
        steps=[OwnStep(one.first, one.share, one is week) for one in climb.weeks],
        climbs=[_climb(part, found, climb, code, today) for code in climb.terms.parts],
        drills=[] if off is None else own_drills(db, squad, member.athlete_id, off, today),
        next=[*_next(climb, today), *_stages(found, today)],
    )


def _climb(part: Part, found: Returning, climb: Climb, code: str, today: date) -> OwnClimb:
    yesterday = today - timedelta(days=1)
    (done,) = measured_on(part, found, yesterday, yesterday, code)
    opens = climb.held_until(code)
    held = opens if opens is not None and today < opens else None
    return OwnClimb(found.names.get(code, code), done, climb.share_on(today, code), held)


def _next(climb: Climb, today: date) -> list[str]:
    """What the next week may hold, if it is more."""
    here = climb.on(today)
    after = None if here is None else climb.on(here.last + timedelta(days=1))
    if here is None or after is None or after.share <= here.share:
        return []
    share = say.percent(after.share / 100)
    return [f"From {say.day(after.first)}: up to {share}, if this week goes as planned."]


def _stages(found: Returning, today: date) -> list[str]:
    """What the next stage holds, without a day: nobody knows one."""
    at = found.stage_on(today)
    if not found.stages or at >= len(found.stages):
        return []
    return [f"Next, when your clinician says so: {found.stages[at].content}."]


def measured_on(part: Part, one: Returning, first: date, last: date, channel: str | None = None) -> list[float | None]:
    """Load of seven days in per cent of the usual week, by day from ``first`` through ``last``, with the plan kept.

    None where a rating of those days is missing, and before the history.
    """
    opened = next(
        (each for each in part.day.desks if each.channel.code == channel or (channel is None and each.channel.is_main)),
        None,
    )
    reference = _reference(one, opened.channel.code if opened else "")
    days = (last - first).days + 1
    if opened is None or reference <= 0:
        return [None] * days
    loads = opened.desk.planned
    week = rolling_sum(loads.values[part.row], WEEK)
    unknown = (loads.missing_in(WEEK)[part.row] > 0) | (loads.age[part.row] < 1)
    return _listed(np.where(unknown, np.nan, week / reference * 100), (first - loads.first_day).days, days)


def _reference(one: Returning, channel: str) -> float:
    return float(one.plan.parts.get(channel, {}).get("reference", 0.0))


def _listed(values: Floats, begin: int, days: int) -> list[float | None]:
    """Days from a column on, those that are not there and nan as None."""
    out: list[float | None] = []
    for column in range(begin, begin + days):
        known = 0 <= column < values.size and not np.isnan(values[column])
        out.append(round(float(values[column]), 1) if known else None)
    return out
