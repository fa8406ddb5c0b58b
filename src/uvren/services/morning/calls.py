"""Calls: what a person decided about an athlete for a day. Never made or preset by the system."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import ALL
from uvren.core.day import OFF_KINDS, Called, CallKind, Stands, weighed
from uvren.services.club import audit
from uvren.services.day.day import Part
from uvren.services.day.desk import AHEAD_DAYS
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.morning import Lane, called_load, read_morning
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, Call, Squad

# What a clinician's word leaves open.
OUT_KINDS = (CallKind.REST, CallKind.REFER, CallKind.RECOVER)


@dataclass(frozen=True)
class NewCall:
    """A call as someone makes it.

    ``minutes``, ``effort_cap`` and ``content`` say how an adapted day looks. ``replaces`` is the call that was seen
    standing. ``sure`` lets an adapted day stand that goes beyond room.
    """

    id: str
    athlete_id: int
    day: date
    kind: CallKind
    reason: str = ""
    review_on: date | None = None
    minutes: float | None = None
    effort_cap: float | None = None
    content: str | None = None
    replaces: str | None = None
    sure: bool = False


def make_call(db: DbSession, squad: Squad, new: NewCall, *, stamp: Stamp, today: date) -> Call:
    """Record a call; see :func:`make_calls`."""
    return make_calls(db, squad, [new], stamp=stamp, today=today)[0]


def make_calls(db: DbSession, squad: Squad, many: Sequence[NewCall], *, stamp: Stamp, today: date) -> list[Call]:
    """Record calls for a day, all or none; the ones before them stay in the record but no longer stand.

    Does not commit. The same identifier sent twice makes one call. Raises Invalid with the field at fault; where an
    adapted day goes beyond room its ``extra`` says ``above_room``. Raises Stale, with the call that stands, for an
    athlete whom someone else has called meanwhile.
    """
    there = queries.morning.calls_of(db, [new.id for new in many])
    fresh = [new for new in many if new.id not in there]
    for call in there.values():
        if call.squad_id != squad.id:
            raise Invalid("This call belongs to another squad.", field="id")
    if fresh:
        # One after the other, so that nobody is called twice unseen.
        queries.squad.hold(db, squad.id)
        day = fresh[0].day
        if any(new.day != day for new in fresh):
            raise Invalid("Calls made together are for one day.", field="day")
        _check_day(day, today)
        standing = queries.morning.calls_on(db, squad.id, day)
        only = fresh[0].athlete_id if len(fresh) == 1 else None
        morning, parts = read_morning(db, squad, day, today, only, audiences=ALL)
        if not parts:
            raise NotFound("This athlete is not in the squad on that day.", field="athlete_id")
        lanes = {lane.member.athlete_id: (lane, parts[lane.member.athlete_id]) for lane in morning.lanes}
        for new in fresh:
            there[new.id] = _make(db, squad, new, lanes, standing, stamp)
    db.flush()
    return [there[new.id] for new in many]


def _check_day(day: date, today: date) -> None:
    last = today + timedelta(days=AHEAD_DAYS)
    if not today <= day <= last:
        raise Invalid(f"A call is for a day from {say.day(today)} to {say.day(last)}.", field="day")


def _make(
    db: DbSession,
    squad: Squad,
    new: NewCall,
    lanes: dict[int, tuple[Lane, Part]],
    standing: dict[int, tuple[Call, str]],
    stamp: Stamp,
) -> Call:
    found = lanes.get(new.athlete_id)
    if found is None:
        raise NotFound("This athlete is not in the squad on that day.", field="athlete_id")
    lane, part = found
    _check(new)
    before = standing.get(new.athlete_id)
    if before is not None and before[0].id != new.replaces and before[0].made_by != stamp.by:
        call, name = before
        raise Stale(
            f"{name} has called {lane.member.name} meanwhile: {call.kind.value}. Look at both and say which stands.",
            field="kind",
            extra={
                "theirs": {"id": call.id, "kind": call.kind, "reason": call.reason, "made_by": name},
                "yours": {"kind": new.kind, "reason": new.reason},
                "athlete_id": new.athlete_id,
            },
        )
    _keep_to_day(new, lane)
    load = called_load(_called(new), lane, part.day.main, part.row)
    above = lane.leaves is not None and load > lane.leaves + 0.5
    if above and new.kind is CallKind.ADAPT and not new.sure:
        raise Invalid(
            f"That is {say.number(load)}; room is {say.number(lane.leaves or 0)}. "
            "If it is to stand all the same, the reason says why, and it is marked.",
            field="minutes",
            extra={"above_room": True},
        )
    about: dict[str, dict[str, str]] = {}
    for said in lane.notices:
        about.setdefault(said.channel_code, {})[said.key] = said.severity.value
    call = Call(
        id=new.id,
        squad_id=squad.id,
        athlete_id=new.athlete_id,
        day=new.day,
        kind=new.kind,
        reason=new.reason.strip(),
        review_on=new.review_on,
        minutes=new.minutes if new.kind is CallKind.ADAPT else None,
        effort_cap=new.effort_cap if new.kind is CallKind.ADAPT else None,
        content=(new.content or "").strip() or None,
        above_room=above,
        about=about,
        made_by=stamp.by,
        made_at=stamp.now,
    )
    db.add(call)
    _audit(db, call, "call_made", stamp)
    return call


def _check(new: NewCall) -> None:
    if new.kind is not CallKind.FULL and not new.reason.strip():
        raise Invalid("Say why, in a few words.", field="reason")
    for name, most in (("reason", 400), ("content", 200)):
        if len(getattr(new, name) or "") > most:
            raise Invalid(f"This is {most} characters at most.", field=name)
    if new.review_on is not None and new.review_on < new.day:
        raise Invalid(f"The review date is {say.day(new.day)} or later.", field="review_on")
    if new.minutes is not None and not 0 <= new.minutes <= 600:
        raise Invalid("Minutes are 0 to 600.", field="minutes")
    if new.effort_cap is not None and not 0 <= new.effort_cap <= 10:
        raise Invalid("Effort goes from 0 to 10.", field="effort_cap")


def _keep_to_day(new: NewCall, lane: Lane) -> None:
    """What outranks a call: a clinician's word, what a clinician has to see first, and a rest trial. Raises Invalid."""
    name, given = lane.member.name, lane.standing.given
    uncalled = weighed(replace(given, call=None))
    if uncalled.stands is Stands.OUT and new.kind not in OUT_KINDS:
        raise Invalid(f"{name} does not train, by a clinician's word; only a clinician changes that.", field="kind")
    if uncalled.stands is Stands.WAIT and new.kind not in OFF_KINDS:
        raise Invalid(
            f"{name} waits for a clinician: until then only a day off or a referral can be called.", field="kind"
        )
    if uncalled.stands is Stands.REST and new.kind not in OFF_KINDS:
        raise Invalid(f"{name} is in a rest trial: judge it before anything else is called.", field="kind")
    if given.gate is not None and new.kind is CallKind.FULL:
        raise Invalid(
            f"{name} trains in part, by a clinician's word ({', '.join(given.gate.changes())}); adapt the day.",
            field="kind",
        )


def _called(new: NewCall) -> Called:
    if new.kind is not CallKind.ADAPT:
        return Called(new.kind)
    return Called(new.kind, new.minutes, new.effort_cap)


def reply(db: DbSession, squad: Squad, call_id: str, words: str, *, stamp: Stamp) -> Call:
    """A clinician's reply to a call that refers. Does not commit. Raises Invalid or NotFound."""
    call = db.get(Call, call_id)
    if call is None or call.squad_id != squad.id or call.kind is not CallKind.REFER or call.withdrawn_at is not None:
        raise NotFound("There is no such referral.")
    if not words.strip():
        raise Invalid("Say what is to happen.", field="reply")
    call.reply, call.replied_by, call.replied_at = words.strip(), stamp.by, stamp.now
    audit.note(db, "clinical_replied", f"call:{call.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=call.athlete_id)  # fmt: skip
    db.flush()
    return call


def referrals(db: DbSession, squad_id: int, day: date) -> list[Call]:
    """Calls that referred someone within two weeks up to a day and still stand, newest first."""
    return queries.morning.referrals(db, squad_id, day - timedelta(days=14), day)


def withdraw_call(db: DbSession, squad: Squad, call_id: str, *, stamp: Stamp) -> Call:
    """Take a call back; the one before it on that day stands again. Does not commit."""
    call = db.get(Call, call_id)
    if call is None or call.squad_id != squad.id:
        raise NotFound("There is no such call.")
    if call.withdrawn_at is None:
        call.withdrawn_at = stamp.now
        call.withdrawn_by = stamp.by
        _audit(db, call, "call_withdrawn", stamp)
        db.flush()
    return call


def _audit(db: DbSession, call: Call, action: str, stamp: Stamp) -> None:
    db.add(
        Audit(
            at=stamp.now,
            user_id=stamp.by,
            squad_id=call.squad_id,
            athlete_id=call.athlete_id,
            action=action,
            subject=f"call:{call.id}",
            details={"day": str(call.day), "kind": call.kind},
        )
    )
