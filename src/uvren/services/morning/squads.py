"""What a morning says once for the squad, before anybody is named."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.core.notices import Severity
from uvren.core.notices.squads import Cut, smallest_cut
from uvren.core.units import EffortMinutes
from uvren.core.windows import Floats
from uvren.services.day.day import Day
from uvren.services.day.plan import planned_for
from uvren.store import queries
from uvren.store.models import Session, Squad

# From which share of the squad worn is told of the squad.
MANY = 1 / 3


@dataclass(frozen=True)
class SquadStory:
    """One sentence of several, and whom it is about; ``minutes`` less of the session is what it proposes, 0 nothing."""

    sentence: str
    athletes: list[int]
    minutes: float


def squad_stories(
    db: DbSession, squad: Squad, day: Day, today: date, audiences: frozenset[Audience]
) -> list[SquadStory]:
    """What is told of the squad, as far as these audiences may read it."""
    return [*_session_too_long(db, squad, day, today), *_many_worn(day, audiences)]


def _session_too_long(db: DbSession, squad: Squad, day: Day, today: date) -> list[SquadStory]:
    """The session of today that brings most to those whose plan is over their room, where there are several."""
    opened = day.main
    if not isinstance(opened.definition.form, EffortMinutes):
        return []
    rows = len(day.members)
    room = np.array([np.nan if one.load is None else one.load for one in opened.desk.rooms])
    over = np.where([one.closed for one in day.standing], np.nan, opened.desk.plan_today - room)
    # A morning gone by takes that day's work as planned, whatever was done of it since.
    sessions = [
        one
        for one in queries.session.sessions_between(db, squad.id, day.as_of, day.as_of)
        if day.as_of < today or not one.done
    ]
    own = {(one.session_id, one.athlete_id): one for one in queries.day.own_plans(db, [one.id for one in sessions])}
    best: tuple[float, Session, Cut] | None = None
    for session in sessions:
        planned = [planned_for(session, own.get((session.id, member.athlete_id))) for member in day.members]
        minutes, effort = np.array(planned, dtype=np.float64).reshape(rows, 2).T
        effort = _load_a_minute(day, effort) * opened.definition.form.factor([session.place])[0]
        brings = float((minutes * effort)[np.nan_to_num(over) > 0.5].sum())
        cut = smallest_cut(over, effort, minutes, session.planned_minutes)
        if cut is not None and (best is None or brings > best[0]):
            best = brings, session, cut
    if best is None:
        return []
    _, session, cut = best
    names = [member.name for member in day.members]
    said = "match" if session.opponent else f"{session.title.lower()} session"
    athletes = [day.members[row].athlete_id for row in cut.rows]
    return [SquadStory(cut.sentence(said, names), athletes, cut.minutes)]


def _load_a_minute(day: Day, effort: Floats) -> Floats:
    """What a minute of a session brings each, as it stands for them; 0 for who has minutes of their own by a call."""
    out = np.minimum(effort, [one.cap for one in day.standing])
    for row, standing in enumerate(day.standing):
        call, gate = standing.given.call, standing.given.gate
        if call is not None and call.minutes is not None:
            out[row] = 0.0
        elif gate is not None and gate.share is not None:
            out[row] *= gate.share
    return out


def _many_worn(day: Day, audiences: frozenset[Audience]) -> list[SquadStory]:
    if Audience.REPORTS not in audiences:
        return []
    rows = [
        row for row, notices in enumerate(day.found[0])
        if any(one.code == "worn" and one.severity is not Severity.NOTE for one in notices)
    ]  # fmt: skip
    if len(rows) <= len(day.members) * MANY or len(rows) < 2:
        return []
    many = f"{len(rows)} of {len(day.members)} are worn by their own measure"
    return [
        SquadStory(
            f"{many}: look at the squad's week before anybody's day.",
            [day.members[row].athlete_id for row in rows],
            0.0,
        )
    ]
