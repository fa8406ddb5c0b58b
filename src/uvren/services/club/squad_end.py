"""A squad deleted for good, with everything that was kept of it."""

from __future__ import annotations

from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.types import new_ulid
from uvren.store.versions import VERSIONED, purge_history


def delete_squad(db: DbSession, squad: Squad, typed: str, *, stamp: Stamp) -> None:
    """Take away a squad with its people's entries, reports, recordings and all they held before. Does not commit.

    Who is in another squad of the club stays a person of it; of everybody else the name and the account go too. The
    audit stays. Raises Invalid where the squad's name is not ``typed``.
    """
    if typed.strip() != squad.name:
        raise Invalid("Type the squad's name to delete it with everything that is kept of it.", field="name")
    # What its tables held before goes too, and with it a moment in which nobody else may add to them.
    queries.squad.hold_all(db)
    only_here = queries.package.only_in(db, squad.id)
    queries.package.delete_work(db, squad.id)
    db.flush()
    for kept in VERSIONED:
        of = "squad_id = :squad" if hasattr(kept, "squad_id") else (
            "session_id IN (SELECT id FROM session WHERE squad_id = :squad)")  # fmt: skip
        purge_history(db, kept, of, squad=squad.id)
    queries.package.delete_squad(db, squad.id)
    for athlete in only_here:
        queries.package.forget_person(db, athlete)
        queries.club.clear_users_of(db, athlete, "Former athlete", f"gone-{new_ulid().lower()}", stamp.now)
    audit.note(db, "squad_deleted", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=squad.name)
    squad.slug, squad.gone_at = f"gone-{new_ulid().lower()}", stamp.now
    db.flush()
