"""What is for clinicians: complaints as they come in, and what they allow. Every look at it is noted."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core.body import Pain
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen, keep_earlier, plain
from uvren.store import queries
from uvren.store.models import Availability, Complaint, ComplaintKind, Restriction, Squad
from uvren.store.types import new_ulid

CLOSED_DAYS = 14


def complaints(db: DbSession, squad: Squad, day: date, *, stamp: Stamp) -> list[Complaint]:
    """What is open on a day, or was closed within two weeks before it; notes who looked. Does not commit."""
    found = queries.return_.complaints_until(db, squad.id, day, day - timedelta(days=CLOSED_DAYS))
    audit.saw(db, "clinical_seen", {one.athlete_id for one in found}, stamp=stamp, squad_id=squad.id)
    return found


def _find(db: DbSession, squad: Squad, complaint_id: str) -> Complaint:
    found = db.get(Complaint, complaint_id, with_for_update=True)
    if found is None or found.squad_id != squad.id:
        raise NotFound("There is no such complaint.")
    return found


def answer(
    db: DbSession,
    squad: Squad,
    complaint_id: str,
    words: str | None,
    closed: bool,
    again_on: date | None = None,
    *,
    version: int | Whatever | None = WHATEVER,
    stamp: Stamp,
    today: date,
) -> Complaint:
    """Say that one has seen a complaint, what to do about it, and whether it is over. Does not commit.

    From ``again_on`` on, a day after today, it waits to be seen again. Raises Invalid or NotFound, and
    Stale, with both, where somebody has answered since ``version``. The same answer sent twice is one.
    """
    found = _find(db, squad, complaint_id)
    mine = {"answer": words, "again_on": again_on, "closed_on": today if closed else None}
    theirs = {name: getattr(found, name) for name in mine}
    if mine != theirs:
        said = f"Somebody has answered this meanwhile: {found.answer or 'no note'}."
        check_seen(version, found.version, said, yours=mine, theirs=theirs, field="answer")
    if words is not None and len(words) > 2000:
        raise Invalid("Words are 2000 characters at most.", field="answer")
    if again_on is not None and (closed or again_on <= today):
        raise Invalid("It is seen again on a day after today, unless it is over.", field="again_on")
    if found.seen_at is None:
        found.seen_at, found.seen_by = stamp.now, stamp.by
    if mine != theirs:
        if found.version > 1:
            keep_earlier(db, squad.id, "answer", found.id, found.version, theirs,
                         athlete_id=found.athlete_id, stamp=stamp)  # fmt: skip
        found.version += 1
    for name, value in mine.items():
        setattr(found, name, value)
    audit.note(db, "clinical_answered", f"complaint:{found.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=found.athlete_id, closed=closed)  # fmt: skip
    return found


def record_injury(
    db: DbSession, squad: Squad, athlete_id: int, pain: Pain, words: str | None, *, stamp: Stamp, today: date
) -> Complaint:
    """Enter an injury that a clinician found; the same one entered twice is one. Does not commit. Raises NotFound."""
    if athlete_id not in {member.athlete_id for member in queries.squad.members(db, squad.id, today)}:
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    what = {
        "athlete_id": athlete_id, "kind": ComplaintKind.INJURY, "day": today, "site": pain.site.value,
        "side": pain.side.value if pain.side else None, "severity": pain.severity, "words": words,
    }  # fmt: skip
    if (there := queries.return_.same_complaint(db, squad.id, what)) is not None:
        return there
    made = Complaint(
        id=new_ulid(), squad_id=squad.id, **what,
        told_at=stamp.now, seen_at=stamp.now, seen_by=stamp.by,
    )  # fmt: skip
    db.add(made)
    audit.note(db, "clinical_entered", f"complaint:{made.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=athlete_id)  # fmt: skip
    db.flush()
    return made


@dataclass(frozen=True)
class NewRestriction:
    athlete_id: int
    availability: Availability
    change: str
    reason: str
    from_day: date
    to_day: date | None
    minutes_share: float | None = None
    effort_cap: float | None = None
    #: What stood when this was said, None for nothing.
    replaces: str | None = None


def restrict(db: DbSession, squad: Squad, new: NewRestriction, *, stamp: Stamp, today: date) -> Restriction:
    """Say how much an athlete may train; what stood before ends. The same said twice is said once. Does not commit.

    Raises Invalid or NotFound, and Stale, with both, where something else stands than ``replaces``.
    """
    if new.athlete_id not in {member.athlete_id for member in queries.squad.members(db, squad.id, today)}:
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    if new.from_day < today:
        raise Invalid("It holds from today on, or later.", field="from_day")
    if new.to_day is not None and new.to_day < new.from_day:
        raise Invalid("The last day is not before the first.", field="to_day")
    in_part = new.availability is Availability.LIMITED
    if in_part and not new.change.strip() and new.minutes_share is None and new.effort_cap is None:
        raise Invalid("Say what to change in training: the coach reads this, and nothing else.", field="change")
    if new.minutes_share is not None and not 0 < new.minutes_share < 1:
        raise Invalid("The share of the minutes is more than 0 % and less than 100 %.", field="minutes_share")
    if new.effort_cap is not None and not 0 <= new.effort_cap <= 10:
        raise Invalid("Effort goes from 0 to 10.", field="effort_cap")
    standing = [one for one in queries.return_.restrictions_on(db, squad.id, new.from_day)
                if one.athlete_id == new.athlete_id]  # fmt: skip
    if standing and standing[-1].id != new.replaces:
        last = standing[-1]
        if _terms(last) == _terms(new):
            return last
        said = last.change or last.availability.value
        raise Stale(
            f"{last.setter.name if last.setter else 'Somebody'} has said something else meanwhile: {said}. Look at it, "
            "and save yours again if it is to stand.",
            extra={"yours": _plain(new), "theirs": _plain(last) | {"id": last.id}},
        )
    for old in standing:
        if old.from_day >= new.from_day:
            old.withdrawn_at = stamp.now
        else:
            old.to_day = new.from_day - timedelta(days=1)
    made = Restriction(
        id=new_ulid(), squad_id=squad.id, athlete_id=new.athlete_id, availability=new.availability,
        change=new.change.strip(), reason=new.reason.strip(),
        minutes_share=new.minutes_share if in_part else None, effort_cap=new.effort_cap if in_part else None,
        from_day=new.from_day, to_day=new.to_day, set_by=stamp.by,
        set_at=stamp.now, withdrawn_at=None,
    )  # fmt: skip
    db.add(made)
    audit.note(db, "clinical_restricted", f"restriction:{made.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=new.athlete_id, availability=new.availability)  # fmt: skip
    db.flush()
    return made


def _terms(one: NewRestriction | Restriction) -> tuple[Any, ...]:
    in_part = one.availability is Availability.LIMITED
    return (
        one.availability, one.change.strip(), one.reason.strip(), one.from_day, one.to_day,
        one.minutes_share if in_part else None, one.effort_cap if in_part else None,
    )  # fmt: skip


def _plain(one: NewRestriction | Restriction) -> dict[str, Any]:
    names = ("availability", "change", "minutes_share", "effort_cap", "from_day", "to_day")
    return plain({name: getattr(one, name) for name in names})
