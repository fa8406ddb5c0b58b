"""Calls that the demo's staff made since the autumn: they go by what the desk shows, with lapses."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import CallKind
from uvren.core.reports import ITEMS, Good, ReportKind, usual_form
from uvren.core.windows import Bools
from uvren.core.worn import LEVEL_DAYS, SILENT_DAYS, USUAL_RATE, Sources, level_for, sources, speaks, squad_variance
from uvren.services.reports import Told
from uvren.services.session.entries import EntryChange
from uvren.simulate.athletes import Body
from uvren.simulate.reports import REPORTS_FROM
from uvren.simulate.seasons import FIRST, TIME_ZONE, TODAY
from uvren.store.models import Call, Session, SessionKind, Squad, User
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since

# On a morning on which somebody stands there staff step in, of ten mornings on so many; and else now and then, by
# what they saw or were told. Most of what they call is kept.
STEP_IN, BY_EYE, KEPT, LOOK_AGAIN = 0.4, 0.004, 0.75, 0.8
DAYS = (TODAY - FIRST).days + 1
KINDS = tuple(SessionKind)


@dataclass(frozen=True)
class Known:
    """What the club has of its people: their ids and bodies, sessions, entries and reports."""

    ids: Sequence[int]
    bodies: Sequence[Body]
    sessions: Sequence[Session]
    changes: Sequence[EntryChange]
    told: Sequence[Told]


def make_calls(db: DbSession, squad: Squad, known: Known, staff: User, random: np.random.Generator) -> None:
    """Write the calls since reports are asked for.

    What was done is done: a call that was kept said what came of the day, another one had asked for less.
    """
    stands = shown_worn(known)
    done = _minutes_done(known)
    rows = []
    for row, (athlete, body) in enumerate(zip(known.ids, known.bodies, strict=True)):
        quiet_until, to_look = REPORTS_FROM, False
        for at in range((REPORTS_FROM - FIRST).days, DAYS):
            day = FIRST + timedelta(days=at)
            minutes = done[athlete, day]
            if minutes == 0 or day < quiet_until:
                continue
            back = any(one.share(day) < 1 and day > one.last for one in body.truth.absences)
            kind, reason, review = CallKind.ADAPT, "", None
            if back:
                reason = "Coming back, by the steps agreed"
            elif stands[row, at] and random.random() < STEP_IN:
                reason = "Worn: reports and effort say so"
            elif random.random() < BY_EYE:
                reason = "Looked tired yesterday"
            elif to_look and random.random() < LOOK_AGAIN:
                kind, reason = CallKind.FULL, "Looked at again: as usual"
            to_look = False
            if not reason:
                continue
            if kind is CallKind.ADAPT:
                review = day + timedelta(days=int(random.integers(2, 6)))
                quiet_until, to_look = review, True
                minutes *= 1.0 if random.random() < KEPT else 0.6
            rows.append(_call(squad, athlete, day, kind, reason, review, minutes, back, staff))
    insert_since(db, Call, rows, "made_at")


def _call(
    squad: Squad, athlete: int, day: date, kind: CallKind, reason: str, review: date | None, minutes: float, back: bool,
    staff: User,
) -> dict[str, Any]:  # fmt: skip
    return {
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


def _minutes_done(known: Known) -> dict[tuple[int, date], float]:
    days = {one.id: one.day for one in known.sessions if one.day < TODAY}
    done: dict[tuple[int, date], float] = defaultdict(float)
    for change in known.changes:
        if change.session_id in days:
            done[change.athlete_id, days[change.session_id]] += change.minutes or 0.0
    return done


def shown_worn(known: Known) -> Bools:
    """On which mornings the desk showed somebody worn, athletes x days: the level of each week set on its Monday."""
    found = _sources(known)
    joined = np.array([(body.truth.joined - FIRST).days for body in known.bodies])
    ages = np.arange(DAYS)[None, :] - joined[:, None]
    begun = (REPORTS_FROM - FIRST).days
    there = (ages > SILENT_DAYS) & (np.arange(DAYS) >= begun + SILENT_DAYS)
    level = np.ones(DAYS)
    for monday in range(0, DAYS, 7):
        since = max(monday - LEVEL_DAYS, 0)
        level[monday : monday + 7] = level_for(found.part(since, monday), USUAL_RATE, there[:, since:monday])
    return speaks(found, np.broadcast_to(level, there.shape), ~there)


def _sources(known: Known) -> Sources:
    codes = usual_form(ReportKind.DAILY)
    row_of = {athlete: row for row, athlete in enumerate(known.ids)}
    daily = np.full((len(row_of), len(codes), DAYS), np.nan)
    for one in known.told:
        if one.kind is ReportKind.DAILY:
            daily[row_of[one.athlete_id], :, (one.day - FIRST).days] = [one.answers.get(c, np.nan) for c in codes]
    floors = np.array([ITEMS[code].step / 2 for code in codes])
    worse = np.array([{Good.LOW: 1.0, Good.HIGH: -1.0}.get(ITEMS[code].good, 0.0) for code in codes])
    of = {one.id: one for one in known.sessions if one.day < TODAY}
    done = [one for one in known.changes if one.session_id in of and one.minutes and one.planned_effort is not None]
    row = np.array([row_of[one.athlete_id] for one in done])
    column = np.array([(of[one.session_id].day - FIRST).days for one in done])
    kind = np.array([KINDS.index(of[one.session_id].kind) for one in done])
    planned, effort = (
        np.array([np.nan if (said := getattr(one, name)) is None else said for one in done], dtype=np.float64)
        for name in ("planned_effort", "effort")
    )
    loads = np.zeros((len(row_of), DAYS))
    minutes = np.array([one.minutes for one in done], dtype=np.float64)
    np.add.at(loads, (row, column), minutes * np.where(np.isnan(effort), planned, effort))
    variance = squad_variance(daily, floors)
    return sources(daily, worse, floors, variance, row, column, kind, planned, effort, loads)
