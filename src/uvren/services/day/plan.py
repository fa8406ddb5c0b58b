"""The plan of a session for a person, before and after what stands for them that day."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Protocol

from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Standing
from uvren.store import queries
from uvren.store.models import Squad


class _Planned(Protocol):
    """A session, or an athlete's entry in it, as far as the plan goes."""

    @property
    def planned_minutes(self) -> float | None: ...

    @property
    def planned_effort(self) -> float | None: ...


def planned_for(session: _Planned, own: _Planned | None) -> tuple[float, float]:
    """Minutes and effort planned for a person: their own plan where there is one, else the session's."""
    minutes, effort = session.planned_minutes or 0.0, session.planned_effort or 0.0
    if own is not None:
        minutes = minutes if own.planned_minutes is None else own.planned_minutes
        effort = effort if own.planned_effort is None else own.planned_effort
    return minutes, effort


def followed(own: float | None, before: float, after: float) -> float | None:
    """What somebody's own planned minutes or effort become when the session's change from ``before`` to ``after``.

    Who was planned as everybody is so still. Who was planned for less does as much of it as there is left; more than
    the session was meant for them, and stays.
    """
    if own is None:
        return None
    if own == before:
        return after
    return min(own, after) if own < before else own


def loads_followed(
    loads: Mapping[str, float] | None, before: float | None, after: float | None
) -> dict[str, float] | None:
    """Loads that were planned for somebody's own minutes, when those change from ``before`` to ``after``."""
    if not loads or not before or after is None:
        return None
    return {channel: load * after / before for channel, load in loads.items()}


@dataclass(frozen=True)
class PlannedToday:
    """A session of a day for one person: as planned, and what stands of its minutes and its effort."""

    session_id: str
    title: str
    starts_at: datetime
    minutes: float
    effort: float
    stands: float
    stands_effort: float


def plan_of(db: DbSession, squad: Squad, athlete_id: int, day: date, standing: Standing) -> list[PlannedToday]:
    """An athlete's sessions of a day, each as planned for them and as it stands."""
    sessions = queries.session.sessions_between(db, squad.id, day, day)
    own = {
        row.session_id: row
        for row in queries.day.own_plans(db, [one.id for one in sessions])
        if row.athlete_id == athlete_id
    }
    planned = [planned_for(session, own.get(session.id)) for session in sessions]
    share = standing.share(sum(minutes for minutes, _ in planned))
    return [
        PlannedToday(
            session.id, session.title, session.starts_at, minutes, effort, minutes * share, min(effort, standing.cap)
        )
        for session, (minutes, effort) in zip(sessions, planned, strict=True)
    ]
