"""An athlete's own day and climb, in plain words, and nobody else's."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.services.day.decisions import adapted
from uvren.services.errors import NotFound
from uvren.services.morning import PlannedToday, plan_of, read_morning
from uvren.store.models import CallKind, Squad

WEEKS = 12

_CALLED = {
    CallKind.FULL: "Train as planned.",
    CallKind.MINIMUM: "Minimum dose today: the main part only.",
    CallKind.RECOVER: "Recovery today: easy, nothing else.",
    CallKind.REST: "Day off today.",
    CallKind.REFER: "Talk to the clinician before you train.",
}


@dataclass(frozen=True)
class OwnToday:
    """Today for an athlete: ``called`` is what staff decided, ``room`` what is left in plain words.

    ``weeks`` are the week loads of the last weeks, oldest first, each with the last day of the week.
    """

    plan: list[PlannedToday]
    called: str
    gate: str
    room: str
    weeks: list[tuple[date, float]]


def own_today(db: DbSession, squad: Squad, athlete_id: int, today: date) -> OwnToday:
    """Raises NotFound for someone who is not in the squad."""
    morning, desks = read_morning(db, squad, today, today, athlete_id, None, frozenset({Audience.DESK}))
    if not desks:
        raise NotFound("This athlete is not in the squad.")
    lane, desk = morning.lanes[0], desks[0].desk
    ends = [desk.today - 1 - 7 * back for back in range(WEEKS - 1, -1, -1)]
    week = desk.now.week_load[0]
    call = lane.call.call if lane.call else None
    called = "" if call is None else _CALLED.get(call.kind, "")
    if call is not None and call.kind is CallKind.ADAPT:
        how = say.listed(adapted(call, lane.minutes))
        called = f"Adapted today: {how or 'ask your coach how'}."
    room = lane.room
    if room.load is None:
        said = ""
    elif room.load <= 0:
        said = "Today is full: ask before you add anything."
    else:
        said = f"Room today: {room.words}."
    return OwnToday(
        plan=plan_of(db, squad, athlete_id, today),
        called=called,
        gate=lane.gate,
        room=said,
        weeks=[(desk.done.date_of(end), float(week[end])) for end in ends if end >= 0 and not np.isnan(week[end])],
    )
