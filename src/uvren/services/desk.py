"""Loads, plan and limits of a squad on a day, laid out for the core."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.loads import DailyLoads
from uvren.core.notices import Desk
from uvren.core.ratings import OWN_DAYS, typical_effort
from uvren.core.windows import Bools
from uvren.services.limits import LimitsInForce, lay_out
from uvren.store import queries
from uvren.store.models import Channel, Squad
from uvren.store.queries import Member

AHEAD_DAYS = 7


@dataclass(frozen=True)
class SquadDesk:
    """A desk with the people and the limits behind its rows.

    ``to_come`` says, rows x planned days, where the load is (in part) one that is only planned.
    """

    members: list[Member]
    channel: Channel
    limits: LimitsInForce
    desk: Desk
    to_come: Bools


def open_desk(db: DbSession, squad: Squad, as_of: date, today: date, only: int | None = None) -> SquadDesk | None:
    """The squad as it stood on the morning of ``as_of``; on today's date with what is recorded so far today.

    A morning still to come takes the plan of the days before it as done. With ``only`` one athlete of it. None where
    there is nobody on that day.
    """
    members = [member for member in queries.members(db, squad.id, as_of) if only is None or member.athlete_id == only]
    if not members:
        return None
    channel = queries.main_channel(db, squad.id)
    last = as_of + timedelta(days=AHEAD_DAYS)
    recorded_until = as_of if as_of >= today else as_of - timedelta(days=1)
    row_of = {member.athlete_id: i for i, member in enumerate(members)}

    rows = queries.daily_loads(db, channel.id, list(row_of), recorded_until)
    first = min((row.day for row in rows), default=as_of)
    days = (last - first).days + 1
    load = np.zeros((len(members), days))
    estimated = np.zeros_like(load)
    start = np.full(len(members), (as_of - first).days + 1, dtype=np.int64)
    origin = first.toordinal()
    if rows:
        athlete, day, value, guess = zip(*rows, strict=True)
        at = np.array([row_of[a] for a in athlete])
        column = np.array([d.toordinal() for d in day]) - origin
        load[at, column] = np.array(value, dtype=np.float64)
        estimated[at, column] = guess
        np.minimum.at(start, at, column)

    today_column = (as_of - first).days
    plan = _plan(db, squad, row_of, first, as_of, last, today, days)
    done_by_then = load + np.where(np.arange(days) < today_column, plan, 0.0)
    done = DailyLoads(first, done_by_then[:, : today_column + 1], start, estimated[:, : today_column + 1])
    planned = DailyLoads(first, load + plan, start, estimated)
    limits = lay_out(queries.limits_until(db, squad.id, channel.id, last), members, first, days)
    hard, advisory = limits.split()
    desk = Desk(as_of, done, planned, hard, advisory, _efforts(db, squad, members, as_of))
    return SquadDesk(members, channel, limits, desk, plan > 0)


def _plan(
    db: DbSession,
    squad: Squad,
    row_of: dict[int, int],
    first: date,
    as_of: date,
    last: date,
    today: date,
    days: int,
) -> np.ndarray:
    """Load still to come, athletes x days, from ``as_of`` (or today, if earlier) on.

    What was done on a past day and after it counts as planned there, whatever came of it.
    """
    out = np.zeros((len(row_of), days))
    sessions = {
        row.id: row
        for row in queries.plan(db, squad.id, max(min(as_of, today), first), last)
        if as_of < today or not row.done
    }
    own: dict[str, dict[int, float]] = defaultdict(dict)
    for row in queries.own_plans(db, list(sessions)):
        session = sessions[row.session_id]
        minutes = session.planned_minutes if row.planned_minutes is None else row.planned_minutes
        effort = session.planned_effort if row.planned_effort is None else row.planned_effort
        own[row.session_id][row.athlete_id] = minutes * effort
    for session in sessions.values():
        column = (session.day - first).days
        for athlete, row_index in row_of.items():
            whole = session.planned_minutes * session.planned_effort
            out[row_index, column] += own[session.id].get(athlete, whole)
    return out


def _efforts(db: DbSession, squad: Squad, members: list[Member], as_of: date) -> np.ndarray:
    given: dict[int, list[float]] = defaultdict(list)
    window = timedelta(days=OWN_DAYS)
    for athlete, effort in queries.ratings(db, squad.id, as_of - window, as_of - timedelta(days=1)):
        given[athlete].append(float(effort or 0))
    return np.array([typical_effort(np.array(given[member.athlete_id])) for member in members])
