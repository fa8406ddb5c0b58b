"""What is read of one athlete."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import Restriction


def restrictions_of(db: DbSession, squad_id: int, athlete_id: int, last: date) -> list[Restriction]:
    """What clinicians have said of an athlete's training from a day up to ``last`` on, and did not withdraw."""
    return list(
        db.scalars(
            select(Restriction).where(
                Restriction.squad_id == squad_id,
                Restriction.athlete_id == athlete_id,
                Restriction.withdrawn_at.is_(None),
                Restriction.from_day <= last,
            )
        )
    )
