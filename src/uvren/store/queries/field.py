"""What is noted while a session runs, spells, hubs and the pieces that devices send."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import FieldEvent, LiveHub, SpellLimit


def field_events(db: DbSession, session_id: str) -> list[FieldEvent]:
    """What was noted of a session and stands, in order of time."""
    wanted = select(FieldEvent).where(FieldEvent.session_id == session_id, FieldEvent.taken_back_at.is_(None))
    return list(db.scalars(wanted.order_by(FieldEvent.at, FieldEvent.id)))


def known_events(db: DbSession, ids: Collection[str]) -> dict[str, FieldEvent]:
    """Those of these that there are already, taken back or not."""
    return {one.id: one for one in db.scalars(select(FieldEvent).where(FieldEvent.id.in_(ids)))}


def spell_limits(db: DbSession, squad_id: int, day: date) -> list[SpellLimit]:
    """Spells in force on a day, in the order in which they were set."""
    wanted = select(SpellLimit).where(
        SpellLimit.squad_id == squad_id, SpellLimit.from_day <= day, SpellLimit.withdrawn_at.is_(None)
    )
    return list(db.scalars(wanted.order_by(SpellLimit.from_day, SpellLimit.set_at, SpellLimit.id)))


def spell_limit(db: DbSession, squad_id: int, name: str) -> SpellLimit | None:
    return db.scalar(select(SpellLimit).where(SpellLimit.squad_id == squad_id, SpellLimit.id == name))


def hubs(db: DbSession, squad_id: int) -> list[LiveHub]:
    """Hubs of a squad that may send."""
    wanted = select(LiveHub).where(LiveHub.squad_id == squad_id, LiveHub.withdrawn_at.is_(None))
    return list(db.scalars(wanted.order_by(LiveHub.made_at)))


def hub_by(db: DbSession, digest: str) -> LiveHub | None:
    return db.scalar(select(LiveHub).where(LiveHub.token_digest == digest, LiveHub.withdrawn_at.is_(None)))
