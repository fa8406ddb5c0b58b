"""Calls that the demo's staff made in the last weeks: some kept, some not."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services.entries import EntryChange
from uvren.simulate.athletes import Body
from uvren.simulate.reports import strain_by_day
from uvren.simulate.seasons import TIME_ZONE, TODAY
from uvren.store.models import Call, CallKind, Session, Squad, User
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since

WEEKS = 6
# From this strain on (in capacities beyond usual) staff tend to step in.
TIRED = 0.2


def make_calls(
    db: DbSession,
    squad: Squad,
    ids: Sequence[int],
    bodies: Sequence[Body],
    sessions: Sequence[Session],
    changes: Sequence[EntryChange],
    staff: User,
    random: np.random.Generator,
) -> None:
    """Write the calls of the last weeks. What was done is done: whether a call was kept follows from it."""
    first = TODAY - timedelta(weeks=WEEKS)
    days = {one.id: one.day for one in sessions if first <= one.day < TODAY}
    planned: dict[tuple[int, object], float] = {}
    for change in changes:
        if change.session_id in days:
            key = (change.athlete_id, days[change.session_id])
            planned[key] = planned.get(key, 0.0) + (change.planned_minutes or 0.0)
    rows = []
    for athlete, body in zip(ids, bodies, strict=True):
        strains = strain_by_day(body, first, TODAY)
        quiet_until = first
        for day, strain in strains.items():
            minutes = planned.get((athlete, day), 0.0)
            back = any(one.share(day) < 1 and day > one.last for one in body.truth.absences)
            if minutes == 0 or day < quiet_until or not (back or (strain > TIRED and random.random() < 0.35)):
                continue
            kind = CallKind.ADAPT if back or strain < TIRED + 0.25 else CallKind.RECOVER
            share = 1.0 if back else 0.7
            review = day + timedelta(days=int(random.integers(2, 6)))
            quiet_until = review
            rows.append(
                {
                    "id": new_ulid(),
                    "squad_id": squad.id,
                    "athlete_id": athlete,
                    "day": day,
                    "kind": kind,
                    "reason": "Coming back, by the steps agreed" if back else "Heavy week and flat reports",
                    "review_on": review,
                    "minutes": float(5 * round(minutes * share / 5)) if kind is CallKind.ADAPT else None,
                    "effort_cap": 6.0 if back else None,
                    "content": None,
                    "above_room": False,
                    "about": {},
                    "made_by": staff.id,
                    "made_at": datetime.combine(day, time(7, 40), ZoneInfo(TIME_ZONE)),
                }
            )
    insert_since(db, Call, rows, "made_at")
