"""Rest trials: days off for someone under suspicion of overtraining, and what came of them."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import BadReport
from uvren.core.fatigue import RestTrial as Rule
from uvren.core.fatigue import Trial
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import RestTrial, Squad
from uvren.store.types import new_ulid


def start(
    db: DbSession, squad: Squad, athlete_id: int, first: date, days: int, *, stamp: Stamp, today: date
) -> RestTrial:
    """Begin days off; the same begun twice is one. Does not commit. Raises Invalid or NotFound."""
    if athlete_id not in {member.athlete_id for member in queries.squad.members(db, squad.id, today)}:
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    if first < today:
        raise Invalid(f"A rest trial begins on {say.day(today)} or later.", field="from_day")
    try:
        Rule(first, days)
    except BadReport as error:
        raise Invalid(str(error), field=error.field) from error
    standing = queries.return_.open_trial(db, squad.id, athlete_id)
    if standing is not None and (standing.from_day, standing.days) == (first, days):
        return standing
    if standing is not None:
        raise Invalid("There is a rest trial already; judge it first.", field="athlete_id")
    trial = RestTrial(id=new_ulid(), squad_id=squad.id, athlete_id=athlete_id, from_day=first, days=days,
                      started_by=stamp.by, started_at=stamp.now)  # fmt: skip
    db.add(trial)
    audit.note(db, "rest_trial_started", f"rest_trial:{trial.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=athlete_id, days=days)  # fmt: skip
    db.flush()
    return trial


def judge(db: DbSession, squad: Squad, athlete_id: int, better: bool, *, stamp: Stamp, today: date) -> RestTrial:
    """Say whether someone is better once the days are over. Does not commit. Raises Invalid or NotFound."""
    trial = queries.return_.open_trial(db, squad.id, athlete_id)
    if trial is None:
        raise NotFound("There is no rest trial to judge.")
    rule = Rule(trial.from_day, trial.days)
    if rule.state(today) is Trial.RESTING:
        raise Invalid(f"It lasts until {say.day(rule.last)}; it is judged after that.", field="better")
    trial.better, trial.judged_on, trial.judged_by = better, today, stamp.by
    audit.note(db, "rest_trial_judged", f"rest_trial:{trial.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=athlete_id, better=better)  # fmt: skip
    db.flush()
    return trial
