"""Sessions planned for a squad, with their parts."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy.orm import Session as DbSession

from uvren.services.day.dates import local_day
from uvren.store.database import batches
from uvren.store.models import (
    Segment,
    Session,
    SessionKind,
    Squad,
    Venue,
)


@dataclass(frozen=True)
class NewSegment:
    name: str
    minutes: float
    weight: float
    grade: int | None = None


@dataclass(frozen=True)
class NewSession:
    starts_at: datetime
    kind: SessionKind
    title: str
    planned_minutes: float
    planned_effort: float
    opponent: str | None = None
    venue: Venue | None = None
    place: str | None = None
    segments: tuple[NewSegment, ...] = field(default=())
    mix_aim: float | None = None


def plan_sessions(db: DbSession, squad: Squad, wanted: list[NewSession]) -> list[Session]:
    """Put planned sessions into the squad's calendar; each belongs to the local day on which it starts."""
    sessions = [
        Session(
            squad_id=squad.id,
            day=local_day(squad, new.starts_at),
            starts_at=new.starts_at,
            kind=new.kind,
            title=new.title,
            planned_minutes=new.planned_minutes,
            planned_effort=new.planned_effort,
            opponent=new.opponent,
            venue=new.venue,
            place=new.place,
            segments=_segments(new.segments),
            mix_aim=new.mix_aim,
        )
        for new in wanted
    ]
    for batch in batches(sessions):
        db.add_all(batch)
        db.flush()
    return sessions


def _segments(wanted: tuple[NewSegment, ...]) -> list[Segment]:
    """Segments one after the other from the start of the session."""
    out: list[Segment] = []
    begins = 0.0
    for place, segment in enumerate(wanted):
        out.append(Segment(place=place, begins=begins, **vars(segment)))
        begins += segment.minutes
    return out
