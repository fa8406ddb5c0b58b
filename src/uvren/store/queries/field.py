"""What is noted while a session runs, spells, hubs and the pieces that devices send."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, delete, func, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import (
    FieldEvent,
    FieldKind,
    LiveChunk,
    LiveHub,
    RecordingKind,
    Session,
    SessionKind,
    SpellLimit,
)


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


def keep_chunks(db: DbSession, rows: Sequence[Mapping[str, Any]]) -> None:
    """Keep pieces; one that is there already stays as it is."""
    if rows:
        db.execute(insert(LiveChunk).prefix_with("IGNORE"), list(rows))


def chunks_after(
    db: DbSession, session_id: str, last: int
) -> Sequence[Row[int, int, str, RecordingKind, datetime, datetime, bytes]]:
    """(id, athlete, device, kind, begins at, received at, data) of pieces that came after one, in that order."""
    return db.execute(
        select(
            LiveChunk.id, LiveChunk.athlete_id, LiveChunk.device, LiveChunk.kind, LiveChunk.begins_at,
            LiveChunk.received_at, LiveChunk.data,
        )
        .where(LiveChunk.session_id == session_id, LiveChunk.id > last)
        .order_by(LiveChunk.id)
    ).all()  # fmt: skip


def drop_chunks(db: DbSession, session_id: str) -> None:
    db.execute(delete(LiveChunk).where(LiveChunk.session_id == session_id))


def last_with_places(db: DbSession, squad_id: int, before: datetime) -> str | None:
    """The last match that began before a moment and of which it was noted who was on the field."""
    wanted = select(Session.id).join(FieldEvent, FieldEvent.session_id == Session.id)
    return db.scalar(
        wanted.where(
            Session.squad_id == squad_id, Session.kind == SessionKind.MATCH, Session.starts_at < before,
            FieldEvent.kind == FieldKind.ON, FieldEvent.taken_back_at.is_(None),
        ).order_by(Session.starts_at.desc()).limit(1)
    )  # fmt: skip


def last_noted(db: DbSession, sessions: Collection[str]) -> tuple[Any, ...]:
    """Something that changes with whatever is noted of these sessions or taken back: what to ask anew by."""
    made, taken = FieldEvent.made_at, FieldEvent.taken_back_at
    wanted = select(func.count(made), func.max(made), func.count(taken), func.max(taken))
    return tuple(db.execute(wanted.where(FieldEvent.session_id.in_(sessions))).one())


def counts_of(db: DbSession, sessions: Collection[str]) -> dict[str, list[tuple[float, float, str]]]:
    """(when, in seconds; how many; of what) was counted and stands, by session."""
    rows = db.execute(
        select(FieldEvent.session_id, FieldEvent.at, FieldEvent.amount, FieldEvent.what).where(
            FieldEvent.session_id.in_(sessions), FieldEvent.kind == FieldKind.COUNT, FieldEvent.taken_back_at.is_(None)
        )
    )
    found: dict[str, list[tuple[float, float, str]]] = defaultdict(list)
    for session, at, amount, what in rows:
        found[session].append((at.timestamp(), amount, what))
    return found


def begun_of(db: DbSession, sessions: Collection[str]) -> set[str]:
    """Those of these sessions of which a part was begun."""
    wanted = select(FieldEvent.session_id).where(
        FieldEvent.session_id.in_(sessions), FieldEvent.kind == FieldKind.BEGIN, FieldEvent.taken_back_at.is_(None)
    )
    return set(db.scalars(wanted.distinct()))
