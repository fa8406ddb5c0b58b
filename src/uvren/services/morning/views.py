"""Views of the desk that someone has saved under a name; each person has their own."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession

from uvren.services.errors import Invalid, NotFound
from uvren.store.models import SavedView, Squad
from uvren.store.types import new_ulid

MOST = 20


def views_of(db: DbSession, squad: Squad, user_id: int) -> Sequence[SavedView]:
    query = select(SavedView).where(SavedView.squad_id == squad.id, SavedView.user_id == user_id)
    return list(db.scalars(query.order_by(SavedView.name)))


def save_view(db: DbSession, squad: Squad, user_id: int, name: str, query: str, *, now: datetime) -> None:
    """Save a view; one of the same name is replaced. Does not commit. Raises Invalid."""
    if not name.strip():
        raise Invalid("Give the view a name.", field="name")
    if not query.strip():
        raise Invalid("This is the desk as it opens; choose an order, a filter or a column first.", field="query")
    there = views_of(db, squad, user_id)
    if len(there) >= MOST and name.strip() not in {view.name for view in there}:
        raise Invalid(f"{MOST} views are the most; take one away first.", field="name")
    values = {"query": query, "made_at": now}
    statement = insert(SavedView).values(id=new_ulid(), squad_id=squad.id, user_id=user_id, name=name.strip(), **values)
    db.execute(statement.on_duplicate_key_update(values))


def remove_view(db: DbSession, squad: Squad, user_id: int, view_id: str) -> None:
    """Does not commit. Raises NotFound for a view that is not one's own."""
    view = db.get(SavedView, view_id)
    if view is None or (view.squad_id, view.user_id) != (squad.id, user_id):
        raise NotFound("There is no such view.")
    db.delete(view)
