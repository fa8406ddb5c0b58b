"""Counts of the days ahead that are over what somebody may do in one spell, and the spells they come to."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Why
from uvren.core.field import SpellRule, most_in, split
from uvren.core.units import CountedWork
from uvren.services.day.desk import SquadDesk
from uvren.services.day.spells import spells_of
from uvren.services.day.standing import PLANNED
from uvren.services.week.reading import DAYS, Changes, open_week
from uvren.store import queries
from uvren.store.models import Session, SpellLimit, Squad


@dataclass(frozen=True)
class Spelled:
    """Somebody's count in a session to come, at most, in spells."""

    athlete_id: int
    name: str
    session_id: str
    day: date
    what: str
    count: int
    fits: bool
    said: str


def read_spells(db: DbSession, squad: Squad, first: date, today: date) -> list[Spelled]:
    """Of the seven days from one on, in order of time, those that do not fit first among them."""
    limits = queries.field.spell_limits(db, squad.id, first)
    if not limits:
        return []
    out: list[Spelled] = []
    for desk in open_week(db, squad, first, today, Changes()).desks:
        form = desk.definition.form
        if isinstance(form, CountedWork):
            weights = {one.code: (one.name, one.weight) for one in form.classes}
            out += _of(db, squad, desk, limits, weights)
    out = [one for one in out if (one.day - first).days < DAYS]
    return sorted(out, key=lambda one: (one.day, one.fits, one.name))


def _of(
    db: DbSession, squad: Squad, desk: SquadDesk, limits: list[SpellLimit], weights: dict[str, tuple[str, float]]
) -> list[Spelled]:
    plan = desk.plan
    load = plan.items(desk.channel.code, desk.definition, desk.rate)
    sessions = queries.session.sessions_of(db, squad.id, list(dict.fromkeys(plan.session)))
    rules: dict[int, dict[str, SpellRule]] = defaultdict(dict)
    out = []
    for i in np.flatnonzero(load > 0):
        row, column = int(plan.row[i]), int(plan.column[i])
        if plan.stands.get((row, column), PLANNED).why in (Why.CLINICIAN, Why.RETURN):
            # What of it they may do stands in words: no count of it is offered.
            continue
        member, session = desk.members[row], sessions[plan.session[i]]
        mine = rules.setdefault(member.athlete_id, spells_of(limits, member.athlete_id))
        minutes = float(plan.minutes[i] * plan.share[i])
        for what, rule in mine.items():
            name, weight = weights.get(what, ("", 0.0))
            # Were all of the load of this kind, it would be so many: the plan does not tell the kinds apart.
            count = round(float(load[i]) / weight) if weight > 0 else 0
            if count > rule.most:
                out.append(_spelled(member.athlete_id, member.name, session, name, count, rule, minutes))
    return out


def _spelled(
    athlete: int, name: str, session: Session, what: str, count: int, rule: SpellRule, minutes: float
) -> Spelled:
    found = split(count, rule)
    fits = found.fits(minutes)
    said = f"{what.lower()}, up to {count}: {found.spells} spells of {found.each}, {rule.seconds / 60:g} min between"
    if not fits:
        said += f"; {minutes:.0f} min have room for {most_in(minutes, rule)}"
    return Spelled(athlete, name, session.id, session.day, what, count, fits, said[0].upper() + said[1:])
