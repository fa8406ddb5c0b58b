"""Notes about an athlete, each for who may read it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Note, Squad


@dataclass(frozen=True)
class NewNote:
    id: str
    athlete_id: int
    day: date
    audience: Audience
    words: str


def read_notes(db: DbSession, squad: Squad, athlete_id: int, day: date, audiences: frozenset[Audience]) -> list[Note]:
    """Notes about an athlete up to a day, for these audiences. Raises NotFound."""
    if athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.")
    return list(queries.morning.notes_of(db, squad.id, athlete_id, day, audiences))


def write_note(
    db: DbSession, squad: Squad, new: NewNote, audiences: frozenset[Audience], *, stamp: Stamp, today: date
) -> Note:
    """Write a note. Does not commit. The same identifier sent twice writes one. Raises Invalid or NotFound."""
    there = db.get(Note, new.id)
    if there is not None:
        if (there.squad_id, there.made_by) != (squad.id, stamp.by):
            raise Invalid("This note is someone else's.", field="id")
        return there
    if new.athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.", field="athlete_id")
    if not new.words.strip():
        raise Invalid("There is nothing in this note yet.", field="words")
    if len(new.words) > 2000:
        raise Invalid("A note is 2000 characters at most.", field="words")
    if new.day > today:
        raise Invalid("A note is for today or a day before.", field="day")
    if new.audience not in audiences:
        raise Invalid("You could not read this note yourself.", field="audience")
    note = Note(id=new.id, squad_id=squad.id, athlete_id=new.athlete_id, day=new.day, audience=new.audience,
                words=new.words.strip(), made_by=stamp.by, made_at=stamp.now)  # fmt: skip
    db.add(note)
    audit.note(db, "note_written", f"note:{note.id}", stamp=stamp, squad_id=squad.id, athlete_id=new.athlete_id,
               audience=new.audience)  # fmt: skip
    db.flush()
    return note


def withdraw_note(db: DbSession, squad: Squad, note_id: str, *, stamp: Stamp) -> None:
    """Take one's own note back. Does not commit. Raises NotFound or NotAllowed."""
    note = db.get(Note, note_id)
    if note is None or note.squad_id != squad.id or note.withdrawn_at is not None:
        raise NotFound("There is no such note.")
    if note.made_by != stamp.by:
        raise NotAllowed("Only who wrote a note can take it back.")
    note.withdrawn_at = stamp.now
    audit.note(db, "note_withdrawn", f"note:{note.id}", stamp=stamp, squad_id=squad.id, athlete_id=note.athlete_id)
