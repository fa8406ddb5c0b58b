"""An athlete's own day and climb, in plain words, and nobody else's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.day import CallKind, Standing, Stands, Why
from uvren.services.club.accounts import clinicians_of
from uvren.services.day.beside import YOURS, beside_between
from uvren.services.day.climbing import OwnReturn, own_return
from uvren.services.day.plan import PlannedToday, plan_of
from uvren.services.errors import NotFound
from uvren.services.morning import Lane, read_morning
from uvren.store.models import Squad

WEEKS = 12


@dataclass(frozen=True)
class OwnWeek:
    """A week load with the last day of its week."""

    ends: date
    load: float


@dataclass(frozen=True)
class OwnBeside:
    """A session of today that one takes part in without load."""

    starts_at: datetime
    said: str


@dataclass(frozen=True)
class OwnToday:
    """Today for an athlete: ``called`` is how they stand, ``room`` what is left in plain words.

    ``plan`` is what stands of it, empty where nothing is to be done; ``beside`` what one takes part in without load.
    ``weeks`` are the week loads of the last weeks, oldest first, each with the last day of the week. ``back`` is the
    own way back, None without one.
    """

    stands: Stands
    plan: list[PlannedToday]
    beside: list[OwnBeside]
    called: str
    gate: str
    room: str
    weeks: list[OwnWeek]
    back: OwnReturn | None


def own_today(db: DbSession, squad: Squad, athlete_id: int, today: date) -> OwnToday:
    """Raises NotFound for someone who is not in the squad."""
    morning, parts = read_morning(db, squad, today, today, athlete_id)
    if athlete_id not in parts:
        raise NotFound("This athlete is not in the squad.")
    part = parts[athlete_id]
    lane, desk, standing = morning.lanes[0], part.day.main.desk, part.standing
    week = desk.now.week_load[part.row]
    ends = [desk.today - 1 - 7 * back for back in range(WEEKS - 1, -1, -1)]
    known = [end for end in ends if end >= 0 and not np.isnan(week[end])]
    beside = [one for one in beside_between(db, squad, athlete_id, today, today) if one.how is not None]
    without = {one.session_id for one in beside}
    plan = [] if standing.closed else plan_of(db, squad, athlete_id, today, standing)
    return OwnToday(
        stands=standing.stands,
        plan=[one for one in plan if one.session_id not in without or one.minutes > 0],
        beside=[OwnBeside(one.starts_at, f"{one.name}: {YOURS[one.how]}") for one in beside if one.how is not None],
        called=_called(standing, lane.minutes, clinicians_of(db, squad)),
        gate=lane.gate,
        room=_room(lane),
        weeks=[OwnWeek(desk.done.date_of(end), float(week[end])) for end in known],
        back=own_return(db, squad, part, today),
    )


def _called(standing: Standing, minutes: float, clinicians: Sequence[str]) -> str:
    """How one stands today, said to oneself; empty for the plan as it is."""
    clinician = " or ".join(clinicians) or "a clinician"
    call = standing.given.call
    if standing.stands is Stands.WAIT:
        return f"Wait for {clinician} before you train."
    if standing.stands is Stands.ASK:
        return f"Ask {clinician if standing.why is Why.TOLD else 'your coach'} before you train."
    if standing.stands is Stands.REST:
        return "Rest today, as agreed."
    if standing.stands is Stands.OUT:
        referred = call is not None and call.kind is CallKind.REFER
        return f"Talk to {clinician} before you train." if referred else "Day off today."
    if call is None:
        return ""
    if call.kind is CallKind.FULL:
        return "" if standing.stands is Stands.PART else "Train as planned."
    if call.kind is CallKind.RECOVER:
        return "Recovery today: easy, nothing else."
    if call.kind is CallKind.MINIMUM:
        return f"Minimum dose today: {say.listed(call.changes(minutes)[:1])}."
    return f"Adapted today: {say.listed(call.changes(minutes)) or 'ask your coach how'}."


def _room(lane: Lane) -> str:
    """Room in plain words, where the plan stands as it is: only then may one add something by oneself."""
    room = lane.room
    if lane.standing.stands is not Stands.PLAN or lane.standing.no_more or room.load is None:
        return ""
    if room.load <= 0:
        return "Today is full: ask before you add anything."
    return f"Room today: {room.words}."
