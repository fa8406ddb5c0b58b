"""Who saw or changed what. Rows are only ever added; the database refuses anything else."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.store import queries
from uvren.store.database import insert_many
from uvren.store.models import Audit

# Looking at the same page again within this time is the same look.
ONE_LOOK = timedelta(minutes=30)


def note(
    db: DbSession,
    action: str,
    subject: str,
    *,
    by: int | None,
    now: datetime,
    squad_id: int | None = None,
    athlete_id: int | None = None,
    **details: Any,
) -> None:
    """Add a row: who did what to which subject, such as ``report:01J…``. Does not commit."""
    db.add(
        Audit(
            at=now, user_id=by, squad_id=squad_id, athlete_id=athlete_id, action=action, subject=subject,
            details=details,
        )
    )  # fmt: skip


def saw(db: DbSession, what: str, athletes: Collection[int], *, by: int, squad_id: int, now: datetime) -> None:
    """Note that clinical data or own limits of these athletes were looked at, once a look. Does not commit."""
    if not athletes:
        return
    recent = queries.club.seen_since(db, squad_id, by, what, now - ONE_LOOK)
    rows = [
        {"at": now, "user_id": by, "squad_id": squad_id, "athlete_id": athlete, "action": what,
         "subject": f"athlete:{athlete}", "details": {}}
        for athlete in sorted(athletes) if athlete not in recent
    ]  # fmt: skip
    if rows:
        insert_many(db, Audit, rows)
