"""Calls: what a person decided about an athlete for a day. Never made or preset by the system."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.desk import AHEAD_DAYS
from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import Audit, Call, CallKind, Squad


def make_call(
    db: DbSession,
    squad: Squad,
    *,
    call_id: str,
    athlete_id: int,
    day: date,
    kind: CallKind,
    reason: str,
    review_on: date | None,
    by: int,
    now: datetime,
    today: date,
) -> Call:
    """Record a call; the one before it on that day stays in the record but no longer stands. Does not commit.

    The same ``call_id`` sent twice makes one call. Raises Invalid with the field at fault.
    """
    standing = db.get(Call, call_id)
    if standing is not None:
        if standing.squad_id != squad.id:
            raise Invalid("This call belongs to another squad.", field="id")
        return standing
    if athlete_id not in {member.athlete_id for member in queries.members(db, squad.id, day)}:
        raise NotFound("This athlete is not in the squad on that day.", field="athlete_id")
    last = today + timedelta(days=AHEAD_DAYS)
    if not today <= day <= last:
        raise Invalid(f"A call is for a day from {say.day(today)} to {say.day(last)}.", field="day")
    if kind is not CallKind.FULL and not reason.strip():
        raise Invalid("Say why, in a few words.", field="reason")
    if len(reason) > 400:
        raise Invalid("The reason is 400 characters at most.", field="reason")
    if review_on is not None and review_on < day:
        raise Invalid(f"The review date is {say.day(day)} or later.", field="review_on")
    call = Call(
        id=call_id,
        squad_id=squad.id,
        athlete_id=athlete_id,
        day=day,
        kind=kind,
        reason=reason.strip(),
        review_on=review_on,
        made_by=by,
        made_at=now,
        withdrawn_at=None,
        withdrawn_by=None,
    )
    db.add(call)
    _audit(db, call, "call_made", by, now)
    db.flush()
    return call


def withdraw_call(db: DbSession, squad: Squad, call_id: str, *, by: int, now: datetime) -> Call:
    """Take a call back; the one before it on that day stands again. Does not commit."""
    call = db.get(Call, call_id)
    if call is None or call.squad_id != squad.id:
        raise NotFound("There is no such call.")
    if call.withdrawn_at is None:
        call.withdrawn_at = now
        call.withdrawn_by = by
        _audit(db, call, "call_withdrawn", by, now)
        db.flush()
    return call


def _audit(db: DbSession, call: Call, action: str, by: int, now: datetime) -> None:
    db.add(
        Audit(
            at=now,
            user_id=by,
            squad_id=call.squad_id,
            athlete_id=call.athlete_id,
            action=action,
            subject=f"call:{call.id}",
            details={"day": str(call.day), "kind": call.kind},
        )
    )
