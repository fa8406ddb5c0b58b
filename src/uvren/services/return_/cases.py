"""Injuries and illnesses of a squad: what, how, what time they cost, and how often they come by exposure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.returns import template_of
from uvren.core.returns.incidence import Incidence, incidence
from uvren.store import queries
from uvren.store.models import Mechanism, Onset, ReturnKind, ReturnPlan, Squad

# The same place within so many days of the one before is told as the same again.
AGAIN_DAYS = 365


@dataclass(frozen=True)
class Case:
    """An injury or an illness. ``out`` are the days fully away, ``part`` those on the way back, so far.

    ``again`` says that the same place was hurt within a year before; ``lasts`` that it is not over.
    """

    plan_id: str
    athlete_id: int
    name: str
    kind: ReturnKind
    what: str
    onset: Onset | None
    mechanism: Mechanism | None
    first_day: date
    out: int
    part: int
    again: bool
    lasts: bool


@dataclass(frozen=True)
class Cases:
    """The cases that began in some days, and injuries and illnesses per 1,000 hours of them."""

    first: date
    last: date
    training_hours: float
    match_hours: float
    rows: list[Case]
    injuries: Incidence
    illnesses: Incidence


def read_cases(db: DbSession, squad: Squad, last: date, days: int) -> Cases:
    """The cases of the days through ``last``. For clinicians alone."""
    first = last - timedelta(days=days - 1)
    names = queries.club.athlete_names(db, squad.club_id)
    plans = queries.return_.cases_between(db, squad.id, first - timedelta(days=AGAIN_DAYS), last)
    rows = [
        _case(plan, names[plan.athlete_id], plans, last)
        for plan in plans
        if plan.first_off is not None and plan.first_off >= first and plan.athlete_id in names
    ]
    minutes = queries.return_.minutes_between(db, squad.id, first, last)
    training, match = (minutes.get(of, 0.0) / 60 for of in (False, True))

    def often(kind: ReturnKind) -> Incidence:
        mine = [one for one in rows if one.kind is kind]
        return incidence(len(mine), sum(one.out for one in mine), training + match)

    return Cases(first, last, round(training, 1), round(match, 1), rows, often(ReturnKind.INJURY),
                 often(ReturnKind.ILLNESS))  # fmt: skip


def _case(plan: ReturnPlan, name: str, plans: Sequence[ReturnPlan], last: date) -> Case:
    off = plan.first_off or plan.first_day
    over = min(plan.ended_on or last, last)
    back = min(plan.first_day, over)
    where = " ".join(filter(None, (plan.side, plan.site)))
    return Case(
        plan_id=plan.id,
        athlete_id=plan.athlete_id,
        name=name,
        kind=plan.kind,
        what=where or template_of(plan.template).name.lower(),
        onset=plan.onset,
        mechanism=plan.mechanism,
        first_day=off,
        out=max((back - off).days, 0),
        part=max((over - back).days, 0),
        again=any(_is_before(other, plan, off) for other in plans),
        lasts=plan.ended_on is None or plan.ended_on > last,
    )


def _is_before(other: ReturnPlan, plan: ReturnPlan, off: date) -> bool:
    same = (other.athlete_id, other.site, other.side) == (plan.athlete_id, plan.site, plan.side)
    if not same or plan.site is None or other.first_off is None:
        return False
    return off - timedelta(days=AGAIN_DAYS) <= other.first_off < off
