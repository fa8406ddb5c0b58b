"""The day worked out once per change: kept in each web process for as long as nothing it rests on has changed.

What is kept carries the marks of :mod:`uvren.store.changes`. Who asks reads the marks first; where they are not those
of what is kept, it is worked out anew from one snapshot of the tables, and of a squad in which some people changed,
only for these. Several who ask at once wait for one answer.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Collection, Hashable
from dataclasses import dataclass, field
from datetime import date
from threading import Lock
from typing import Any, TypeVar, cast

from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Standing
from uvren.core.worn import Basis
from uvren.services.day.day import Part, parts_of, read_day
from uvren.services.day.standing import standings
from uvren.services.day.tuning import tuning
from uvren.services.day.worn_basis import keep_in
from uvren.store import queries
from uvren.store.changes import BESIDE, EVERYBODY, has_written, marks_of, share
from uvren.store.models import Squad
from uvren.store.versions import is_known_at

_KEEPER = "days"
Found = TypeVar("Found")


@dataclass
class _Kept:
    marks: dict[int, str] | None = None
    # What was read of the whole squad, as long as everybody's mark is the same.
    shared: dict[Any, Any] = field(default_factory=dict)
    parts: dict[int, Part] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def changed(self, marks: dict[int, str]) -> set[int] | None:
        """Who changed since, None for everybody."""
        if self.marks is None or self.marks.get(EVERYBODY) != marks.get(EVERYBODY):
            return None
        return {one for one in marks if one not in (EVERYBODY, BESIDE) and marks[one] != self.marks.get(one)}


@dataclass
class _Found:
    """Something that was worked out from a squad's tables, with their marks then."""

    marks: dict[int, str] | None = None
    what: Any = None
    lock: Lock = field(default_factory=Lock)


_Slot = TypeVar("_Slot", _Kept, _Found)


class Days:
    """Days of squads, the last ``most`` that were asked for, and as much of whatever else rests on a squad's tables.

    ``snapshot`` opens a session that reads the tables as they stand at one moment.
    """

    def __init__(self, snapshot: Callable[[], DbSession], most: int = 6) -> None:
        self._snapshot = snapshot
        self.most = most
        self._kept: OrderedDict[tuple[int, date, date], _Kept] = OrderedDict()
        self._found: OrderedDict[Hashable, _Found] = OrderedDict()
        self._bases: dict[Any, Basis] = {}
        self._lock = Lock()

    def lend(self, db: DbSession) -> None:
        """Let what is read with a session come from here."""
        db.info[_KEEPER] = self
        keep_in(db, self._bases)

    def parts(self, db: DbSession, squad_id: int, as_of: date, today: date) -> dict[int, Part]:
        """Where everybody stands, by athlete, as it holds for what ``db`` sees now."""
        marks = marks_of(db, squad_id)
        key = (squad_id, as_of, today)
        kept = self._slot(self._kept, key, _Kept())
        with kept.lock:
            if kept.changed(marks) != set():
                self._renew(kept, *key)
            return kept.parts

    def found(self, db: DbSession, squad_id: int, key: Hashable, make: Callable[[DbSession, Squad], Any]) -> Any:
        """What ``make`` works out, until anything of the squad changes; it reads one moment of the tables."""
        marks = marks_of(db, squad_id)
        found = self._slot(self._found, (squad_id, key), _Found())
        with found.lock:
            if found.marks != marks:
                with self._snapshot() as snapshot:
                    now = marks_of(snapshot, squad_id)
                    found.what = make(snapshot, snapshot.get_one(Squad, squad_id))
                    # Only now: what could not be worked out is tried again.
                    found.marks = now
                    snapshot.expunge_all()
            return found.what

    def _slot(self, slots: OrderedDict[Any, _Slot], key: Hashable, new: _Slot) -> _Slot:
        with self._lock:
            slot = slots.setdefault(key, new)
            slots.move_to_end(key)
            while len(slots) > self.most:
                slots.popitem(last=False)
            return slot

    def _renew(self, kept: _Kept, squad_id: int, as_of: date, today: date) -> None:
        with self._snapshot() as db:
            marks = marks_of(db, squad_id)
            changed = kept.changed(marks)
            if changed is None:
                kept.shared = {}
            share(db, kept.shared)
            keep_in(db, self._bases)
            if changed:
                # Who has nothing of their own to go by is judged by what the others did, also by who has left since.
                changed = {one for one, part in kept.parts.items() if one in changed or part.leans}
            if changed is None or len(changed) > len(kept.parts) / 2:
                kept.parts = parts_of(read_day(db, db.get_one(Squad, squad_id), as_of, today))
            elif changed:
                anew = parts_of(read_day(db, db.get_one(Squad, squad_id), as_of, today, changed))
                kept.parts = {one: anew.get(one, part) for one, part in kept.parts.items()}
            kept.marks = marks
            # What is kept outlives the session and is read by others.
            db.expunge_all()


def unchanged(db: DbSession, squad: Squad, key: Hashable, make: Callable[[DbSession, Squad], Found]) -> Found:
    """What ``make`` works out from a squad's tables, kept until anything of the squad changes; ``key`` says what it is.

    It is given to many and changed by none. A session that sees what nobody else does has it worked out for itself.
    """
    keeper = _keeper(db)
    return make(db, squad) if keeper is None else cast(Found, keeper.found(db, squad.id, key, make))


def _keeper(db: DbSession) -> Days | None:
    """Where a session may take from: nowhere once it has written, or if it reads what was known at a moment."""
    return None if is_known_at(db) is not None or has_written(db) else db.info.get(_KEEPER)


def parts_on(
    db: DbSession, squad: Squad, as_of: date, today: date, only: Collection[int] | None = None
) -> dict[int, Part]:
    """Where everybody of the squad, or ``only`` some, stand on a morning, by athlete; empty where there is nobody.

    A session that has written, or that reads what was known at a moment, sees what nobody else does: for it the day is
    worked out by itself.
    """
    keeper = _keeper(db)
    if keeper is None:
        return parts_of(read_day(db, squad, as_of, today, only))
    parts = keeper.parts(db, squad.id, as_of, today)
    return parts if only is None else {one: part for one, part in parts.items() if one in only}


def standing_on(db: DbSession, squad: Squad, day: date, today: date) -> dict[int, Standing]:
    """How each athlete stands on a day. Of a day gone by, without what the rules would have found then."""
    if day >= today:
        return {athlete: part.standing for athlete, part in parts_on(db, squad, day, today).items()}
    members = queries.squad.members(db, squad.id, day)
    said = standings(db, squad, members, day, day, day, tuning(db, squad, members, day))
    return {athlete: one for (athlete, _), one in said.items()}
