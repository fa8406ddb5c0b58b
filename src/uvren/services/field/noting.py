"""Noting at the pitch: kept as it was said, once each, in whatever order it comes in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.field import Event, Field, FieldKind, fold
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import FieldEvent, Session, SpellLimit, Squad
from uvren.store.types import new_ulid

# So far before it begins and after it something of a session can be noted, and so far a tablet's clock may be ahead.
REACH, AHEAD = timedelta(hours=14), timedelta(minutes=2)
OF_PARTS = frozenset({FieldKind.BEGIN})
OF_PEOPLE = frozenset({FieldKind.COUNT, FieldKind.BREAK, FieldKind.LEAVE, FieldKind.ON, FieldKind.OFF})


@dataclass(frozen=True)
class NewEvent:
    """Something noted; see :class:`uvren.store.models.FieldEvent`. Its ``id`` is made where it is noted."""

    id: str
    kind: FieldKind
    at: datetime
    athlete_id: int | None = None
    part: int | None = None
    amount: float = 0.0
    what: str = ""
    words: str = ""


def note(db: DbSession, squad: Squad, session_id: str, events: Sequence[NewEvent], *, stamp: Stamp) -> Session:
    """Keep what was noted of a session; what is known already counts once. Does not commit.

    Raises NotFound; Invalid, with the place of the event, for what cannot be of this session.
    """
    session = queries.session.any_session(db, session_id)
    if session is None or session.squad_id != squad.id:
        raise NotFound("There is no such session in this squad.")
    if session.called_off is not None:
        raise Invalid("This session is called off.", field="session_id")
    known = queries.field.known_events(db, [one.id for one in events])
    people = {one.athlete_id for one in queries.squad.members(db, squad.id, session.day)}
    for i, one in enumerate(events):
        if one.id in known:
            if known[one.id].session_id != session.id:
                raise Invalid("This is noted of another session already.", field=f"events.{i}.id")
            continue
        _check(session, people, one, f"events.{i}", stamp.now)
        db.add(
            FieldEvent(
                id=one.id, squad_id=squad.id, session_id=session.id, athlete_id=one.athlete_id, kind=one.kind,
                at=one.at, part=one.part, amount=one.amount, what=one.what, words=one.words.strip(),
                made_by=stamp.by, made_at=stamp.now, taken_back_at=None,
            )
        )  # fmt: skip
    db.flush()
    return session


def _check(session: Session, people: set[int], one: NewEvent, field: str, now: datetime) -> None:
    if one.at > now + AHEAD:
        ahead = round((one.at - now).total_seconds() / 60)
        raise Invalid(f"The clock of this device is {ahead} min ahead. Set it right and note it again.",
                      field=f"{field}.at")  # fmt: skip
    if abs(one.at - session.starts_at) > REACH:
        raise Invalid("That is too far from when the session is.", field=f"{field}.at")
    if one.athlete_id is not None and one.athlete_id not in people:
        raise Invalid("This athlete is not in the squad on that day.", field=f"{field}.athlete_id")
    if one.kind in OF_PEOPLE and one.athlete_id is None:
        raise Invalid("Say of whom.", field=f"{field}.athlete_id")
    if one.kind in OF_PARTS and one.part not in [part.place for part in session.segments]:
        raise Invalid("There is no such part in this session.", field=f"{field}.part")
    if one.kind is FieldKind.BREAK and not 1 <= one.amount <= 7200:
        raise Invalid("A break is between a second and two hours.", field=f"{field}.amount")
    if one.kind is FieldKind.COUNT and (one.amount == 0 or abs(one.amount) > 1000 or one.amount % 1):
        raise Invalid("A count is a whole number.", field=f"{field}.amount")
    if one.kind in (FieldKind.NOTE, FieldKind.ON) and not one.words.strip():
        raise Invalid("There are no words.", field=f"{field}.words")


def take_back(db: DbSession, squad: Squad, session_id: str, name: str, *, stamp: Stamp) -> None:
    """Let something noted not count any more. Does not commit. Raises NotFound."""
    event = queries.field.known_events(db, [name]).get(name)
    if event is None or event.squad_id != squad.id or event.session_id != session_id:
        raise NotFound("This was not noted of this session.")
    if event.taken_back_at is None:
        event.taken_back_at = stamp.now
    db.flush()


@dataclass(frozen=True)
class NewSpell:
    athlete_id: int | None
    what: str
    most: int
    break_minutes: float


def set_spell(db: DbSession, squad: Squad, new: NewSpell, day: date, *, stamp: Stamp) -> SpellLimit:
    """At most so many in a spell from a day on, in place of one of the same people. Does not commit.

    Raises Invalid for somebody who is not in the squad.
    """
    people = {one.athlete_id for one in queries.squad.members(db, squad.id, day)}
    if new.athlete_id is not None and new.athlete_id not in people:
        raise Invalid("This athlete is not in the squad on that day.", field="athlete_id")
    for old in queries.field.spell_limits(db, squad.id, day):
        if (old.athlete_id, old.what) == (new.athlete_id, new.what):
            old.withdrawn_at = stamp.now
    made = SpellLimit(
        id=new_ulid(), squad_id=squad.id, athlete_id=new.athlete_id, what=new.what, most=new.most,
        break_minutes=new.break_minutes, from_day=day, set_by=stamp.by, set_at=stamp.now, withdrawn_at=None,
    )  # fmt: skip
    db.add(made)
    db.flush()
    return made


def withdraw_spell(db: DbSession, squad: Squad, name: str, *, stamp: Stamp) -> None:
    """Let a spell hold no longer. Does not commit. Raises NotFound."""
    found = queries.field.spell_limit(db, squad.id, name)
    if found is None:
        raise NotFound("There is no such spell in this squad.")
    found.withdrawn_at = stamp.now
    db.flush()


def state_of(events: Sequence[FieldEvent]) -> Field:
    """How things stand after what was noted; moments are seconds of the common era."""
    return fold([event_of(one) for one in events])


def event_of(one: FieldEvent) -> Event:
    return Event(one.id, one.kind, one.at.timestamp(), one.athlete_id, one.part, one.amount, one.words, one.what)
