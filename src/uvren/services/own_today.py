"""An athlete's own day and climb, in plain words, and nobody else's."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.notices import Audience
from uvren.services.decisions import adapted
from uvren.services.errors import NotFound
from uvren.services.morning import PlannedToday, read_evidence
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
    from uvren.services.timeline import read_timeline

    found = read_evidence(db, squad, athlete_id, today, today, audiences=frozenset({Audience.DESK}))
    line = read_timeline(db, squad, athlete_id, today, today, with_reports=False)
    if not line.channels:
        raise NotFound("This athlete is not in the squad.")
    week = dict(zip(line.days, line.channels[0].strip.week, strict=True))
    ends = [today - timedelta(days=1 + 7 * back) for back in range(WEEKS - 1, -1, -1)]
    call = found.lane.call.call if found.lane.call else None
    called = "" if call is None else _CALLED.get(call.kind, "")
    if call is not None and call.kind is CallKind.ADAPT:
        how = say.listed(adapted(call, found.lane.minutes))
        called = f"Adapted today: {how or 'ask your coach how'}."
    room = found.lane.room
    if room.load is None:
        said = ""
    elif room.load <= 0:
        said = (
            "No more than what is planned today." if room.plan <= 0 else "Today is full: ask before you add anything."
        )
    else:
        said = f"Room today: {room.words}."
    return OwnToday(
        plan=found.plan,
        called=called,
        gate=found.lane.gate,
        room=said,
        weeks=[(end, load) for end in ends if (load := week.get(end)) is not None],
    )
