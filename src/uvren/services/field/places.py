"""The places of a match, so that nobody names them anew each time: as they were in the match before."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session as DbSession

from uvren.services.field.noting import state_of
from uvren.store import queries
from uvren.store.models import Session, SessionKind, Squad


@dataclass(frozen=True)
class Places:
    """Places on the field in the last match that was run with them, and the ``most`` who were on at once, if any."""

    names: list[str]
    most: int | None


def match_before(db: DbSession, squad: Squad, session: Session) -> str | None:
    """The last match before a match in which it was noted who was on; None for a session of another kind."""
    if session.kind is not SessionKind.MATCH:
        return None
    return queries.field.last_with_places(db, squad.id, session.starts_at)


def read_places(db: DbSession, squad: Squad, session: Session) -> Places:
    before = match_before(db, squad, session)
    if before is None:
        return Places([], None)
    state = state_of(queries.field.field_events(db, before))
    return Places(list(dict.fromkeys(one.place for one in state.stints)), state.most_on())
