"""Who saw or changed what. Rows are only ever added; the database refuses anything else."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.services.stamp import Stamp
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
    stamp: Stamp,
    squad_id: int | None = None,
    athlete_id: int | None = None,
    **details: Any,
) -> None:
    """Add a row: who did what to which subject, such as ``report:01J…``. Does not commit."""
    db.add(
        Audit(
            at=stamp.now, user_id=stamp.by, squad_id=squad_id, athlete_id=athlete_id, action=action, subject=subject,
            details=details,
        )
    )  # fmt: skip


def saw(
    db: DbSession,
    what: str,
    athletes: Collection[int],
    *,
    stamp: Stamp,
    squad_id: int,
) -> None:
    """Note that clinical data or own limits of these athletes were looked at, once a look. Does not commit."""
    if not athletes:
        return
    recent = queries.audit.seen_since(db, squad_id, stamp.by, what, stamp.now - ONE_LOOK)
    rows: list[dict[str, Any]] = [
        {"at": stamp.now, "user_id": stamp.by, "squad_id": squad_id, "athlete_id": athlete, "action": what,
         "subject": f"athlete:{athlete}", "details": {}}
        for athlete in sorted(athletes) if athlete not in recent
    ]  # fmt: skip
    if rows:
        insert_many(db, Audit, rows)


# What the audit says beside who and what kind: no load, no value and no word of anybody is among it.
SHOWN = {
    "after", "audience", "before", "day", "days", "file", "from", "from_day", "kind", "name",
    "performance_reads_clinical", "retention_days", "role", "rows", "rule", "to_day", "used_from", "version",
}  # fmt: skip


@dataclass(frozen=True)
class AuditRow:
    """Who did or saw what kind of thing, of whom, and when."""

    id: int
    at: datetime
    who: str | None
    athlete: str | None
    action: str
    subject: str
    details: dict[str, Any]


def shown(rows: Sequence[Any]) -> list[AuditRow]:
    """Rows of the audit as an administrator reads them."""
    return [
        AuditRow(row.id, row.at, row.who, row.athlete, row.action, row.subject,
                 {key: value for key, value in row.details.items() if key in SHOWN})
        for row in rows
    ]  # fmt: skip
