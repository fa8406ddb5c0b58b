"""Calls that the demo's staff made since the autumn: most kept, some not."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import CallKind
from uvren.services.session.entries import EntryChange
from uvren.simulate.athletes import Body
from uvren.simulate.reports import REPORTS_FROM, strain_by_day
from uvren.simulate.seasons import TIME_ZONE, TODAY
from uvren.store.models import Call, Session, Squad, User
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since

# From this strain on (in capacities beyond usual) staff tend to step in.
TIRED = 0.2
STEP_IN, KEPT, LOOK_AGAIN = 0.35, 0.75, 0.8


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
    """Write the calls since reports are asked for.

    What was done is done: a call that was kept said what came of the day, another one had asked for less.
    """
    days = {one.id: one.day for one in sessions if REPORTS_FROM <= one.day < TODAY}
    done: dict[tuple[int, date], float] = defaultdict(float)
    for change in changes:
        if change.session_id in days:
            done[change.athlete_id, days[change.session_id]] += change.minutes or 0.0
    rows = []
    for athlete, body in zip(ids, bodies, strict=True):
        quiet_until, to_look = REPORTS_FROM, False
        for day, strain in strain_by_day(body, REPORTS_FROM, TODAY).items():
            minutes = done[athlete, day]
            if minutes == 0 or day < quiet_until:
                continue
            back = any(one.share(day) < 1 and day > one.last for one in body.truth.absences)
            kind, reason, review = CallKind.ADAPT, "", None
            if back:
                reason = "Coming back, by the steps agreed"
            elif strain > TIRED and random.random() < STEP_IN:
                reason = "Heavy week and flat reports"
            elif to_look and random.random() < LOOK_AGAIN:
                kind, reason = CallKind.FULL, "Looked at again: as usual"
            to_look = False
            if not reason:
                continue
            if kind is CallKind.ADAPT:
                review = day + timedelta(days=int(random.integers(2, 6)))
                quiet_until, to_look = review, True
                minutes *= 1.0 if random.random() < KEPT else 0.6
            rows.append(
                {
                    "id": new_ulid(),
                    "squad_id": squad.id,
                    "athlete_id": athlete,
                    "day": day,
                    "kind": kind,
                    "reason": reason,
                    "review_on": review,
                    "minutes": float(max(5 * round(minutes / 5), 5)) if kind is CallKind.ADAPT else None,
                    "effort_cap": 6.0 if back else None,
                    "content": None,
                    "above_room": False,
                    "about": {},
                    "made_by": staff.id,
                    "made_at": datetime.combine(day, time(7, 40), ZoneInfo(TIME_ZONE)),
                }
            )
    insert_since(db, Call, rows, "made_at")
