"""Views of the desk that someone has saved under a name; each person has their own."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session as DbSession

from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import SavedView, Squad

MOST = 20


def save_view(db: DbSession, squad: Squad, user_id: int, name: str, query: str, *, now: datetime) -> None:
    """Save a view; one of the same name is replaced. Does not commit. Raises Invalid."""
    if not name.strip():
        raise Invalid("Give the view a name.", field="name")
    if not query.strip():
        raise Invalid("This is the desk as it opens; choose an order, a filter or a column first.", field="query")
    there = queries.morning.views_of(db, squad.id, user_id)
    if len(there) >= MOST and name.strip() not in {view.name for view in there}:
        raise Invalid(f"{MOST} views are the most; take one away first.", field="name")
    queries.morning.set_view(db, squad.id, user_id, name.strip(), query, now)


def remove_view(db: DbSession, squad: Squad, user_id: int, view_id: str) -> None:
    """Does not commit. Raises NotFound for a view that is not one's own."""
    view = db.get(SavedView, view_id)
    if view is None or (view.squad_id, view.user_id) != (squad.id, user_id):
        raise NotFound("There is no such view.")
    db.delete(view)
