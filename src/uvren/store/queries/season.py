"""What is kept of a season."""

from __future__ import annotations

from sqlalchemy import delete, select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import SeasonPhase


def phases(db: DbSession, squad_id: int) -> list[SeasonPhase]:
    """A squad's phases by their days."""
    query = select(SeasonPhase).where(SeasonPhase.squad_id == squad_id).order_by(SeasonPhase.first_day)
    return list(db.scalars(query))


def clear(db: DbSession, squad_id: int) -> None:
    """Take all of a squad's phases away."""
    db.execute(delete(SeasonPhase).where(SeasonPhase.squad_id == squad_id))
